/** The typed client for Hinoki's API; types come from the API's own OpenAPI document. */
import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Plan = Schemas['Plan']
export type BuildView = Schemas['BuildView']
export type PieceView = Schemas['PieceView']
export type FaceView = Schemas['FaceView']
export type LidShuts = NonNullable<Schemas['MakeLidEdit']['shuts']>
export type JointView = Schemas['JointView']
export type PartingView = Schemas['PartingView']
export type Finding = Schemas['FindingView']
export type RevisionView = Schemas['RevisionView']
export type ProjectView = Schemas['ProjectView']
export type Printer = Schemas['Printer']
export type Material = Schemas['Material']
export type Workshop = Schemas['Workshop']
export type SurveyView = Schemas['SurveyView']
export type IssueView = Schemas['IssueView']
export type TrialView = Schemas['TrialView']
export type PrepareStep = NonNullable<Plan['prepare']>[number]
export type JobView = Schemas['JobView']
export type Parting = NonNullable<Plan['partings']>[number]
export type Joint = NonNullable<Plan['joints']>[number]
export type Vec3 = [number, number, number]

export const api = createClient<paths>({ baseUrl: '' })

/** A refusal, in the words of the server. */
export class Refusal extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly where: string | null = null,
  ) {
    super(message)
  }
}

export interface Answer {
  data?: unknown
  error?: unknown
  response: Response
}

/**
 * The data of an answer, or the refusal thrown. The type is named by the caller: openapi-fetch's own result types lose
 * the fixed lengths of tuples, which the generated schema has.
 */
export function got<T>(answer: Answer): T {
  if (answer.data !== undefined && answer.response.ok) return answer.data as T
  throw refusalOf(answer.error, answer.response.status)
}

export function refusalOf(body: unknown, status: number): Refusal {
  const problem = body as { detail?: string; where?: string } | undefined
  const detail = typeof problem?.detail === 'string' ? problem.detail : `The server answered ${status}.`
  return new Refusal(detail, status, problem?.where ?? null)
}

/** Hand a file over as it is. */
export async function sent<T>(url: string, file: File): Promise<T> {
  const answer = await fetch(url, { method: 'POST', body: file })
  const body: unknown = await answer.json()
  if (!answer.ok) throw refusalOf(body, answer.status)
  return body as T
}
