/** The guide through a first project: a few hints, one at a time, that can be left and taken up again. */
import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed } from 'vue'
import type { StationId } from '@/router'

export interface Hint {
  station: StationId
  says: string
}

export const HINTS: readonly Hint[] = [
  {
    station: 'model',
    says: 'This is the model, on the bed of the printer. It is too large: the red figures tell by how much. On the left stand its size, its unit, and whether its surface is closed.',
  },
  {
    station: 'whole-job',
    says: 'One button plans everything that follows: where to cut, which joints, how pieces lie, what prints together. The page then tells what was decided, and why.',
  },
  {
    station: 'divide',
    says: 'Or divide it yourself. Choose a parting in the list and drag its plane in the view; the cut list on the right tells which pieces fit. Spread moves them apart.',
  },
  {
    station: 'join',
    says: 'Where two pieces meet, joints hold them. Choose a mating face: its drawing is true to scale, and a joint in it can be dragged.',
  },
  {
    station: 'check',
    says: 'Everything Hinoki noticed, the worst first. Press a finding and the view flies to its place; many offer to mend themselves.',
  },
  {
    station: 'orient',
    says: 'How each piece lies while it prints. Each card is one way, with its support, its height and its time; press a card to take it.',
  },
  {
    station: 'batch',
    says: 'All pieces on beds, seen from above. Drag one elsewhere and it stays there. Below stand the times, the material, and when each bed can be changed.',
  },
  {
    station: 'assemble',
    says: 'The order in which it goes together, each move tested against all that is there. Press Play, tick the steps at the bench, or print them as sheets. That is all: now bring in a model of your own.',
  },
]

export const useGuide = defineStore('guide', () => {
  /** −1 before it was begun; the hint that is shown or was left at */
  const kept = useLocalStorage('hinoki.guide', { at: -1, shown: false }, { onError: () => undefined })
  const at = computed(() => Math.min(Math.max(0, kept.value.at), HINTS.length - 1))
  const begun = computed(() => kept.value.at > 0)
  const hint = computed(() => (kept.value.shown ? HINTS[at.value]! : null))

  /** Show it: the hint it was left at, or the first. */
  function begin(): void {
    kept.value = { at: at.value, shown: true }
  }
  /** To the next hint, or back; past the last the guide is over, and begins anew when it is wanted again. */
  function turn(by: 1 | -1): void {
    const next = at.value + by
    kept.value = next >= HINTS.length ? { at: -1, shown: false } : { at: Math.max(0, next), shown: true }
  }
  function leave(): void {
    kept.value = { ...kept.value, shown: false }
  }
  return { hints: HINTS, at, begun, hint, begin, turn, leave }
})
