/** Measures and wall colours: what the picked points come to, and the thickness map on and off. */
import { Ray, type Vector3 } from 'three'
import { shallowRef, watch, type ShallowRef } from 'vue'
import type { StationId } from '@/router'
import { useTools } from '@/stores/tools'
import { useViewport } from '@/stores/viewport'
import { useProject } from '@/stores/project'
import { measured } from './measure'
import { geometryOf } from './meshes'
import type { ScreenLine } from './overlay'
import { vec } from './plane'
import type { BodySpec, Stage } from './stage'
import { colourWalls, thicknessOf } from './walls'

export function useMeasuring(
  stage: ShallowRef<Stage | null>,
  station: () => StationId,
  specs: () => readonly BodySpec[],
) {
  const tools = useTools()
  const viewport = useViewport()
  const project = useProject()
  const line = shallowRef<(ScreenLine & { text: string }) | null>(null)
  const picked = shallowRef<{ x: number; y: number }[]>([])
  /** where the wall under the picked spot ends */
  const across = shallowRef<Vector3 | null>(null)

  watch(
    () => tools.spots,
    async (spots) => {
      across.value = null
      const spot = spots[0]
      if (tools.measure !== 'wall' || !spot || !stage.value) return
      const inwards = vec(spot.normal).negate()
      const start = vec(spot.at).addScaledVector(inwards, 1e-3)
      across.value = (await stage.value.first(new Ray(start, inwards)))?.point ?? null
      stage.value.draw()
    },
  )
  watch(
    () => [tools.spots, tools.measure],
    () => stage.value?.draw(),
  )
  watch([() => project.build, station], () => (viewport.walls = false))

  /** After a drawing: where the points and the measure are on the screen. */
  function place(now: Stage): void {
    picked.value = tools.spots.map((s) => now.project(vec(s.at)))
    const found = measured(tools.measure, tools.spots, across.value)
    const [a, b] = found ? [now.project(found.from), now.project(found.to)] : []
    line.value = a && b ? { x1: a.x, y1: a.y, x2: b.x, y2: b.y, text: found!.text } : null
  }

  async function toggleWalls(): Promise<void> {
    if (viewport.walls) {
      viewport.walls = false
      return
    }
    try {
      // at Model the survey measures them, with everything else; later each piece has walls of its own
      if (station() === 'model') await project.lookClosely()
      else await project.measureWalls()
      const least = project.printer?.least_wall_mm ?? 1
      for (const name of new Set(specs().map((s) => s.mesh)))
        colourWalls(await geometryOf(name), await thicknessOf(name), least)
      viewport.walls = true
    } catch (error) {
      await project.refused(error)
    }
  }

  return { line, picked, place, toggleWalls }
}
