/** What is drawn over the view in screen positions: dimension lines, the arrow of a step, the handle of a plane. */
import { Vector3 } from 'three'
import type { PieceView } from '@/api/client'
import { mm } from '@/api/format'
import type { HandlePlace } from './PlaneHandle.vue'
import { vec, type Plane } from './plane'
import type { Stage } from './stage'

export interface ScreenLine {
  x1: number
  y1: number
  x2: number
  y2: number
}
export interface Dimension extends ScreenLine {
  id: string
  text: string
  over: boolean
}

/** Width, depth and height of what is shown, as lines beside it; `sizes` are the figures written on them. */
export function dimensionLines(now: Stage, sizes: readonly number[], room: readonly number[]): Dimension[] {
  const { min, max } = now.extent()
  const gap = 0.05 * Math.max(max.x - min.x, max.y - min.y)
  const ends: [string, Vector3, Vector3][] = [
    ['x', new Vector3(min.x, min.y - gap, 0), new Vector3(max.x, min.y - gap, 0)],
    ['y', new Vector3(max.x + gap, min.y, 0), new Vector3(max.x + gap, max.y, 0)],
    ['z', new Vector3(min.x - gap, min.y - gap, min.z), new Vector3(min.x - gap, min.y - gap, max.z)],
  ]
  return ends.flatMap(([id, a, b], k) => {
    const [p, q] = [now.project(a), now.project(b)]
    if (p.distanceTo(q) < 30) return []
    const over = (sizes[k] ?? 0) - (room[k] ?? 0)
    return { id, x1: p.x, y1: p.y, x2: q.x, y2: q.y, text: mm(sizes[k] ?? 0), over: over > 1e-3 }
  })
}

/** A tick of the height scale; every fifth has a figure. */
export interface Tick extends ScreenLine {
  z: number
  text: string
}

/** A scale of heights at the front left edge of the bed, a tick every 10 mm, up to a little over what is shown. */
export function heightScale(now: Stage, room: readonly number[], height: number): Tick[] {
  const [x, y] = [-room[0]! / 2, -room[1]! / 2]
  const step = height > 400 ? 50 : 10
  const count = Math.min(Math.ceil(height / step) + 1, Math.floor(room[2]! / step))
  return Array.from({ length: count + 1 }, (_, k) => {
    const z = k * step
    const long = k % 5 === 0
    const [p, q] = [now.project(new Vector3(x, y, z)), now.project(new Vector3(x - (long ? 9 : 5), y, z))]
    return { x1: p.x, y1: p.y, x2: q.x, y2: q.y, z, text: long ? String(z) : '' }
  })
}

/** Where the handle of a plane stands: at `corner` of its quad, along its normal. */
export function handleAt(now: Stage, plane: Plane, corner: Vector3): HandlePlace | null {
  const a = now.project(corner)
  const b = now.project(corner.clone().addScaledVector(plane.n, 10))
  const [dx, dy] = [(b.x - a.x) / 10, (b.y - a.y) / 10]
  const perMm = Math.hypot(dx, dy)
  return perMm < 0.02 ? null : { x: a.x, y: a.y, dx: dx / perMm, dy: dy / perMm, perMm }
}

/** The middle of a piece's box, in the model. */
export const middleOf = (piece: PieceView): Vector3 =>
  vec(piece.low_mm).add(vec(piece.high_mm)).multiplyScalar(0.5)
