/** The layout of all that is printed: asked for when the plan changes, remembered by revision and wish. */
import { computed, ref, shallowRef } from 'vue'
import { api, got, type JobView, type Schemas } from '@/api/client'
import { finished } from '@/api/jobs'
import { useProject } from '@/stores/project'

export type Batches = Schemas['BatchesView']
export type Batch = Schemas['BatchView']

export function useBatches() {
  const project = useProject()
  const gap = ref(4)
  const hours = ref<number | null>(null)
  const busy = ref(false)
  const job = ref('')
  const known = shallowRef<{ key: string; batches: Batches } | null>(null)
  const key = computed(() => `${project.revision?.revision} ${gap.value} ${hours.value}`)
  const batches = computed(() => known.value?.batches ?? null)
  /** whether what is shown is of an older plan or wish */
  const old = computed(() => known.value !== null && known.value.key !== key.value)

  async function lay(): Promise<void> {
    const id = project.revision?.project_id
    if (!id || busy.value) return
    busy.value = true
    const asked = key.value
    try {
      const sent = got<JobView>(
        await api.POST('/api/projects/{project_id}/batches', {
          params: { path: { project_id: id } },
          body: { gap_mm: gap.value, most_hours: hours.value, turn_deg: 45, power_price: 0 },
        }),
      )
      job.value = sent.id
      const name = await finished(sent)
      const found = got<Batches>(await api.GET('/api/batches/{name}', { params: { path: { name } } }))
      known.value = { key: asked, batches: found }
    } catch (error) {
      await project.refused(error)
    } finally {
      busy.value = false
      job.value = ''
    }
  }
  async function stop(): Promise<void> {
    if (job.value) await api.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: job.value } } })
  }

  return { gap, hours, busy, batches, old, lay, stop }
}
