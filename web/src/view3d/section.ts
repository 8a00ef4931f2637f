/** The section of meshes at a plane, at once and in the browser: outline, area, least wall, sizes of both sides. */
import { Box3, Vector3, type BufferGeometry } from 'three'
import type { MeshBVH } from 'three-mesh-bvh'
import type { Vec3 } from '@/api/client'
import type { Plane } from './plane'

export type Point = [number, number]

export interface LiveSection {
  rings: Point[][]
  area: number
  leastWall: number | null
  below: Vec3 | null
  above: Vec3 | null
}

export interface Body {
  geometry: BufferGeometry
  tree: MeshBVH
}

export function sectionAt(bodies: readonly Body[], plane: Plane): LiveSection {
  const segments: number[] = []
  const below = new Box3()
  const above = new Box3()
  for (const body of bodies) crossings(body, plane, segments, below, above)
  const rings = chained(segments)
  let area = 0
  for (let i = 0; i < segments.length; i += 4)
    area += (segments[i]! * segments[i + 3]! - segments[i + 2]! * segments[i + 1]!) / 2
  const cuts = segments.length > 0
  return {
    rings,
    area: Math.abs(area),
    leastWall: leastWall(segments, area < 0 ? -1 : 1),
    below: cuts && !below.isEmpty() ? sizeOf(below) : null,
    above: cuts && !above.isEmpty() ? sizeOf(above) : null,
  }
}

const sizeOf = (box: Box3): Vec3 => {
  const s = box.getSize(new Vector3())
  return [s.x, s.y, s.z]
}

/**
 * Adds segments (u0, v0, u1, v1) with the material always on the same side, so that their areas add up, and widens the
 * boxes of what lies below and above the plane: a node of the tree that lies on one side counts whole, unread.
 */
function crossings(body: Body, plane: Plane, out: number[], below: Box3, above: Box3): void {
  const { origin, u, v, n } = plane
  const offset = origin.dot(n)
  const heightOf = (p: Vector3) => p.dot(n) - offset
  const point = new Vector3()
  const ends: number[] = []
  const height = [0, 0, 0]
  body.tree.shapecast({
    intersectsBounds: (box) => {
      // how far the box reaches from its middle along the normal
      const { min, max } = box
      const middle = ((min.x + max.x) * n.x + (min.y + max.y) * n.y + (min.z + max.z) * n.z) / 2 - offset
      const half =
        ((max.x - min.x) * Math.abs(n.x) +
          (max.y - min.y) * Math.abs(n.y) +
          (max.z - min.z) * Math.abs(n.z)) /
        2
      if (Math.abs(middle) <= half) return true
      ;(middle < 0 ? below : above).union(box)
      return false
    },
    intersectsTriangle: (triangle) => {
      const corners = [triangle.a, triangle.b, triangle.c] as const
      for (let k = 0; k < 3; k++) {
        height[k] = heightOf(corners[k]!)
        ;(height[k]! < 0 ? below : above).expandByPoint(corners[k]!)
      }
      ends.length = 0
      let rising = false
      for (let k = 0; k < 3; k++) {
        const a = height[k]!
        const b = height[(k + 1) % 3]!
        if (a < 0 === b < 0) continue
        point.lerpVectors(corners[k]!, corners[(k + 1) % 3]!, a / (a - b))
        // the section itself belongs to both sides
        below.expandByPoint(point)
        above.expandByPoint(point)
        point.sub(origin)
        if (ends.length === 0) rising = a < 0
        ends.push(point.dot(u), point.dot(v))
      }
      if (ends.length === 4) {
        if (rising) out.push(ends[0]!, ends[1]!, ends[2]!, ends[3]!)
        else out.push(ends[2]!, ends[3]!, ends[0]!, ends[1]!)
      }
      return false
    },
  })
}

/** Rings from loose segments, by their end points. */
function chained(segments: readonly number[]): Point[][] {
  // points within a 500th of a millimetre are one; a number as a key makes no litter, as a text would
  const key = (x: number, y: number) => Math.round(x * 500) * 67_108_864 + Math.round(y * 500)
  const next = new Map<number, number[]>()
  const count = segments.length / 4
  for (let i = 0; i < count; i++) {
    const from = key(segments[4 * i]!, segments[4 * i + 1]!)
    const list = next.get(from)
    if (list) list.push(i)
    else next.set(from, [i])
  }
  const used = new Uint8Array(count)
  const rings: Point[][] = []
  for (let i = 0; i < count; i++) {
    if (used[i]) continue
    const ring: Point[] = []
    let at: number | undefined = i
    while (at !== undefined && !used[at]) {
      used[at] = 1
      ring.push([segments[4 * at]!, segments[4 * at + 1]!])
      at = next.get(key(segments[4 * at + 2]!, segments[4 * at + 3]!))?.find((k) => !used[k])
    }
    if (ring.length >= 3) rings.push(ring)
  }
  return rings
}

/** Smallest thickness, by rays inwards from points along the outline; as in hinoki/core/geometry/sections.py. `turn` is 1 where
 * the material lies left of the segments. */
function leastWall(segments: readonly number[], turn: 1 | -1, samples = 160): number | null {
  const count = segments.length / 4
  if (count < 3) return null
  const starts: number[] = []
  let total = 0
  for (let i = 0; i < count; i++) {
    starts.push(total)
    total += length(segments, i)
  }
  let best: number | null = null
  let at = 0
  for (let s = 0; s < samples; s++) {
    const where = ((s + 0.5) / samples) * total
    while (at + 1 < count && starts[at + 1]! <= where) at++
    const long = length(segments, at)
    if (long < 1e-9) continue
    const [x0, y0] = [segments[4 * at]!, segments[4 * at + 1]!]
    const ux = (segments[4 * at + 2]! - x0) / long
    const uy = (segments[4 * at + 3]! - y0) / long
    const along = where - starts[at]!
    const hit = nearestFacing(segments, at, x0 + ux * along, y0 + uy * along, -uy * turn, ux * turn)
    if (hit !== null && (best === null || hit < best)) best = hit
  }
  return best
}

const length = (s: readonly number[], i: number) =>
  Math.hypot(s[4 * i + 2]! - s[4 * i]!, s[4 * i + 3]! - s[4 * i + 1]!)

function nearestFacing(
  segments: readonly number[],
  own: number,
  px: number,
  py: number,
  dx: number,
  dy: number,
): number | null {
  let nearest = Infinity
  let facing = false
  for (let i = 0; i < segments.length; i += 4) {
    const tx = segments[i]! - px
    const ty = segments[i + 1]! - py
    const sx = segments[i + 2]! - px
    const sy = segments[i + 3]! - py
    // both ends on one side of the ray's line: no meeting
    const from = tx * dy - ty * dx
    const to = sx * dy - sy * dx
    if (from > 0 === to > 0 || i === 4 * own) continue
    const ex = sx - tx
    const ey = sy - ty
    const cross = dx * ey - dy * ex
    if (Math.abs(cross) < 1e-12) continue
    const t = (tx * ey - ty * ex) / cross
    if (t <= 1e-4 || t >= nearest) continue
    nearest = t
    facing = Math.abs(-ey * dx + ex * dy) / Math.hypot(ex, ey) > 0.5
  }
  return facing && nearest < Infinity ? nearest : null
}
