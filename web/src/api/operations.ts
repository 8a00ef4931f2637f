/** The server's operations by name: asked, waited for, and their results, with the types of the API's own document. */
import { ref, shallowRef } from 'vue'
import { api, got, refusalOf, type JobView } from './client'
import { finished, type Told } from './jobs'
import type { paths } from './schema'

type ResultPath<N extends string> = `/api/results/${N}/{name}`
type AskPath<N extends string> = `/api/projects/{project_id}/${N}`

/** The names of all operations. */
export type OperationName = {
  [P in keyof paths]: P extends ResultPath<infer N> ? N : never
}[keyof paths]

/** The names of those that are asked by a URL of their own. */
export type Asked = {
  [N in OperationName]: AskPath<N> extends keyof paths ? N : never
}[OperationName]

/** What an operation is asked. */
export type RequestOf<N extends Asked> = paths[AskPath<N>] extends {
  post: { requestBody?: { content: { 'application/json': infer B } } }
}
  ? NonNullable<B>
  : undefined

/** What comes of it. */
export type ResultOf<N extends OperationName> = paths[ResultPath<N>] extends {
  get: { responses: { 200: { content: { 'application/json': infer R } } } }
}
  ? R
  : never

/** Those that edit: the server saves what they make. */
export type Editing = {
  [N in Asked]: RequestOf<N> extends { base_revision: number } ? N : never
}[Asked]

export interface Outcome<N extends OperationName> {
  /** the name under which the result and its files are found again */
  name: string
  result: ResultOf<N>
}

/** Ask an operation about a project as it is shown. Throws a refusal. */
export async function asked<N extends Asked>(
  operation: N,
  projectId: string,
  body?: RequestOf<N>,
): Promise<JobView> {
  const answer = await fetch(`/api/projects/${projectId}/${operation}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body ?? {}),
  })
  const said: unknown = await answer.json().catch(() => undefined)
  if (!answer.ok) throw refusalOf(said, answer.status)
  return said as JobView
}

/** The result of an operation by its name. Throws a refusal. */
export async function resultOf<N extends OperationName>(operation: N, name: string): Promise<ResultOf<N>> {
  const answer = await fetch(`/api/results/${operation}/${name}`)
  const said: unknown = await answer.json().catch(() => undefined)
  if (!answer.ok) throw refusalOf(said, answer.status)
  return said as ResultOf<N>
}

/** Ask, wait and fetch the result. Throws a refusal when it failed or was stopped. */
export async function run<N extends Asked>(
  operation: N,
  projectId: string,
  body?: RequestOf<N>,
  told?: Told,
): Promise<ResultOf<N>> {
  return resultOf(operation, await finished(await asked(operation, projectId, body), told))
}

/** Operations one at a time: whether one is under way, how far it is, and stopping it. */
export function useOperation() {
  const busy = ref(false)
  const job = ref('')
  /** whether it is to be stopped as soon as the server has named it */
  let unwanted = false
  /** what is being done, and how much of it is */
  const told = shallowRef({ phrase: '', fraction: 0 })

  /** Wait for a job of an operation and fetch its result. Throws a refusal when it failed or was stopped. */
  async function waitFor<N extends OperationName>(
    operation: N,
    send: () => Promise<JobView>,
  ): Promise<Outcome<N>> {
    busy.value = true
    unwanted = false
    told.value = { phrase: '', fraction: 0 }
    try {
      const sent = await send()
      job.value = sent.id
      if (unwanted) await stop()
      const name = await finished(sent, (phrase, fraction) => (told.value = { phrase, fraction }))
      return { name, result: await resultOf(operation, name) }
    } finally {
      busy.value = false
      job.value = ''
    }
  }
  const ask = <N extends Asked>(operation: N, projectId: string, body?: RequestOf<N>): Promise<Outcome<N>> =>
    waitFor(operation, () => asked(operation, projectId, body))

  async function stop(): Promise<void> {
    unwanted = busy.value
    if (job.value) got(await api.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: job.value } } }))
  }
  return { busy, told, ask, waitFor, stop }
}
