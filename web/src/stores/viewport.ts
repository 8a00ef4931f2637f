/** How the model is seen: from where, cut away, spread, through walls; what stands beside it or in its place. */
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import type { Vec3 } from '@/api/client'
import type { SeenState } from '@/api/states'
import type { Differs, OnBatch, Printing } from '@/view3d/bodies'

export interface CutAway {
  axis: 'x' | 'y' | 'z'
  /** share of the way through what is shown, 0 to 1 */
  at: number
  flipped: boolean
}

/** What a small screen shows of the bench. */
export type Sheet = 'work' | 'view' | 'cuts' | 'face'

/** Something to draw in the view: pairs of points, three numbers each, and where it stands. */
export interface Mark {
  line: number[]
  at: Vec3
  tone: 'must-fix' | 'look-at' | 'note'
}

export const useViewport = defineStore('viewport', () => {
  const spread = ref(0)
  const cutListOpen = ref(true)
  /** the one sheet of the bench that a small screen shows */
  const sheet = ref<Sheet>('work')
  const cut = shallowRef<CutAway | null>(null)
  /** cut away along any plane, before the one along an axis */
  const cutPlane = shallowRef<{ normal: Vec3; offset: number } | null>(null)
  /** where to look from, and what place to look at with how much around it; without one at everything shown */
  const lookAt = shallowRef<{ eye: Vec3; at?: Vec3; reach?: number } | null>(null)
  const flyTo = shallowRef<{ at: Vec3; reach: number } | null>(null)
  /** the numbers of the only pieces shown; none: all */
  const only = shallowRef<number[] | null>(null)
  const seeThrough = ref(false)
  const walls = ref(false)
  /** whether the project's other parts are drawn round the one worked on */
  const others = ref(true)
  /** the play between two parts, by the name of its drawing */
  const play = shallowRef<string | null>(null)
  const marks = shallowRef<Mark[]>([])
  /** a mesh to be shown instead of the model, such as the model before a step */
  const otherMesh = ref<string | null>(null)
  /** a joint whose door is shown open, and in which of its positions */
  const opened = shallowRef<{ joint: string; position: number } | null>(null)
  /** what is drawn of how the piece on the bed prints, by the names of the meshes */
  const printing = shallowRef<Printing | null>(null)
  /** a body as it prints, and what of it is lost, by the names of the drawings: shown in its place */
  const prints = shallowRef<{ prints: string; lost: string | null } | null>(null)
  /** what lies on the batch that is looked at in space */
  const onBatch = shallowRef<OnBatch | null>(null)
  /** the states of the pieces, at the print log */
  const states = shallowRef<ReadonlyMap<number, SeenState> | null>(null)
  /** a printed piece beside the plan's */
  const differs = shallowRef<Differs | null>(null)

  /** Nothing cut away, left out or marked. */
  function plain(): void {
    cut.value = cutPlane.value = only.value = flyTo.value = otherMesh.value = play.value = null
    prints.value = null
    seeThrough.value = walls.value = false
    marks.value = []
  }
  function forget(): void {
    spread.value = 0
    opened.value = printing.value = states.value = differs.value = null
    plain()
  }
  return {
    spread,
    cutListOpen,
    sheet,
    cut,
    cutPlane,
    lookAt,
    flyTo,
    only,
    seeThrough,
    walls,
    others,
    play,
    marks,
    otherMesh,
    opened,
    printing,
    prints,
    onBatch,
    states,
    differs,
    plain,
    forget,
  }
})
