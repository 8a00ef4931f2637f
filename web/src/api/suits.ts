/** Joints that suit mating faces, worked out by the server. */
import { type Joint, type Schemas } from './client'
import { run } from './operations'

export type SuitKind = Schemas['SuitWish']['kind']

export interface Suits {
  joints: Joint[]
  without: string[]
  why?: Record<string, string>
}

/** Joints of a kind for these faces, or for all that have none. Throws a refusal. */
export async function suits(
  projectId: string,
  kind: SuitKind,
  faces: string[] | null,
  fit: Schemas['SuitWish']['fit'] = null,
): Promise<Suits> {
  return run('suggest-joints', projectId, { kind, faces, fit, one_way: false })
}
