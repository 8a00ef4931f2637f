/** The view at Assemble: bodies moved as the assembly is played, the step's own camera, guide lines, arrow, balloons. */
import { useRafFn } from '@vueuse/core'
import { Box3, Vector3 } from 'three'
import { computed, onBeforeUnmount, shallowRef, watch, type ShallowRef } from 'vue'
import { useAssembly } from '@/stores/assembly'
import { useViewport } from '@/stores/viewport'
import { assemblyBodies, assemblyMatrices, bodyId, spreads, type Played } from './assembling'
import type { Anchor } from './balloons'
import type { ScreenLine } from './overlay'
import type { BodySpec, Stage } from './stage'

/** seconds a step takes when played */
const STEP_S = 2.2
/** of which at the end it rests */
const REST = 0.18

export function useAssemblyView(stage: ShallowRef<Stage | null>, on: () => boolean) {
  const assembly = useAssembly()
  const viewport = useViewport()
  const guides = shallowRef<ScreenLine[]>([])
  const arrow = shallowRef<ScreenLine | null>(null)
  const played = (): Played => ({
    step: assembly.step,
    share: assembly.share,
    apart: assembly.apart,
    seeThrough: viewport.seeThrough,
    chosen: assembly.out,
  })
  /** where all stands now: set on the bodies and looked up for the balloons, worked out once a frame */
  const matrices = computed(() => (assembly.view ? assemblyMatrices(assembly.view, played()) : null))
  const moving = computed(() => assembly.share < 1)
  const spread = computed(() => assembly.apart > 0)
  /** what is shown changes with the step, not with how far it is: no frame makes it anew */
  const bodies = computed<BodySpec[] | null>(() => {
    if (!on() || !assembly.view) return null
    return assemblyBodies(assembly.view, {
      step: assembly.step,
      share: moving.value ? 0 : 1,
      apart: spread.value ? 1 : 0,
      seeThrough: viewport.seeThrough,
      chosen: assembly.out,
    })
  })
  watch(() => [assembly.at, assembly.apart, assembly.view] as const, apply)

  /** Look from the step's own side, where that is wanted; whether it was done. */
  function look(): boolean {
    const now = stage.value
    const step = assembly.step
    if (!now || !on() || !assembly.ownView || !step || assembly.apart > 0) return false
    // when all is done the whole is looked at
    if (!assembly.playing && assembly.at >= assembly.steps.length) return false
    const box = stepBox()
    now.lookFrom(new Vector3(...step.eye), box.isEmpty() ? undefined : box)
    return true
  }
  /** Around what a step moves, before and after, and what it goes onto. */
  function stepBox(): Box3 {
    const now = stage.value
    const step = assembly.step
    const box = new Box3()
    if (!now || !step) return box
    const way = new Vector3(...(step.motion.direction ?? [0, 0, 0])).multiplyScalar(-step.apart_mm)
    const add = (unit: string, gone?: Vector3) => {
      const bodies = assembly.units.get(unit)?.bodies ?? []
      bodies.forEach((_, k) => {
        const own = now.restingBox(bodyId(unit, k))
        if (own) box.union(gone ? own.clone().translate(gone) : own)
      })
    }
    for (const unit of step.units) {
      add(unit)
      add(unit, way)
    }
    const size = box.getSize(new Vector3()).length()
    if (step.onto) add(step.onto)
    const near = box.clone()
    for (const unit of step.into ?? []) add(unit)
    // a small part on a large model is looked at closely
    return box.getSize(new Vector3()).length() > 3 * size ? near : box
  }

  /** Screen positions of guide lines, the arrow and balloons. */
  function place(now: Stage): { anchors: Anchor[] } | null {
    if (!on() || !assembly.view) {
      guides.value = []
      arrow.value = null
      return null
    }
    const step = assembly.step
    const lines: ScreenLine[] = []
    arrow.value = null
    if (assembly.apart > 0) {
      const away = spreads(assembly.view, assembly.apart)
      for (const one of assembly.steps)
        for (const [k, at] of (one.guides ?? []).entries()) {
          if (k > 2) break
          const target = one.onto ? (away.get(one.onto) ?? new Vector3()) : new Vector3()
          const own = away.get(one.lead) ?? new Vector3()
          lines.push(line(now, new Vector3(...at).add(own), new Vector3(...at).add(target)))
        }
    } else if (step?.motion.direction && assembly.share < 1) {
      const gone = new Vector3(...step.motion.direction).multiplyScalar(-step.apart_mm * (1 - assembly.share))
      const points = (step.guides ?? []).map((g) => new Vector3(...g))
      for (const p of points) lines.push(line(now, p.clone().add(gone), p))
      if (points.length) {
        const middle = points.reduce((sum, p) => sum.add(p), new Vector3()).multiplyScalar(1 / points.length)
        arrow.value = line(
          now,
          middle.clone().addScaledVector(gone, 0.8),
          middle.clone().addScaledVector(gone, 0.2),
        )
      }
    }
    guides.value = lines
    const shown = assembly.apart > 0 ? null : new Set([...(step?.units ?? []), ...(step?.into ?? [])])
    const anchors: Anchor[] = []
    for (const [k, unit] of (assembly.view.units ?? []).entries()) {
      if (shown && !shown.has(unit.id)) continue
      const matrix = matrices.value?.get(bodyId(unit.id))
      const at = now.project(new Vector3(...unit.middle).applyMatrix4(matrix!))
      const size = now.canvas
      if (at.x < 0 || at.y < 0 || at.x > size.clientWidth || at.y > size.clientHeight) continue
      anchors.push({ number: unit.numbers[0] ?? -1 - k, text: unit.balloon, x: at.x, y: at.y })
    }
    return { anchors }
  }
  const line = (now: Stage, a: Vector3, b: Vector3): ScreenLine => {
    const [p, q] = [now.project(a), now.project(b)]
    return { x1: p.x, y1: p.y, x2: q.x, y2: q.y }
  }

  let first = true
  function tick({ delta }: { delta: number }): void {
    const passed = first ? 0 : delta / 1000
    first = false
    const whole = Math.floor(assembly.at)
    const share = assembly.at - whole
    let next = assembly.at + passed / (STEP_S * (1 - REST))
    if (share > 0 && next >= whole + 1) {
      next = whole + 1
      rest = STEP_S * REST
    } else if (rest > 0) {
      rest -= passed
      next = assembly.at
    }
    assembly.at = Math.min(assembly.steps.length, next)
    if (assembly.at >= assembly.steps.length) assembly.playing = false
  }
  const frames = useRafFn(tick, { immediate: false })
  let rest = 0
  watch(
    () => assembly.playing,
    (playing) => {
      frames.pause()
      first = true
      rest = 0
      if (!playing) return
      assembly.apart = 0
      if (assembly.at >= assembly.steps.length) assembly.at = 0
      frames.resume()
    },
  )
  onBeforeUnmount(() => (assembly.playing = false))
  /** Set all bodies to where they are now. */
  function apply(): void {
    if (on() && matrices.value) stage.value?.move(matrices.value)
  }
  return { bodies, guides, arrow, place, look, apply }
}
