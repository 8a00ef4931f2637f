/** Dragging the open part onto another while a place on each is asked for: it follows the pointer and lies where it would. */
import { Matrix4, Quaternion, Vector3 } from 'three'
import type { ShallowRef } from 'vue'
import { useTools } from '@/stores/tools'
import { frameOf, triple } from './plane'
import type { BodySpec, Hit, Stage } from './stage'

export function useDragging(stage: ShallowRef<Stage | null>, bodies: () => readonly BodySpec[]) {
  const tools = useTools()
  let held: Hit | null = null
  let down = false

  /** Take hold of the part where it is pressed. */
  async function press(x: number, y: number): Promise<void> {
    if (!tools.onOther || tools.spots.length) return
    down = true
    const hit = await stage.value?.pick(x, y)
    if (!hit || !down || !stage.value) return
    held = hit
    stage.value.controls.enabled = false
  }

  /** Where the part would lie with what is held under the pointer. */
  async function move(x: number, y: number): Promise<void> {
    const now = stage.value
    if (!held || !now) return
    const target = await now.pickOther(x, y)
    if (!held) return
    const eye = now.camera.getWorldDirection(new Vector3())
    const point = target?.point ?? now.meet(x, y, frameOf(held.point, eye))
    if (point) shift(now, laid(held, point, target?.normal ?? null))
  }

  /** Let go; whether it was dragged. Over nothing it stays where it was. */
  async function release(x: number, y: number, far: boolean): Promise<boolean> {
    down = false
    const [from, now] = [held, stage.value]
    held = null
    if (!from || !now) return false
    now.controls.enabled = true
    shift(now, new Matrix4())
    if (!far) return false
    const target = await now.pickOther(x, y)
    if (!target) return true
    for (const hit of [from, target])
      tools.took({ at: triple(hit.point), normal: triple(hit.normal), piece: null })
    return true
  }

  function shift(now: Stage, by: Matrix4): void {
    now.move(new Map(bodies().map((s) => [s.id, by.clone().multiply(s.matrix)])))
  }

  return { press, move, release }
}

/** The move that brings what is held to a point, turned by the least that lays its face against what looks along `normal`. */
function laid(held: Hit, point: Vector3, normal: Vector3 | null): Matrix4 {
  const turn = new Quaternion()
  if (normal) turn.setFromUnitVectors(held.normal, normal.clone().negate())
  const to = new Matrix4().makeTranslation(point.x, point.y, point.z)
  const from = new Matrix4().makeTranslation(-held.point.x, -held.point.y, -held.point.z)
  return to.multiply(new Matrix4().makeRotationFromQuaternion(turn)).multiply(from)
}
