/** What is looked at: the chosen piece, parting, face, and how far the pieces are spread. */
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import type { Vec3 } from '@/api/client'
import type { LiveSection } from '@/view3d/section'

export interface DraftPlane {
  partingId: string
  origin: Vec3
  normal: Vec3
  /** how far it was dragged along its normal, in mm */
  moved: number
}

export const useLooking = defineStore('looking', () => {
  const piece = ref<number | null>(null)
  const parting = ref<string | null>(null)
  const face = ref<string | null>(null)
  const step = ref<number | null>(null)
  const spread = ref(0)
  const draft = shallowRef<DraftPlane | null>(null)
  const live = shallowRef<LiveSection | null>(null)
  const cutListOpen = ref(true)

  function forget(): void {
    piece.value = parting.value = face.value = step.value = draft.value = live.value = null
    spread.value = 0
  }

  return { piece, parting, face, step, spread, draft, live, cutListOpen, forget }
})
