/** The answer of an operation about the plan that is shown: asked when it is wanted, kept by revision, stopped when unwanted. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, shallowRef, type ComputedRef } from 'vue'
import { api } from './client'
import { finished, type Told } from './jobs'
import { ofSameProject } from './queries'
import { asked, resultOf, type Asked, type Outcome, type RequestOf } from './operations'

type Key = readonly [operation: string, project: string, revision: number, request: unknown]
/** Which revision of which project is shown. */
export interface Shown {
  project: string
  revision: number
}

/** Ask, wait and fetch the result; the job is left when `signal` says so. Throws a refusal. */
async function outcomeOf<N extends Asked>(
  operation: N,
  project: string,
  request: RequestOf<N> | undefined,
  signal: AbortSignal,
  told: Told,
): Promise<Outcome<N>> {
  const job = await asked(operation, project, request)
  // where even that cannot be said, the job ends by itself
  const leave = (): void =>
    void api.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: job.id } } }).catch(() => undefined)
  if (signal.aborted) leave()
  signal.addEventListener('abort', leave, { once: true })
  try {
    const name = await finished(job, told)
    return { name, result: await resultOf(operation, name) }
  } finally {
    signal.removeEventListener('abort', leave)
  }
}

/**
 * The answer about what is `shown`, to a `request` where it is asked one; until it is there the one before of the same project, which is then `old`. `ask` asks anew and
 * throws what it was refused for; once stopped it gives nothing.
 */
export function useAnswer<N extends Asked>(
  operation: N,
  shown: ComputedRef<Shown | null>,
  request?: ComputedRef<RequestOf<N>>,
) {
  const client = useQueryClient()
  const told = shallowRef({ phrase: '', fraction: 0 })
  const key = computed<Key>(() => [
    operation,
    shown.value?.project ?? '',
    shown.value?.revision ?? 0,
    request?.value ?? null,
  ])
  const query = useQuery<Outcome<N>, Error, Outcome<N>, Key>({
    queryKey: key,
    enabled: false,
    shallow: true,
    queryFn: ({ signal, queryKey: [, project, , body] }) => {
      told.value = { phrase: '', fraction: 0 }
      const wanted = (body ?? undefined) as RequestOf<N> | undefined
      return outcomeOf(operation, project, wanted, signal, (phrase, fraction) => {
        told.value = { phrase, fraction }
      })
    },
    placeholderData: ofSameProject(key),
  })

  const busy = computed(() => query.isFetching.value)
  const outcome = computed(() => query.data.value ?? null)
  const old = computed(() => outcome.value !== null && query.isPlaceholderData.value)

  async function ask(): Promise<Outcome<N> | null> {
    if (!shown.value) return null
    const asking = key.value
    const found = await query.refetch({ cancelRefetch: false })
    if (found.error) throw found.error as Error
    return client.getQueryData<Outcome<N>>(asking) ?? null
  }
  const stop = (): Promise<void> => client.cancelQueries({ queryKey: key.value, exact: true })
  return { outcome, old, busy, told, ask, stop }
}
