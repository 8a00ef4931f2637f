/** What is chosen: a piece (its number), a parting, a mating face, by their names. */
import { defineStore } from 'pinia'
import { ref } from 'vue'

export const useSelection = defineStore('selection', () => {
  const piece = ref<number | null>(null)
  const parting = ref<string | null>(null)
  const face = ref<string | null>(null)

  function forget(): void {
    piece.value = parting.value = face.value = null
  }
  return { piece, parting, face, forget }
})
