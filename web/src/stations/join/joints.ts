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

/** A changed joint, with the measures that its maker typed; nothing is known of one that was not made here. */
export function withTyped(before: Joint, next: Joint): Joint {
  if (!before.typed) return next
  const was = before as unknown as Record<string, unknown>
  const now = next as unknown as Record<string, unknown>
  const changed = Object.keys(now).filter((field) => isMeasure(now[field]) && now[field] !== was[field])
  return { ...next, typed: [...new Set([...(next.typed ?? []), ...changed])] }
}
const isMeasure = (value: unknown): boolean => typeof value === 'number'

/** A joint with one of its measures as Hinoki chose it for another joint of its kind on its face. */
export function withChosen(joint: Joint, field: string, chosen: Joint): Joint {
  const typed = joint.typed?.filter((one) => one !== field)
  return { ...joint, [field]: chosen[field as keyof Joint], typed } as Joint
}

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
