/** New partings that make sense for the model, and what a moved one becomes. */
import type { Parting, PieceView, Plan } from '@/api/client'
import { AXIS, OTHERS, planeOfFlat } from '@/view3d/plane'

export type AxisName = 'x' | 'y' | 'z'
export const AXES: AxisName[] = ['x', 'y', 'z']

export const nextId = (plan: Plan): string =>
  `p${Math.max(0, ...(plan.partings ?? []).map((p) => Number(p.id.slice(1)))) + 1}`

/** The piece and axis that are most in need of a parting. */
export function neediest(
  pieces: readonly PieceView[],
  room: readonly number[],
): { piece: PieceView; axis: AxisName } | null {
  let best: { piece: PieceView; axis: AxisName; share: number } | null = null
  for (const piece of pieces)
    AXES.forEach((axis, k) => {
      const share = piece.size_mm[k]! / room[k]! + (piece.fits ? 0 : 100)
      if (!best || share > best.share) best = { piece, axis, share }
    })
  return best
}

export function newFlat(plan: Plan, pieces: readonly PieceView[], room: readonly number[]): Parting | null {
  const need = neediest(pieces, room)
  if (!need) return null
  const { piece, axis } = need
  const centre = piece.low_mm.map((low, k) => (low + piece.high_mm[k]!) / 2)
  const at = Math.round(centre[AXES.indexOf(axis)]! * 2) / 2
  const pivot = OTHERS[axis].map((a) => Math.round(centre[AXES.indexOf(a)]! * 2) / 2) as [number, number]
  return {
    kind: 'flat',
    id: nextId(plan),
    name: '',
    on: true,
    only: null,
    axis,
    at_mm: free(plan, axis, at),
    tilt_deg: [0, 0],
    pivot_mm: pivot,
  }
}

/** The nearest place to `at` where no other level parting of that axis lies. */
function free(plan: Plan, axis: AxisName, at: number): number {
  const taken = (plan.partings ?? []).filter((p) => p.kind === 'flat' && p.axis === axis && p.on)
  let place = at
  while (taken.some((p) => p.kind === 'flat' && Math.abs(p.at_mm - place) < 1)) place += 5
  return place
}

export function newEven(plan: Plan, pieces: readonly PieceView[], room: readonly number[]): Parting | null {
  const need = neediest(pieces, room)
  if (!need) return null
  const k = AXES.indexOf(need.axis)
  const parts = Math.max(2, Math.ceil(need.piece.size_mm[k]! / room[k]!))
  return {
    kind: 'even',
    id: nextId(plan),
    name: '',
    on: true,
    only: pieces.length > 1 ? [need.piece.key] : null,
    axis: need.axis,
    parts,
    greatest_mm: null,
  }
}

/** Four wedges around an upright axis through the middle of the largest piece. */
export function newWedges(plan: Plan, pieces: readonly PieceView[], room: readonly number[]): Parting | null {
  const need = neediest(pieces, room)
  if (!need) return null
  const { piece } = need
  const middle = (k: number) => Math.round((piece.low_mm[k]! + piece.high_mm[k]!) * 5) / 10
  return {
    kind: 'wedges',
    id: nextId(plan),
    name: '',
    on: true,
    only: pieces.length > 1 ? [piece.key] : null,
    axis: 'z',
    through_mm: [middle(0), middle(1)],
    count: 4,
    start_deg: 0,
    angles_deg: null,
    hub_mm: 0,
  }
}

export const newLumps = (plan: Plan): Parting => ({
  kind: 'lumps',
  id: nextId(plan),
  name: '',
  on: true,
  only: null,
})

/** Where the wedges of a parting begin, in degrees. */
export const anglesOf = (p: Extract<Parting, { kind: 'wedges' }>): number[] =>
  p.angles_deg ??
  Array.from({ length: p.count ?? 4 }, (_, k) => {
    const angle = ((p.start_deg ?? 0) + (360 * k) / (p.count ?? 4)) % 360
    return Math.round(((angle + 360) % 360) * 100) / 100
  }).sort((a, b) => a - b)

/** The parting moved by `moved` mm along its normal. */
export function movedBy(parting: Parting, moved: number): Parting {
  if (parting.kind !== 'flat') return parting
  const slope = planeOfFlat(parting).n.dot(AXIS[parting.axis ?? 'z'])
  return { ...parting, at_mm: Math.round((parting.at_mm + moved / slope) * 1000) / 1000 }
}

/** Keys of the pieces that are there when a parting's turn comes, with the final pieces each of them becomes. */
export function keysBefore(
  plan: Plan,
  id: string,
  pieces: readonly PieceView[],
): { key: string; numbers: number[] }[] {
  const order = (plan.partings ?? []).map((p) => p.id)
  const turn = order.indexOf(id)
  const found = new Map<string, number[]>()
  for (const piece of pieces) {
    const path = piece.key === 'whole' ? [] : piece.key.split(' ')
    const before = path.filter((t) => order.indexOf(/^p\d+/.exec(t)![0]) < turn)
    const key = before.length ? before.join(' ') : 'whole'
    found.set(key, [...(found.get(key) ?? []), piece.number])
  }
  return [...found].map(([key, numbers]) => ({ key, numbers: numbers.sort((a, b) => a - b) }))
}
