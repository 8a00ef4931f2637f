/** What touches the bed, and where space is shut in, drawn over the piece at Orient. */
import { watch, type ShallowRef } from 'vue'
import { useViewport } from '@/stores/viewport'
import type { Stage } from './stage'

const CONTACT = '#2f4e6f'
const VENT = '#b3321f'
const CROSS_MM = 6

export function usePrinting(stage: ShallowRef<Stage | null>, station: () => string): void {
  const viewport = useViewport()
  watch([stage, () => viewport.printing, station], ([now, printing, where]) => {
    if (!now || where !== 'orient') return
    const contact: number[] = []
    for (const ring of printing?.contact ?? [])
      for (let k = 1; k < ring.length; k++)
        contact.push(ring[k - 1]![0], ring[k - 1]![1], 0.1, ring[k]![0], ring[k]![1], 0.1)
    const crosses: number[] = []
    for (const [x, y, z] of printing?.vents ?? [])
      crosses.push(x - CROSS_MM, y, z, x + CROSS_MM, y, z, x, y - CROSS_MM, z, x, y + CROSS_MM, z)
    now.showLines([
      { points: contact, colour: CONTACT, width: 2.5, over: true },
      { points: crosses, colour: VENT, width: 3, over: true },
    ])
  })
  // lines of other stations are theirs
  watch(station, (_, before) => {
    if (before === 'orient') stage.value?.showLines([])
  })
}
