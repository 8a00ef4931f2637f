/** Kinds of part that Hinoki makes: under which headings they are offered, what they begin with, and where they go. */
import type { Plan, Schemas } from '@/api/client'
import { defaultsOf, fieldsOf, kindOf, kindsOf, type Kind } from '@/ui/schema'

export type Maker = NonNullable<Plan['made']>
export type Opening = Schemas['FoundOpening']

/** The kinds by what they are for. */
export function makerGroups(): { name: string; kinds: Kind[] }[] {
  const kinds = kindsOf('makers')
  const names = [...new Set(kinds.map((k) => k.group))]
  return names.map((name) => ({ name, kinds: kinds.filter((k) => k.group === name) }))
}

/** What says where it goes: an opening of another part, a corner that is picked, or places on a face. */
export function goesBy(kind: string): 'opening' | 'corner' | 'places' {
  const own = kindOf('makers', kind)
  if (own.picks.includes('at_mm')) return 'corner'
  return 'at_mm' in fieldsOf(own.model) ? 'opening' : 'places'
}

/** A new one, as its schema says. */
export const newMaker = (kind: string): Maker =>
  ({ ...defaultsOf(kindOf('makers', kind).model), kind }) as unknown as Maker

/** Which opening is meant by a point at its rim; the first where none is said. */
export function meant(openings: readonly Opening[], at: readonly number[] | null | undefined): number {
  if (!at) return 0
  const off = openings.map((o) => Math.hypot(...o.at_mm.map((v, k) => v - at[k]!)))
  return off.length ? off.indexOf(Math.min(...off)) : 0
}

const WAYS = ['to the right', 'to the back', 'up', 'to the left', 'to the front', 'down']
/** Which way an opening looks, in words. */
export function looks(facing: readonly number[]): string {
  const along = [...facing, ...facing.map((v) => -v)]
  const most = Math.max(...along)
  return most > 0.95 ? WAYS[along.indexOf(most)]! : 'aslant'
}
