/** Divide: its page, and the chosen parting as it would be while something of it is dragged. */
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import type { Parting, Vec3 } from '@/api/client'
import type { LiveSection } from '@/view3d/section'

export interface DraftPlane {
  partingId: string
  origin: Vec3
  normal: Vec3
  /** how far it was dragged along its normal, in mm */
  moved: number
}
export type DividePage = 'partings' | 'marks' | 'propose' | 'variants'

export const useDividing = defineStore('dividing', () => {
  const page = ref<DividePage>('partings')
  const draft = shallowRef<DraftPlane | null>(null)
  const shape = shallowRef<Parting | null>(null)
  /** the section of the chosen parting where it is dragged to */
  const live = shallowRef<LiveSection | null>(null)

  function forget(): void {
    draft.value = live.value = null
  }
  return { page, draft, shape, live, forget }
})
