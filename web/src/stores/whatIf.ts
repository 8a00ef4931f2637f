/** What if: options to print everything by, side by side with how it is. */
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import { api, got, type JobView, type Material, type Schemas } from '@/api/client'
import { finished } from '@/api/jobs'
import { useProject } from './project'

export type Settings = Required<Schemas['PrintSettings']>
export interface Option {
  name: string
  printing: Settings
  material: Material | null
  scale: number
}

export const useWhatIf = defineStore('what-if', () => {
  const project = useProject()
  const options = ref<Option[]>([])
  const lines = shallowRef<Schemas['WhatIfLine'][] | null>(null)
  const busy = ref(false)
  const job = ref('')

  const now = (): Settings => ({ ...(project.plan!.printing as Settings) })
  function add(name: string, change: Partial<Settings> = {}, scale = 1): void {
    options.value.push({ name, printing: { ...now(), ...change }, material: null, scale })
  }
  function drop(k: number): void {
    options.value.splice(k, 1)
  }
  async function compare(): Promise<void> {
    const id = project.revision?.project_id
    if (!id || busy.value) return
    busy.value = true
    try {
      const asked = [{ name: 'as it is', printing: now(), material: null, scale: 1 }, ...options.value]
      const sent = got<JobView>(
        await api.POST('/api/projects/{project_id}/what-if', {
          params: { path: { project_id: id } },
          body: { options: asked },
        }),
      )
      job.value = sent.id
      const name = await finished(sent)
      const found = await api.GET('/api/what-ifs/{name}', { params: { path: { name } } })
      lines.value = got<Schemas['WhatIfView']>(found).lines
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
  function forget(): void {
    options.value = []
    lines.value = null
  }
  return { options, lines, busy, add, drop, compare, stop, forget }
})
