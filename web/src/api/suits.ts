/** Joints that suit mating faces, worked out by the server. */
import { api, got, type JobView, type Joint, type Schemas } from './client'
import { finished } from './jobs'

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
  const asked = await api.POST('/api/projects/{project_id}/suggest-joints', {
    params: { path: { project_id: projectId } },
    body: { kind, faces, fit, one_way: false },
  })
  const name = await finished(got<JobView>(asked))
  return got<Suits>(await api.GET('/api/results/suggest-joints/{name}', { params: { path: { name } } }))
}
