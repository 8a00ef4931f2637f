/** What the view shows for dividing: seams as ink lines, the line of a drawn parting, handles on the chosen one. */
import type { Vector3 } from 'three'
import { computed, shallowRef, watch, type ComputedRef, type ShallowRef } from 'vue'
import type { Parting } from '@/api/client'
import type { StationId } from '@/router'
import { handlesOf, linesOf, type Handle } from '@/stations/divide/handles'
import { useDividing } from '@/stores/dividing'
import { useSelection } from '@/stores/selection'
import { useViewport } from '@/stores/viewport'
import { useProject } from '@/stores/project'
import { tone } from '@/ui/night'
import { splitsAt, type Split } from './livePieces'
import { planeOfFlat } from './plane'
import type { PointPlace } from './PointHandle.vue'
import type { Drawn, Stage } from './stage'

export function useDivideView(
  stage: ShallowRef<Stage | null>,
  station: () => StationId,
  middle: ComputedRef<Vector3>,
) {
  const dividing = useDividing()
  const selection = useSelection()
  const viewport = useViewport()
  const project = useProject()
  const places = shallowRef<PointPlace[]>([])

  /** The chosen parting, as it is being dragged. */
  const chosen = computed<Parting | null>(() => {
    if (station() !== 'divide' || dividing.page !== 'partings') return null
    const found = project.plan?.partings?.find((p) => p.id === selection.parting)
    if (!found || found.hidden) return null
    return dividing.shape?.id === found.id ? dividing.shape : found
  })

  const lines = computed<Drawn[]>(() => {
    if (station() !== 'divide') return []
    const hidden = new Set((project.plan?.partings ?? []).filter((p) => p.hidden).map((p) => p.id))
    const seams =
      viewport.spread > 0.005
        ? []
        : (project.build?.partings ?? []).flatMap((view) =>
            hidden.has(view.id)
              ? []
              : [
                  {
                    points: view.seam.flatMap((line) => pairs(line)),
                    colour: view.id === selection.parting ? tone('--cedar') : tone('--ink'),
                    width: view.id === selection.parting ? 2.6 : 1.8,
                  },
                ],
          )
    const drawn = chosen.value ? linesOf(chosen.value, middle.value) : []
    return [...seams, { points: drawn, colour: tone('--cedar'), width: 2, over: true }]
  })

  watch([lines, stage], () => stage.value?.showLines(lines.value))

  /** The pieces as they would be cut by a flat parting where it is dragged to. */
  const splits = computed<ReadonlyMap<string, Split>>(() => {
    const own = dividing.shape ?? project.plan?.partings?.find((p) => p.id === dividing.draft?.partingId)
    if (station() !== 'divide' || viewport.spread > 0.005 || own?.kind !== 'flat') return new Map()
    const plane = planeOfFlat(own)
    if (dividing.draft?.partingId === own.id) plane.origin.addScaledVector(plane.n, dividing.draft.moved)
    const boxOf = (number: number) => stage.value?.boxOf(String(number)) ?? null
    return splitsAt(own, plane, project.pieces, project.faces, boxOf)
  })
  let shown: ReadonlyMap<string, Split> = new Map()
  watch([splits, () => project.upToDate, () => project.saving, stage], () => {
    // let go, it stays until the pieces themselves are there
    if (splits.value.size || (project.upToDate && !project.saving)) shown = splits.value
    stage.value?.showSplits(shown)
  })

  function place(now: Stage): void {
    const own = chosen.value
    places.value = own ? handlesOf(own, middle.value).map((h) => at(now, h)) : []
  }

  function at(now: Stage, handle: Handle): PointPlace {
    const here = now.project(handle.at)
    const along = (way: Vector3) => now.project(handle.at.clone().add(way)).sub(here)
    return { handle, x: here.x, y: here.y, u: along(handle.u), v: handle.v && along(handle.v) }
  }

  function drag(handle: Handle, u: number, v: number): void {
    dividing.shape = handle.moved(u, v)
    stage.value?.draw()
  }
  function settle(): void {
    const next = dividing.shape
    if (!next) return
    void project
      .edit(`Moved ${next.id.toUpperCase()}`, (plan) => {
        plan.partings = plan.partings?.map((p) => (p.id === next.id ? next : p))
      })
      .then(() => {
        if (dividing.shape === next) dividing.shape = null
      })
  }

  return { chosen, places, place, drag, settle }
}

function pairs(line: readonly (readonly number[])[]): number[] {
  const out: number[] = []
  for (let k = 1; k < line.length; k++) out.push(...line[k - 1]!, ...line[k]!)
  return out
}
