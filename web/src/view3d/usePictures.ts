/** The pictures of the part that is worked on, shown where it stands as it is drawn. */
import { computed, watch, type ShallowRef } from 'vue'
import { useProject } from '@/stores/project'
import { useTools } from '@/stores/tools'
import { useViewport } from '@/stores/viewport'
import type { Stage } from './stage'

const WITH_PICTURES = ['model', 'divide', 'join']

export function usePictures(stage: ShallowRef<Stage | null>, station: () => string): void {
  const project = useProject()
  const viewport = useViewport()
  const tools = useTools()
  const shown = computed(() =>
    WITH_PICTURES.includes(station()) && viewport.spread < 0.005
      ? (project.plan?.pictures ?? []).filter((p) => p.on !== false)
      : [],
  )
  watch(
    [stage, shown],
    async ([now, pictures]) => {
      try {
        await now?.showPictures(pictures)
      } catch {
        project.say('A picture behind the model could not be read. Take it out and bring it in again.')
      }
    },
    { immediate: true },
  )
  // while points of a picture are asked for, it is seen before the model
  watch(
    () => tools.onPlane !== null,
    (asked) => stage.value?.picturesOver(asked),
  )
}
