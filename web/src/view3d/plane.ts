/** Planes of partings in the browser, worked out like hinoki/core/divide/partings/flat.py does. */
import { Vector3 } from 'three'
import type { Parting, Vec3 } from '@/api/client'

export interface Plane {
  origin: Vector3
  u: Vector3
  v: Vector3
  n: Vector3
}

export type FlatParting = Extract<Parting, { kind: 'flat' }>

export const AXIS: Record<'x' | 'y' | 'z', Vector3> = {
  x: new Vector3(1, 0, 0),
  y: new Vector3(0, 1, 0),
  z: new Vector3(0, 0, 1),
}
export const OTHERS = { x: ['y', 'z'], y: ['z', 'x'], z: ['x', 'y'] } as const

/** The frame of a plane: `u` lies level, so that places keep when the plane moves along its normal. */
export function frameOf(origin: Vector3, normal: Vector3): Plane {
  const n = normal.clone().normalize()
  const level = new Vector3(0, 0, 1).cross(n)
  const u = level.length() < 1e-9 ? new Vector3(1, 0, 0) : level.normalize()
  u.addScaledVector(n, -u.dot(n)).normalize()
  return { origin: origin.clone(), u, v: n.clone().cross(u), n }
}

export type LapParting = Extract<Parting, { kind: 'lap' }>

export function planeOfFlat(p: FlatParting | LapParting): Plane {
  const [first, second] = OTHERS[p.axis ?? 'z'].map((a) => AXIS[a]) as [Vector3, Vector3]
  const axis = AXIS[p.axis ?? 'z']
  const tilt = p.tilt_deg ?? [0, 0]
  const pivot = p.pivot_mm ?? [0, 0]
  const normal = axis
    .clone()
    .applyAxisAngle(first, (tilt[0] * Math.PI) / 180)
    .applyAxisAngle(second, (tilt[1] * Math.PI) / 180)
  const origin = axis
    .clone()
    .multiplyScalar(p.at_mm)
    .addScaledVector(first, pivot[0])
    .addScaledVector(second, pivot[1])
  return frameOf(origin, normal)
}

/** The same plane with its two directions turned about its normal. */
export function turned(plane: Plane, degrees: number): Plane {
  const angle = (degrees * Math.PI) / 180
  const u = plane.u.clone().applyAxisAngle(plane.n, angle)
  return { origin: plane.origin, u, v: plane.n.clone().cross(u), n: plane.n }
}

/** A point in the plane, and the coordinates of a point seen along the normal. */
export const inWorld = (plane: Plane, x: number, y: number): Vector3 =>
  plane.origin.clone().addScaledVector(plane.u, x).addScaledVector(plane.v, y)
export const inPlane = (plane: Plane, point: Vector3): [number, number] => {
  const from = point.clone().sub(plane.origin)
  return [from.dot(plane.u), from.dot(plane.v)]
}

export const vec = (v: readonly number[]): Vector3 => new Vector3(v[0], v[1], v[2])
export const triple = (v: Vector3): Vec3 => [v.x, v.y, v.z]
