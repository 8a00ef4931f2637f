/** Keeps the stage's cutting plane, marks and flights as they are wished for. */
import { Box3, Vector3 } from 'three'
import { watch, type ShallowRef } from 'vue'
import { useViewport } from '@/stores/viewport'
import { AXIS, vec } from './plane'
import type { BodySpec, Stage } from './stage'

const TONES = { 'must-fix': '#b3321f', 'look-at': '#825707', note: '#2f4e6f' } as const

export function useCutAway(stage: ShallowRef<Stage | null>, shown: () => readonly BodySpec[]): void {
  const viewport = useViewport()

  function cut(): void {
    const wish = viewport.cut
    const now = stage.value
    if (!now) return
    const plane = viewport.cutPlane
    if (plane || !wish) {
      now.showCut(plane ? { normal: vec(plane.normal), offset: plane.offset } : null)
      return
    }
    const box = now.extent()
    const at = box.min[wish.axis] + (box.max[wish.axis] - box.min[wish.axis]) * wish.at
    const sign = wish.flipped ? -1 : 1
    now.showCut({ normal: AXIS[wish.axis].clone().multiplyScalar(sign), offset: at * sign })
  }

  watch([() => viewport.cut, () => viewport.cutPlane, shown, stage], () => requestAnimationFrame(cut), {
    immediate: true,
  })
  watch(
    () => viewport.marks,
    (marks) =>
      stage.value?.showMarks(
        marks.map((m) => ({ points: m.line.length ? m.line : cross(m.at), colour: TONES[m.tone] })),
      ),
  )
  watch(
    () => viewport.lookAt,
    (to) => {
      // what is shown may change with it, and is there a frame later
      if (!to) return
      const box =
        to.at && new Box3().setFromCenterAndSize(vec(to.at), new Vector3().setScalar(2 * (to.reach ?? 30)))
      requestAnimationFrame(() => requestAnimationFrame(() => stage.value?.lookFrom(vec(to.eye), box)))
    },
  )
  watch(
    () => viewport.flyTo,
    (to) => to && stage.value?.fly(vec(to.at), to.reach),
  )
}

/** Three short lines through a point, for places that have no line of their own. */
function cross(at: readonly number[]): number[] {
  return [new Vector3(3, 0, 0), new Vector3(0, 3, 0), new Vector3(0, 0, 3)].flatMap((d) => [
    at[0]! - d.x,
    at[1]! - d.y,
    at[2]! - d.z,
    at[0]! + d.x,
    at[1]! + d.y,
    at[2]! + d.z,
  ])
}
