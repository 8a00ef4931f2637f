/** What of a parting can be dragged in the view, and what the parting becomes. Every handle has a typed value as well. */
import { Vector3 } from 'three'
import type { Parting, Vec3 } from '@/api/client'
import { AXIS, frameOf, inWorld, OTHERS, planeOfFlat, triple, turned, vec, type Plane } from '@/view3d/plane'

export interface Handle {
  id: string
  label: string
  at: Vector3
  /** the way it moves, and a second way where it moves in a plane */
  u: Vector3
  v: Vector3 | null
  moved: (u: number, v: number) => Parting
}

const to100 = (v: number): number => Math.round(v * 100) / 100 + 0
const shifted = (at: readonly number[], by: Vector3): Vec3 => triple(vec(at).add(by)).map(to100) as Vec3

export function handlesOf(p: Parting, middle: Vector3): Handle[] {
  if (p.kind === 'profile') return profileHandles(p, middle)
  if (p.kind === 'hatch') {
    const { u, v } = frameOf(vec(p.at_mm ?? [0, 0, 0]), vec(p.outward ?? [0, 0, 1]))
    return [
      {
        id: 'middle',
        label: 'Middle of the hatch',
        at: vec(p.at_mm ?? [0, 0, 0]),
        u,
        v,
        moved: (x, y) => ({
          ...p,
          at_mm: shifted(p.at_mm ?? [0, 0, 0], u.clone().multiplyScalar(x).addScaledVector(v, y)),
        }),
      },
    ]
  }
  if (p.kind === 'detach') {
    const n = vec(p.normal ?? [0, 0, 1]).normalize()
    return [
      {
        id: 'loop',
        label: 'Loop along the feature',
        at: vec(p.through_mm ?? [0, 0, 0]),
        u: n,
        v: null,
        moved: (x) => ({
          ...p,
          through_mm: shifted(p.through_mm ?? [0, 0, 0], n.clone().multiplyScalar(x)),
        }),
      },
    ]
  }
  if (p.kind === 'wedges') {
    const [first, second] = OTHERS[p.axis ?? 'z']
    const through = p.through_mm ?? [0, 0]
    const axis = AXIS[p.axis ?? 'z']
    const at = axis
      .clone()
      .multiplyScalar(middle.dot(axis))
      .addScaledVector(AXIS[first], through[0])
      .addScaledVector(AXIS[second], through[1])
    return [
      {
        id: 'axis',
        label: 'Axis of the wedges',
        at,
        u: AXIS[first],
        v: AXIS[second],
        moved: (x, y) => ({ ...p, through_mm: [to100(through[0] + x), to100(through[1] + y)] }),
      },
    ]
  }
  if (p.kind === 'lap') {
    const plane = planeOfFlat(p)
    const slope = plane.n.dot(AXIS[p.axis ?? 'z'])
    const along = turned(plane, p.turn_deg ?? 0).u
    const at = plane.origin.clone()
    if (p.shoulder_mm != null) at.addScaledVector(along, p.shoulder_mm - at.dot(along))
    return [
      {
        id: 'plane',
        label: 'Plane of the lap',
        at,
        u: plane.n,
        v: along,
        moved: (x, y) => ({
          ...p,
          at_mm: to100(p.at_mm + x / slope),
          shoulder_mm: Math.abs(y) < 0.05 ? (p.shoulder_mm ?? null) : to100(at.dot(along) + y),
        }),
      },
    ]
  }
  return []
}

type Profile = Extract<Parting, { kind: 'profile' }>

/** The plane a profile is drawn in, brought to where the model is, so that its points stand on the model. */
export function profilePlane(p: Profile, middle: Vector3): Plane {
  const plane = frameOf(new Vector3(), vec(p.eye ?? [0, -1, 0]))
  plane.origin.addScaledVector(plane.n, middle.dot(plane.n))
  return plane
}

function profileHandles(p: Profile, middle: Vector3): Handle[] {
  const plane = profilePlane(p, middle)
  return p.points.map((point, k) => ({
    id: `point-${k}`,
    label: `Point ${k + 1} of the line`,
    at: inWorld(plane, point.x_mm, point.y_mm),
    u: plane.u,
    v: plane.v,
    moved: (x, y) => ({
      ...p,
      points: p.points.map((q, n) =>
        n === k ? { ...q, x_mm: to100(q.x_mm + x), y_mm: to100(q.y_mm + y) } : q,
      ),
    }),
  }))
}

/** Lines that show a parting which is no plane: a profile's line, a hatch's outline; pairs of points, three numbers each. */
export function linesOf(p: Parting, middle: Vector3): number[] {
  if (p.kind === 'profile') {
    const plane = profilePlane(p, middle)
    return chain(
      p.points.map((q) => inWorld(plane, q.x_mm, q.y_mm)),
      false,
    )
  }
  if (p.kind === 'hatch') {
    const plane = turned(frameOf(vec(p.at_mm ?? [0, 0, 0]), vec(p.outward ?? [0, 0, 1])), p.turn_deg ?? 0)
    const ring = outlineOf(p).map(([x, y]) => inWorld(plane, x, y))
    const deep = ring.map((q) => q.clone().addScaledVector(plane.n, -(p.depth_mm ?? 4)))
    return [...chain(ring, true), ...chain(deep, true)]
  }
  return []
}

function outlineOf(p: Extract<Parting, { kind: 'hatch' }>): [number, number][] {
  const outline = p.outline
  if (outline?.shape === 'circle')
    return Array.from({ length: 48 }, (_, k) => {
      const angle = (k * Math.PI) / 24
      const r = (outline.diameter_mm ?? 30) / 2
      return [r * Math.cos(angle), r * Math.sin(angle)]
    })
  if (outline?.shape === 'free') return outline.corners.map((c) => [c.x_mm, c.y_mm])
  const [w, h] = [(outline?.width_mm ?? 30) / 2, (outline?.height_mm ?? 20) / 2]
  return [
    [w, -h],
    [w, h],
    [-w, h],
    [-w, -h],
  ]
}

function chain(points: readonly Vector3[], closed: boolean): number[] {
  const out: number[] = []
  points.forEach((p, k) => {
    const next = points[k + 1] ?? (closed ? points[0] : undefined)
    if (next) out.push(...p.toArray(), ...next.toArray())
  })
  return out
}
