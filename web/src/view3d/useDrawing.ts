/** Drawing a line on the view: clicks become points, which snap to sharp edges of the model nearby. */
import { useEventListener } from '@vueuse/core'
import { Vector2, Vector3 } from 'three'
import { shallowRef, watch, type ShallowRef } from 'vue'
import { run } from '@/api/operations'
import { useTools } from '@/stores/tools'
import { useProject } from '@/stores/project'
import { frameOf, inPlane, inWorld, turned, vec, type Plane } from './plane'
import type { Stage } from './stage'

const SNAP_PX = 9

export function useDrawing(stage: ShallowRef<Stage | null>, middle: () => Vector3) {
  const tools = useTools()
  const project = useProject()
  const path = shallowRef<{ x: number; y: number }[]>([])
  let edges: readonly number[][] = []
  let edgesOf = ''

  const plane = (): Plane | null => {
    const now = tools.drawing
    return now ? turned(frameOf(vec(now.origin), vec(now.eye)), now.turn) : null
  }

  /** The plane moved along the eye into the middle of the model, where points without a surface under them lie. */
  function there(): Plane | null {
    const now = plane()
    now?.origin.addScaledVector(now.n, middle().sub(now.origin).dot(now.n))
    return now
  }

  watch(
    () => tools.drawing,
    (now, before) => {
      stage.value?.draw()
      if (now && !before) void loadEdges()
    },
  )

  async function loadEdges(): Promise<void> {
    const mesh = project.build?.model?.mesh ?? ''
    if (edgesOf === mesh || !project.revision) return
    try {
      edges = (await run('edges', project.revision.project_id)).lines
      edgesOf = mesh
    } catch (error) {
      await project.refused(error)
    }
  }

  // clicks wait for one another, and the end of the line for all of them
  let line: Promise<void> = Promise.resolve()
  const inTurn = (what: () => Promise<void> | void): Promise<void> => (line = line.then(what))
  const add = (x: number, y: number): Promise<void> => inTurn(() => addNow(x, y))
  const finish = (): Promise<void> => inTurn(finishNow)

  async function addNow(x: number, y: number): Promise<void> {
    const [now, frame, level] = [tools.drawing, plane(), there()]
    if (!now || !frame || !level || !stage.value) return
    const at = snapped(x, y) ?? (await stage.value.pick(x, y))?.point ?? stage.value.meet(x, y, level)
    if (!at || tools.drawing !== now) return
    const [px, py] = inPlane(frame, at)
    const point = { x_mm: Math.round(px * 100) / 100, y_mm: Math.round(py * 100) / 100, smooth: false }
    tools.drawing = { ...now, points: [...now.points, point] }
  }

  /** The point of a sharp edge within a few pixels; an end of it before a point along it. */
  function snapped(x: number, y: number): Vector3 | null {
    const now = stage.value!
    let best: { away: number; at: Vector3 } | null = null
    const here = new Vector2(x, y)
    for (const line of edges) {
      const [a, b] = [vec(line.slice(0, 3)), vec(line.slice(3))]
      const [p, q] = [now.project(a), now.project(b)]
      const way = q.clone().sub(p)
      const share = Math.max(0, Math.min(1, here.clone().sub(p).dot(way) / Math.max(1e-9, way.lengthSq())))
      const away = p.clone().addScaledVector(way, share).distanceTo(here)
      if (away > SNAP_PX || (best && away >= best.away)) continue
      const end = p.distanceTo(here) < SNAP_PX ? a : q.distanceTo(here) < SNAP_PX ? b : null
      best = { away: end ? away - SNAP_PX : away, at: end ?? a.clone().lerp(b, share) }
    }
    return best?.at ?? null
  }

  function finishNow(): void {
    if (tools.drawing) tools.drawn()
  }

  function keys(event: KeyboardEvent): void {
    if (!tools.drawing || event.target instanceof HTMLInputElement) return
    if (event.key === 'Enter') void finish()
    else if (event.key === 'Escape') tools.stop()
    else if (event.key === 'Backspace') tools.pointBack()
    else return
    event.preventDefault()
  }
  useEventListener(window, 'keydown', keys)

  /** After a drawing of the stage: where the points are on the screen. */
  function place(now: Stage): void {
    const level = there()
    path.value = level
      ? tools.drawing!.points.map((p) => {
          const at = now.project(inWorld(level, p.x_mm, p.y_mm))
          return { x: at.x, y: at.y }
        })
      : []
  }

  return { path, add, finish, place }
}
