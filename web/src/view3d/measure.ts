/** Measures between picked points, as lines to draw with a text. */
import { Vector3 } from 'three'
import { fixed, mm } from '@/api/format'
import { NEEDED, type MeasureKind, type Spot } from '@/stores/tools'
import { vec } from './plane'

export interface Measured {
  from: Vector3
  to: Vector3
  text: string
}

/** What was measured, once there are enough points; `across` casts a ray into the model from a spot. */
export function measured(
  kind: MeasureKind | null,
  spots: readonly Spot[],
  across: Vector3 | null,
): Measured | null {
  if (!kind || spots.length < NEEDED[kind]) return null
  const [a, b, c] = spots.map((s) => vec(s.at)) as [Vector3, Vector3, Vector3]
  if (kind === 'distance') return { from: a, to: b, text: `${fixed(a.distanceTo(b), 2)} mm` }
  if (kind === 'wall')
    return across ? { from: a, to: across, text: `wall ${fixed(a.distanceTo(across), 2)} mm` } : null
  const circle = circleThrough(a, b, c)
  if (!circle) return null
  const half = a.clone().sub(circle.centre)
  return {
    from: circle.centre.clone().add(half),
    to: circle.centre.clone().sub(half),
    text: `ø${mm(2 * circle.radius)} (${fixed(2 * circle.radius, 2)}) mm`,
  }
}

/** The circle through three points, or nothing where they lie in one line. */
export function circleThrough(
  a: Vector3,
  b: Vector3,
  c: Vector3,
): { centre: Vector3; radius: number } | null {
  const ab = b.clone().sub(a)
  const ac = c.clone().sub(a)
  const normal = ab.clone().cross(ac)
  const twice = 2 * normal.lengthSq()
  if (twice < 1e-9) return null
  const toCentre = normal
    .clone()
    .cross(ab)
    .multiplyScalar(ac.lengthSq())
    .add(ac.clone().cross(normal).multiplyScalar(ab.lengthSq()))
    .divideScalar(twice)
  return { centre: a.clone().add(toCentre), radius: toCentre.length() }
}
