/** What prints of a body in layers and lines: asked for a piece as it lies, or for the model before and after a step. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import type { Schemas } from '@/api/client'
import { useOperation } from '@/api/operations'
import { useProject } from './project'
import { useViewport } from './viewport'

export type PrintedView = Schemas['PrintedView']
export type Side = 'before' | 'after'

export const usePrints = defineStore('prints', () => {
  const project = useProject()
  const viewport = useViewport()
  const { busy, told, ask, stop } = useOperation()
  /** layer and line to look with; none: as it prints */
  const layer = ref<number | null>(null)
  const line = ref<number | null>(null)
  /** what was found, of which piece or step, and for which revision */
  const found = shallowRef<{
    of: string
    revision: number
    sides: Partial<Record<Side, PrintedView>>
  } | null>(null)
  const side = ref<Side>('after')
  const now = computed(() => project.revision?.revision ?? 0)
  const fresh = (of: string): boolean => found.value?.of === of && found.value.revision === now.value
  const shown = computed<PrintedView | null>(() => found.value?.sides[side.value] ?? null)

  function show(which: Side | null): void {
    if (which) side.value = which
    const view = which && found.value?.sides[which]
    viewport.prints = view ? { prints: view.prints_mesh, lost: view.lost_mesh ?? null } : null
  }
  async function look(of: string, what: () => Promise<Partial<Record<Side, PrintedView>>>): Promise<void> {
    const revision = now.value
    try {
      found.value = { of, revision, sides: await what() }
      show('after')
    } catch (error) {
      await project.refused(error)
    }
  }
  const id = (): string => project.revision?.project_id ?? ''
  const fine = () => ({ layer_mm: layer.value, line_mm: line.value })
  /** A piece as it lies, with the time of all its lines where `timed`. */
  const piece = (key: string, timed = false): Promise<void> =>
    look(key, async () => ({
      after: (await ask('what-prints', id(), { piece: key, timed, ...fine() })).result,
    }))
  /** The model before and after a step. */
  const step = (name: string): Promise<void> =>
    look(name, async () => {
      const { result } = await ask('step-prints', id(), { step: name, ...fine() })
      return { before: result.before, after: result.after }
    })
  function leave(): void {
    found.value = null
    show(null)
  }
  return { busy, told, layer, line, found, side, shown, fresh, show, piece, step, stop, leave }
})
