/** Keeps the section of the chosen flat parting up to date while it is dragged or typed. */
import { watch } from 'vue'
import type { Parting } from '@/api/client'
import { cameOf } from '@/api/pieceKeys'
import { useDividing } from '@/stores/dividing'
import { useSelection } from '@/stores/selection'
import { useProject } from '@/stores/project'
import { geometryOf, treeOf } from './meshes'
import { planeOfFlat, type FlatParting, type Plane } from './plane'
import { sectionAt, type Body } from './section'

/** Meshes a parting cuts: the whole model, or the pieces that came of those it is set to cut. */
function meshesFor(parting: Parting, project: ReturnType<typeof useProject>): string[] {
  const only = parting.only
  const model = project.build?.model
  if (!only || !model) return model ? [model.mesh] : []
  return project.pieces.filter((p) => cameOf(only, p.key)).map((p) => p.mesh)
}

export function useLiveSection(): void {
  const project = useProject()
  const selection = useSelection()
  const dividing = useDividing()
  let bodies: Body[] = []
  let names = ''
  let frame = 0

  const flat = (): FlatParting | null => {
    const found = project.plan?.partings?.find((p) => p.id === selection.parting)
    return found?.kind === 'flat' ? found : null
  }

  async function load(): Promise<void> {
    const parting = flat()
    const wanted = parting && project.build?.state === 'whole' ? meshesFor(parting, project) : []
    const now = wanted.join()
    if (now !== names) {
      names = now
      bodies = []
      const found = await Promise.all(
        wanted.map(async (name) => {
          const geometry = await geometryOf(name)
          return { geometry, tree: await treeOf(geometry) }
        }),
      )
      if (names === now) bodies = found
    }
    measure()
  }

  function measure(): void {
    if (frame) return
    frame = requestAnimationFrame(() => {
      frame = 0
      const parting = flat()
      dividing.live = parting && bodies.length ? sectionAt(bodies, moved(planeOfFlat(parting))) : null
    })
  }

  function moved(plane: Plane): Plane {
    const draft = dividing.draft
    if (draft) plane.origin.addScaledVector(plane.n, draft.moved)
    return plane
  }

  watch([() => project.build, () => selection.parting, () => project.plan], () => void load(), {
    immediate: true,
  })
  watch(() => dividing.draft, measure)
}
