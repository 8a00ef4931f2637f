/** Painting on the model: while the button is down the brush gathers the places it passes. */
import { shallowRef, watch, type ShallowRef } from 'vue'
import type { Vec3 } from '@/api/client'
import { useTools } from '@/stores/tools'
import { triple, vec } from './plane'
import type { Stage } from './stage'

export function useBrush(stage: ShallowRef<Stage | null>) {
  const tools = useTools()
  /** circles on the screen: where the brush was, and how wide it is there */
  const dabs = shallowRef<{ x: number; y: number; r: number }[]>([])
  let at: Vec3[] = []
  let normals: Vec3[] = []
  let down = false

  watch(
    () => tools.brush,
    (brush) => {
      if (stage.value) stage.value.controls.enabled = brush === null
      forget()
    },
  )

  function forget(): void {
    at = []
    normals = []
    dabs.value = []
    down = false
  }

  async function dab(x: number, y: number): Promise<void> {
    const brush = tools.brush
    const hit = await stage.value?.pick(x, y)
    if (brush === null || !hit || !down) return
    const last = at.at(-1)
    if (last && vec(last).distanceTo(hit.point) < brush * 0.3) return
    at.push(triple(hit.point))
    normals.push(triple(hit.normal))
    place(stage.value!)
  }

  function press(x: number, y: number): void {
    down = true
    void dab(x, y)
  }
  function move(x: number, y: number): void {
    if (down) void dab(x, y)
  }
  async function release(x: number, y: number): Promise<void> {
    const brush = tools.brush
    if (!down || brush === null) return
    await dab(x, y)
    const [places, ways] = [at, normals]
    forget()
    if (places.length) tools.stroke = { at: places, normals: ways }
  }

  function place(now: Stage): void {
    const radius = tools.brush ?? 0
    dabs.value = at.map((p) => {
      const on = now.project(vec(p))
      return { x: on.x, y: on.y, r: radius * now.scaleAt(vec(p)) }
    })
  }

  return { dabs, press, move, release, place }
}
