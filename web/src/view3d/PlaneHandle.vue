<script setup lang="ts">
/** The handle of a flat parting's plane: dragged along its normal, or moved by the arrow keys. */
import { useDebounceFn } from '@vueuse/core'
import { useDividing } from '@/stores/dividing'
import { planeOfFlat, type FlatParting } from './plane'

/** Where the handle stands on the screen, and the way along the normal there. */
export interface HandlePlace {
  x: number
  y: number
  dx: number
  dy: number
  perMm: number
}

const props = defineProps<{ place: HandlePlace; parting: FlatParting }>()
const emit = defineEmits<{ moved: [id: string, moved: number] }>()
const dividing = useDividing()

let grabbed: (HandlePlace & { id: string }) | null = null
function grab(event: PointerEvent): void {
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  grabbed = { ...props.place, x: event.clientX, y: event.clientY, id: props.parting.id }
}
function drag(event: PointerEvent): void {
  if (!grabbed) return
  const { x, y, dx, dy, perMm, id } = grabbed
  const moved = ((event.clientX - x) * dx + (event.clientY - y) * dy) / perMm
  setDraft(id, event.shiftKey ? Math.round(moved * 10) / 10 : Math.round(moved * 2) / 2)
}
function release(): void {
  if (!grabbed) return
  grabbed = null
  settle()
}
function setDraft(id: string, moved: number): void {
  const plane = planeOfFlat(props.parting)
  dividing.draft = {
    partingId: id,
    origin: plane.origin.toArray() as [number, number, number],
    normal: plane.n.toArray() as [number, number, number],
    moved,
  }
}
function settle(): void {
  const draft = dividing.draft
  if (draft && Math.abs(draft.moved) > 1e-6) emit('moved', draft.partingId, draft.moved)
  else dividing.draft = null
}
const soon = useDebounceFn(settle, 500)
function nudge(event: KeyboardEvent): void {
  const way = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key]
  if (!way) return
  event.preventDefault()
  setDraft(props.parting.id, (dividing.draft?.moved ?? 0) + way * (event.shiftKey ? 10 : 1))
  void soon()
}
</script>

<template>
  <div
    class="handle"
    role="slider"
    tabindex="0"
    data-test="plane-handle"
    :aria-label="`Move ${parting.id.toUpperCase()} along its normal`"
    :aria-valuenow="parting.at_mm + (dividing.draft?.moved ?? 0)"
    aria-valuemin="-100000"
    aria-valuemax="100000"
    :style="{ left: `${place.x}px`, top: `${place.y}px` }"
    @pointerdown.prevent="grab"
    @pointermove="drag"
    @pointerup="release"
    @pointercancel="release"
    @keydown="nudge"
  >
    <svg width="34" height="34" viewBox="-17 -17 34 34">
      <g :transform="`rotate(${(Math.atan2(place.dy, place.dx) * 180) / Math.PI})`">
        <circle r="7" fill="var(--sheet)" stroke="var(--cedar)" stroke-width="1.6" />
        <path
          d="M8 0h7m-3-3 3 3-3 3M-8 0h-7m3-3-3 3 3 3"
          fill="none"
          stroke="var(--cedar)"
          stroke-width="1.6"
        />
      </g>
    </svg>
  </div>
</template>

<style scoped>
.handle {
  position: absolute;
  width: 34px;
  height: 34px;
  margin: -17px 0 0 -17px;
  cursor: grab;
  touch-action: none;
}
.handle:active {
  cursor: grabbing;
}
</style>
