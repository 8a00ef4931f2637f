/** Joints as the Join station makes and changes them. */
import type { FaceView, Joint, Plan } from '@/api/client'

export type PegKind = 'pin' | 'dowel'

export const nextJointId = (plan: Plan): string =>
  `j${Math.max(0, ...(plan.joints ?? []).map((j) => Number(j.id.slice(1)))) + 1}`

export const idOf = (joint: Joint): string =>
  `${joint.face.parting}/${joint.face.member} ${joint.face.a}|${joint.face.b}`

/** A joint that suits the face; with plain measures where Hinoki found no room for one. */
export function newJoint(plan: Plan, face: FaceView, kind: PegKind): Joint {
  const id = nextJointId(plan)
  const suits = face[kind]
  if (suits) return { ...suits, id }
  const common = {
    id,
    face: face.ref,
    fit: 'snug',
    places: null,
    count: 1,
    diameter_mm: 2,
    shape: 'round',
  } as const
  return kind === 'pin' ? { ...common, kind, length_mm: 2, on: 'a' } : { ...common, kind, length_mm: 4 }
}

/** The same joint as the other kind, with all that carries over. */
export function turnedInto(joint: Joint, kind: PegKind): Joint {
  if (joint.kind === kind) return joint
  const { id, face, fit, places, count, diameter_mm, length_mm, shape } = joint
  const common = { id, face, fit, places, count, diameter_mm, shape }
  return kind === 'pin'
    ? { ...common, kind, length_mm: length_mm! / 2, on: 'a' }
    : { ...common, kind, length_mm: length_mm! * 2 }
}
