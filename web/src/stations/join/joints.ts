/** Joints as the Join station makes and changes them. */
import type { Joint, Plan } from '@/api/client'
import { kindOf, type Kind } from '@/ui/schema'

export type JointKind = Joint['kind']
/** a kind, or what suits each face */
export type SuitKind = JointKind | 'auto'

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

/** The angle between a dovetail's flank and its face, in degrees. */
export const flankOf = (neck: number, head: number, height: number): number =>
  (Math.atan2(height, (head - neck) / 2) * 180) / Math.PI

/** The head of a dovetail whose flanks stand at an angle to the face. */
export const headFor = (neck: number, height: number, degrees: number): number =>
  neck + (2 * height) / Math.tan((degrees * Math.PI) / 180)
