/** What the maker set for one piece: its name, its printer, how it lies. */
import type { Plan, Schemas } from './client'

/** Change what is set for a piece, by its key. */
export function noted(plan: Plan, key: string, change: Partial<Schemas['PieceNote']>): void {
  plan.pieces = {
    ...plan.pieces,
    [key]: { name: '', locked: false, printing: {}, ...plan.pieces?.[key], ...change },
  }
}

/** What a piece of the open part is called in the whole project. */
export function projectKey(plan: Plan | null, key: string): string {
  const part = plan?.part_id ?? 'q1'
  return part === 'q1' ? key : `${part} ${key}`
}

/** The printer and material that a piece of the open part has where it names none: its group's, else its part's. */
export function sharedOf(
  plan: Plan | null,
  key: string,
): Pick<Schemas['SharedSettings'], 'printer_id' | 'material_id'> {
  const whole = projectKey(plan, key)
  const group = plan?.groups?.find((g) => g.pieces?.includes(whole))?.printing
  return {
    printer_id: group?.printer_id ?? plan?.own_printing?.printer_id ?? plan?.printer?.id ?? null,
    material_id: group?.material_id ?? plan?.own_printing?.material_id ?? plan?.material?.id ?? null,
  }
}
