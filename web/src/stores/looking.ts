/** What is looked at: the chosen piece, parting, face; how it is seen; what is measured or picked. */
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import type { Parting, Vec3 } from '@/api/client'
import type { SeenState } from '@/api/states'
import type { Differs, OnBatch, Printing } from '@/view3d/bodies'
import type { LiveSection } from '@/view3d/section'

export interface DraftPlane {
  partingId: string
  origin: Vec3
  normal: Vec3
  /** how far it was dragged along its normal, in mm */
  moved: number
}

/** A point of the surface, where it looks, and the piece it is on. */
export interface Spot {
  at: Vec3
  normal: Vec3
  piece: number | null
}

export interface CutAway {
  axis: 'x' | 'y' | 'z'
  /** share of the way through what is shown, 0 to 1 */
  at: number
  flipped: boolean
}

export type MeasureKind = 'distance' | 'wall' | 'diameter'

/** A request for points on the model: how many, what for, and who gets them. */
export interface Picking {
  words: string[]
  take: (spots: Spot[]) => void
}

/** Something to draw in the view: pairs of points, three numbers each, and where it stands. */
export interface Mark {
  line: number[]
  at: Vec3
  tone: 'must-fix' | 'look-at' | 'note'
}

/** A point of a line that is being drawn, in the plane it is drawn in. */
export interface LinePoint {
  x_mm: number
  y_mm: number
  smooth: boolean
}

/** A line being drawn on the view: the plane it lies in (its normal looks at the eye), and who gets it when it is done. */
export interface Drawing {
  origin: Vec3
  eye: Vec3
  /** degrees by which the plane's directions are turned about the eye */
  turn: number
  closed: boolean
  points: LinePoint[]
  take: (points: LinePoint[]) => void
}

/** The brush in hand: what it paints, how wide, and who gets the stroke. */
export interface Brush {
  radius: number
  take: (at: Vec3[], normals: Vec3[]) => void
}

export type DividePage = 'partings' | 'marks' | 'propose' | 'variants'

export const useLooking = defineStore('looking', () => {
  const piece = ref<number | null>(null)
  const parting = ref<string | null>(null)
  const face = ref<string | null>(null)
  const spread = ref(0)
  const draft = shallowRef<DraftPlane | null>(null)
  const live = shallowRef<LiveSection | null>(null)
  const cutListOpen = ref(true)
  /** a hinge whose door is shown open, and by how much */
  const opened = shallowRef<{ joint: string; degrees: number } | null>(null)
  /** what is drawn of how the piece on the bed prints, by the names of the meshes */
  const printing = shallowRef<Printing | null>(null)
  /** what lies on the batch that is looked at in space */
  const onBatch = shallowRef<OnBatch | null>(null)
  /** the states of the pieces, at the print log */
  const states = shallowRef<ReadonlyMap<number, SeenState> | null>(null)
  /** a printed piece beside the plan's */
  const differs = shallowRef<Differs | null>(null)
  const page = ref<DividePage>('partings')
  /** the chosen parting as it would be while something of it is dragged */
  const shape = shallowRef<Parting | null>(null)
  const drawing = shallowRef<Drawing | null>(null)
  const brush = shallowRef<Brush | null>(null)

  const cut = shallowRef<CutAway | null>(null)
  /** cut away along any plane, before the one along an axis */
  const cutPlane = shallowRef<{ normal: Vec3; offset: number } | null>(null)
  /** where to look from, and what place to look at with how much around it; without one at everything shown */
  const lookAt = shallowRef<{ eye: Vec3; at?: Vec3; reach?: number } | null>(null)
  /** the numbers of the only pieces shown; none: all */
  const only = shallowRef<number[] | null>(null)
  const seeThrough = ref(false)
  const walls = ref(false)
  const measure = ref<MeasureKind | null>(null)
  const picking = shallowRef<Picking | null>(null)
  const spots = shallowRef<Spot[]>([])
  const marks = shallowRef<Mark[]>([])
  const flyTo = shallowRef<{ at: Vec3; reach: number } | null>(null)
  /** a mesh to be shown instead of the model, such as the model before a step */
  const otherMesh = ref<string | null>(null)

  function forget(): void {
    piece.value = parting.value = face.value = draft.value = live.value = null
    spread.value = 0
    opened.value = printing.value = states.value = differs.value = null
    plain()
  }

  /** Look plainly again: nothing cut away, picked or marked. */
  function plain(): void {
    cut.value = cutPlane.value = only.value = picking.value = flyTo.value = otherMesh.value = null
    seeThrough.value = walls.value = false
    marks.value = []
    stopTools()
  }

  function stopTools(): void {
    measure.value = picking.value = drawing.value = brush.value = null
    spots.value = []
  }

  function pick(words: string[], take: (spots: Spot[]) => void): void {
    stopTools()
    spread.value = 0 // what is picked must lie where the model is
    picking.value = { words, take }
  }
  function draw(line: Drawing): void {
    stopTools()
    spread.value = 0
    drawing.value = line
  }
  function paint(with_: Brush): void {
    stopTools()
    spread.value = 0
    brush.value = with_
  }

  /** A point of the model was clicked while something waits for points. */
  function took(spot: Spot): void {
    const wanted = picking.value ? picking.value.words.length : measure.value ? NEEDED[measure.value] : 0
    const done = spots.value.length >= wanted ? [] : spots.value
    spots.value = [...done, spot]
    if (picking.value && spots.value.length === wanted) {
      const { take } = picking.value
      const found = spots.value
      stopTools()
      take(found)
    }
  }

  return {
    piece,
    parting,
    face,
    spread,
    draft,
    live,
    cutListOpen,
    opened,
    printing,
    onBatch,
    states,
    differs,
    page,
    shape,
    drawing,
    brush,
    cut,
    cutPlane,
    lookAt,
    only,
    seeThrough,
    walls,
    measure,
    picking,
    spots,
    marks,
    flyTo,
    otherMesh,
    forget,
    plain,
    stopTools,
    pick,
    draw,
    paint,
    took,
  }
})

export const NEEDED: Record<MeasureKind, number> = { distance: 2, wall: 1, diameter: 3 }
