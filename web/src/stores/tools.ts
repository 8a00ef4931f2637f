/** What the pointer does in the view: measures, picks points, draws a line, paints. One tool at a time. */
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import type { Vec3 } from '@/api/client'
import { useViewport } from './viewport'

/** A point of the surface, where it looks, and the piece it is on. */
export interface Spot {
  at: Vec3
  normal: Vec3
  piece: number | null
}
const rounded = (v: readonly number[], by: number): Vec3 => v.map((c) => Math.round(c * by) / by) as Vec3
/** A picked point as plans have it, to a thousandth of a millimetre. */
export const pointOf = (spot: Spot): Vec3 => rounded(spot.at, 1000)
/** Which way the surface looks there, as plans have it. */
export const facingOf = (spot: Spot): Vec3 => rounded(spot.normal, 1e6)
/** A place on a surface, as plans have it. */
export const placeOf = (spot: Spot): { at_mm: Vec3; facing: Vec3 } => ({
  at_mm: pointOf(spot),
  facing: facingOf(spot),
})

export type MeasureKind = 'distance' | 'wall' | 'diameter'
export const NEEDED: Record<MeasureKind, number> = { distance: 2, wall: 1, diameter: 3 }

/** A point of a line that is being drawn, in the plane it is drawn in. */
export interface LinePoint {
  x_mm: number
  y_mm: number
  smooth: boolean
}

/** A line being drawn on the view: the plane it lies in; its normal looks at the eye. */
export interface Drawing {
  origin: Vec3
  eye: Vec3
  /** degrees by which the plane's directions are turned about the eye */
  turn: number
  closed: boolean
  points: LinePoint[]
}
/** Where the brush went, and where the surface looks there. */
export interface Stroke {
  at: Vec3[]
  normals: Vec3[]
}

export const useTools = defineStore('tools', () => {
  const viewport = useViewport()
  const measure = ref<MeasureKind | null>(null)
  /** what is asked for, a sentence for each point */
  const picking = shallowRef<readonly string[] | null>(null)
  /** whether all points but the first are asked for on another part */
  const onOther = ref(false)
  /** the plane that points are asked for on, in the place of the model */
  const onPlane = shallowRef<{ origin: Vec3; normal: Vec3 } | null>(null)
  const drawing = shallowRef<Drawing | null>(null)
  /** the width of the brush in hand, as a radius in mm */
  const brush = ref<number | null>(null)
  /** what was painted last */
  const stroke = shallowRef<Stroke | null>(null)
  const spots = shallowRef<Spot[]>([])
  let answerPick: ((spots: Spot[] | null) => void) | null = null
  let answerDraw: ((points: LinePoint[] | null) => void) | null = null

  /** Put every tool away; who waits for points gets none. */
  function stop(): void {
    measure.value = picking.value = drawing.value = brush.value = null
    onOther.value = false
    onPlane.value = null
    spots.value = []
    answerPick?.(null)
    answerDraw?.(null)
    answerPick = answerDraw = null
  }

  /** Ask for points on the model, all but the first `onAnother` part where wished; none where something else is begun. */
  function pick(words: readonly string[], onAnother = false): Promise<Spot[] | null> {
    stop()
    onOther.value = onAnother
    viewport.spread = 0 // what is picked must lie where the model is
    picking.value = words
    return new Promise((resolve) => (answerPick = resolve))
  }
  /** Ask for points on a plane; none where something else is begun. */
  function pickOn(words: readonly string[], origin: Vec3, normal: Vec3): Promise<Spot[] | null> {
    const found = pick(words)
    onPlane.value = { origin, normal }
    return found
  }
  /** Ask for a line drawn on the view; none where something else is begun, or too few points are set. */
  function draw(line: Drawing): Promise<LinePoint[] | null> {
    stop()
    viewport.spread = 0
    drawing.value = line
    return new Promise((resolve) => (answerDraw = resolve))
  }
  /** Take the last point of the line back. */
  function pointBack(): void {
    const now = drawing.value
    if (now) drawing.value = { ...now, points: now.points.slice(0, -1) }
  }
  /** The line is done. */
  function drawn(): void {
    const now = drawing.value
    const answer = answerDraw
    answerDraw = null
    stop()
    answer?.(now && now.points.length >= (now.closed ? 3 : 2) ? now.points : null)
  }
  /** Take a brush in hand; strokes are told one by one. */
  function paint(radius: number): void {
    stop()
    viewport.spread = 0
    brush.value = radius
  }

  /** A point of the model was clicked while something waits for points. */
  function took(spot: Spot): void {
    const wanted = picking.value ? picking.value.length : measure.value ? NEEDED[measure.value] : 0
    const done = spots.value.length >= wanted ? [] : spots.value
    spots.value = [...done, spot]
    if (picking.value && spots.value.length === wanted) {
      const found = spots.value
      const answer = answerPick
      answerPick = null
      stop()
      answer?.(found)
    }
  }

  return {
    measure,
    picking,
    onOther,
    onPlane,
    drawing,
    brush,
    stroke,
    spots,
    stop,
    pick,
    pickOn,
    draw,
    drawn,
    pointBack,
    paint,
    took,
  }
})
