/** The view while things move: bodies where a driver has brought them, and crosses where they touch. */
import { useRafFn } from '@vueuse/core'
import { Matrix4 } from 'three'
import { computed, onBeforeUnmount, watch, type ShallowRef } from 'vue'
import { pigment } from '@/api/format'
import { useMoving } from '@/stores/moving'
import { useViewport } from '@/stores/viewport'
import { rowMajor } from './bodies'
import type { BodySpec, Stage } from './stage'

/** seconds a whole travel takes when played */
const TRAVEL_S = 4
const STANDS = '#b9ad98'
const TOUCH = '#b3321f'
const CROSS_MM = 3
const bodyId = (id: string): string => `moving ${id}`

export function useMovingView(stage: ShallowRef<Stage | null>, on: () => boolean) {
  const moving = useMoving()
  const viewport = useViewport()
  const bodies = computed<BodySpec[] | null>(() => {
    if (!on() || !moving.view) return null
    return moving.view.bodies.map((body) => ({
      id: bodyId(body.id),
      number: null,
      mesh: body.mesh,
      colour: body.movement ? pigment(body.number) : STANDS,
      solidity: viewport.seeThrough && !body.movement ? 0.3 : 1,
      chosen: false,
      matrix: new Matrix4(),
    }))
  })
  /** where every movement's bodies are now; at rest where nothing is played */
  const places = computed(() => {
    const found = new Map<string, Matrix4>()
    const travel = moving.travel
    if (!travel || moving.resting) return found
    for (const one of travel.places) {
      const last = one.matrices.length - 1
      if (last < 0) continue
      const at = Math.min(last, moving.share * last)
      const k = Math.min(last, Math.floor(at))
      found.set(one.movement, between(one.matrices[k]!, one.matrices[Math.min(last, k + 1)]!, at - k))
    }
    return found
  })
  function apply(): void {
    if (!on() || !moving.view) return
    const all = new Map<string, Matrix4>()
    for (const body of moving.view.bodies)
      all.set(bodyId(body.id), places.value.get(body.movement ?? '') ?? new Matrix4())
    stage.value?.move(all)
  }
  watch(places, apply)

  const crosses = computed<number[]>(() => {
    const lines: number[] = []
    for (const mark of on() ? (moving.travel?.marks ?? []) : []) {
      if (!mark.touches || !mark.at_mm) continue
      const [x, y, z] = mark.at_mm
      lines.push(x - CROSS_MM, y, z, x + CROSS_MM, y, z, x, y - CROSS_MM, z, x, y + CROSS_MM, z)
      lines.push(x, y, z - CROSS_MM, x, y, z + CROSS_MM)
    }
    return lines
  })
  watch([stage, crosses], ([now, points], [, before]) => {
    if (points.length || before?.length)
      now?.showLines(points.length ? [{ points, colour: TOUCH, width: 3, over: true }] : [])
  })

  let way = 1
  const frames = useRafFn(
    ({ delta }) => {
      const next = moving.share + (way * Math.min(delta, 100)) / 1000 / TRAVEL_S
      if (next >= 1) way = -1
      if (next <= 0) way = 1
      moving.go(next)
    },
    { immediate: false },
  )
  watch(
    () => moving.playing && on(),
    (playing) => (playing ? frames.resume() : frames.pause()),
  )
  onBeforeUnmount(() => (moving.playing = false))
  return { bodies, apply }
}

/** Between two places that are near each other. */
function between(one: number[], other: number[], share: number): Matrix4 {
  return rowMajor(one.map((v, k) => v + (other[k]! - v) * share))
}
