/** Joints as the Join station makes and changes them. */
import type { FaceView, Joint, Plan } from '@/api/client'
import { boundsOf } from '@/sheet/useSheet'
import { kindOf, type Kind } from '@/ui/schema'

export type JointKind = Joint['kind']

export const infoOf = (kind: string): Kind => kindOf('joints', kind)

export const idOf = (joint: Joint): string =>
  `${joint.face.parting}/${joint.face.member} ${joint.face.a}|${joint.face.b}`

const freeNumber = (plan: Plan): number =>
  Math.max(0, ...(plan.joints ?? []).map((j) => Number(j.id.slice(1)))) + 1

/** The plan with more joints, under free names. */
export function added(plan: Plan, joints: readonly Joint[]): void {
  const from = freeNumber(plan)
  plan.joints = [...(plan.joints ?? []), ...joints.map((j, k) => ({ ...j, id: `j${from + k}` }))]
}

/** A joint for another face, with the same measures; places set by hand only where the faces are alike. */
export function copiedTo(joint: Joint, face: FaceView, alike: boolean): Joint {
  return { ...joint, face: face.ref, places: alike ? joint.places : null }
}

/** Whether two faces have nearly the same outline box and area, so that places fit both. */
export function alike(a: FaceView, b: FaceView): boolean {
  const close = (x: number, y: number) => Math.abs(x - y) <= 0.02 * Math.max(x, y, 1)
  const [p, q] = [boundsOf(a), boundsOf(b)]
  if (!p || !q || !close(a.area_mm2, b.area_mm2)) return false
  return (['x0', 'x1', 'y0', 'y1'] as const).every((side) => Math.abs(p[side] - q[side]) < 0.5)
}

/** The angle between a dovetail's flank and its face, in degrees. */
export const flankOf = (neck: number, head: number, height: number): number =>
  (Math.atan2(height, (head - neck) / 2) * 180) / Math.PI

/** The head of a dovetail whose flanks stand at an angle to the face. */
export const headFor = (neck: number, height: number, degrees: number): number =>
  neck + (2 * height) / Math.tan((degrees * Math.PI) / 180)
