/** Draws the project's other parts round the open one, and the play between two of them. */
import { computed, watch, type ShallowRef } from 'vue'
import type { StationId } from '@/router'
import { useParts } from '@/stores/parts'
import { useProject } from '@/stores/project'
import { useViewport } from '@/stores/viewport'
import type { BodySpec, Stage } from './stage'
import { intoView, otherInstances, TOGETHER } from './parts'

export function useOtherParts(stage: ShallowRef<Stage | null>, station: () => StationId) {
  const project = useProject()
  const viewport = useViewport()
  const parts = useParts()
  const copies = computed(() => {
    const build = project.build
    const wanted = parts.standing > 1 && viewport.others && TOGETHER.includes(station())
    if (!build || !wanted || viewport.spread > 0.005 || viewport.only || viewport.otherMesh) return []
    return otherInstances(build, viewport.play || viewport.seeThrough ? 0.28 : 1)
  })
  watch(
    [copies, stage],
    async ([specs, now]) => {
      try {
        await now?.showCopies(specs)
      } catch (error) {
        await project.refused(error)
      }
    },
    { immediate: true },
  )

  /** The faces of one part that look at another, coloured by the gap. */
  const play = computed<BodySpec[]>(() => {
    const mesh = viewport.play
    if (!mesh || !project.build || station() !== 'model') return []
    return [
      {
        id: 'play',
        number: null,
        mesh,
        colour: '#ffffff',
        solidity: 1,
        chosen: false,
        matrix: intoView(project.build),
        walls: true,
        patch: true,
      },
    ]
  })
  return { play }
}
