/** What the maker set for one piece: its name, its printer, how it lies. */
import type { Plan, Schemas } from './client'

/** Change what is set for a piece, by its key. */
export function noted(plan: Plan, key: string, change: Partial<Schemas['PieceNote']>): void {
  plan.pieces = {
    ...plan.pieces,
    [key]: { name: '', locked: false, printing: {}, ...plan.pieces?.[key], ...change },
  }
}
