/** Waiting for questions the server works on: told by its events, asked again now and then in case one was missed. */
import { api, got, Refusal, type JobView } from './client'

/** How far a question is: a phrase and a share. */
export type Told = (phrase: string, fraction: number) => void
const waiting = new Map<string, (job: JobView) => void>()
const AGAIN_MS = 1500

export function heardOf(job: JobView): void {
  waiting.get(job.id)?.(job)
}

/** The name of a job's answer once it has ended. Throws the refusal when it failed or was stopped. */
export async function finished(asked: JobView, told: Told = () => undefined): Promise<string> {
  const job = ended(asked)
    ? asked
    : await new Promise<JobView>((resolve, reject) => watchOver(asked.id, told, resolve, reject))
  if (job.state === 'done' && job.result) return job.result
  const text =
    job.state === 'cancelled' ? 'Stopped; nothing was changed.' : (job.message ?? 'This did not work.')
  throw new Refusal(text, 0)
}

function watchOver(
  id: string,
  told: Told,
  resolve: (job: JobView) => void,
  reject: (error: unknown) => void,
): void {
  const timer = window.setInterval(() => {
    api
      .GET('/api/jobs/{job_id}', { params: { path: { job_id: id } } })
      .then((answer) => {
        const job = got<JobView>(answer)
        heard(job)
      })
      .catch((error: unknown) => {
        stop()
        reject(error)
      })
  }, AGAIN_MS)
  const stop = (): void => {
    window.clearInterval(timer)
    waiting.delete(id)
  }
  const heard = (job: JobView): void => {
    told(job.phrase, job.fraction)
    if (!ended(job)) return
    stop()
    resolve(job)
  }
  waiting.set(id, heard)
}

const ended = (job: JobView): boolean => ['done', 'failed', 'cancelled'].includes(job.state)
