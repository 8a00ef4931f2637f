/** What if: options to print everything by, side by side with how it is. */
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import { useOperation } from '@/api/operations'
import { type Material, type Schemas } from '@/api/client'
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
  const lines = shallowRef<Schemas['WhatIfLineView'][] | null>(null)
  const { busy, ask, stop } = useOperation()

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
    const every = [{ name: 'as it is', printing: now(), material: null, scale: 1 }, ...options.value]
    try {
      lines.value = (await ask('what-if', id, { options: every })).result.lines
    } catch (error) {
      await project.refused(error)
    }
  }
  function forget(): void {
    options.value = []
    lines.value = null
  }
  return { options, lines, busy, add, drop, compare, stop, forget }
})
