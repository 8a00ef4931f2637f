/** Questions the server works on, one at a time: whether one is under way, its answer, and stopping it. */
import { ref, shallowRef } from 'vue'
import { api, got, type Answer, type JobView } from './client'
import { finished } from './jobs'

export function useAsking() {
  const busy = ref(false)
  const job = ref('')
  /** what is being done, and how much of it is */
  const told = shallowRef({ phrase: '', fraction: 0 })

  /** Send a question, wait, fetch its answer by name and give it to `take`. Throws the refusal when it failed or was stopped. */
  async function ask<T>(
    send: () => Promise<Answer>,
    fetch: (name: string) => Promise<Answer>,
    take: (answer: T, name: string) => void,
  ): Promise<void> {
    busy.value = true
    told.value = { phrase: '', fraction: 0 }
    try {
      const sent = got<JobView>(await send())
      job.value = sent.id
      const name = await finished(sent, (phrase, fraction) => (told.value = { phrase, fraction }))
      take(got<T>(await fetch(name)), name)
    } finally {
      busy.value = false
      job.value = ''
    }
  }
  async function stop(): Promise<void> {
    if (job.value) await api.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: job.value } } })
  }
  return { busy, told, ask, stop }
}
