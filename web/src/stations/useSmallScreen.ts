/** A small screen, or a large one at 200 %: one sheet of the bench at a time, turned to where the work is. */
import { useMediaQuery } from '@vueuse/core'
import { watch, type Ref } from 'vue'
import type { StationId } from '@/router'
import { useTools } from '@/stores/tools'
import { useViewport } from '@/stores/viewport'

/** Whether the screen is small (see the same width in Bench.vue). */
export function useSmallScreen(station: Ref<StationId>): Ref<boolean> {
  const [viewport, tools] = [useViewport(), useTools()]
  const small = useMediaQuery('(max-width: 720px)')
  watch(station, () => (viewport.sheet = 'work'), { immediate: true })
  // what is to be picked or looked at is in the view; back to the worksheet when it has been picked
  watch(
    () => Boolean(tools.picking ?? tools.drawing ?? tools.brush),
    (inView) => (viewport.sheet = inView ? 'view' : 'work'),
  )
  watch(
    () => viewport.flyTo,
    (to) => {
      if (to) viewport.sheet = 'view'
    },
  )
  return small
}
