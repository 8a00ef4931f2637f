<script setup lang="ts">
/** A handle on a parting: dragged along one way or in a plane, or moved by the arrow keys in small and large steps. */
import { useDebounceFn } from '@vueuse/core'
import type { Vector2 } from 'three'
import type { Handle } from '@/stations/divide/handles'

/** Where a handle stands on the screen, and where a millimetre along its ways leads there. */
export interface PointPlace {
  handle: Handle
  x: number
  y: number
  u: Vector2
  v: Vector2 | null
}

const props = defineProps<{ place: PointPlace }>()
const emit = defineEmits<{ drag: [handle: Handle, u: number, v: number]; settle: [] }>()

let grabbed: (PointPlace & { px: number; py: number }) | null = null
function grab(event: PointerEvent): void {
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  grabbed = { ...props.place, px: event.clientX, py: event.clientY }
}
function drag(event: PointerEvent): void {
  if (!grabbed) return
  const [x, y] = [event.clientX - grabbed.px, event.clientY - grabbed.py]
  const { u, v, handle } = grabbed
  const step = event.shiftKey ? 10 : 2
  const rounded = (mm: number) => Math.round(mm * step) / step
  if (!v) {
    emit('drag', handle, rounded((x * u.x + y * u.y) / Math.max(1e-9, u.lengthSq())), 0)
    return
  }
  const area = u.x * v.y - u.y * v.x
  if (Math.abs(area) < 1e-4) return // seen from the side it cannot be dragged
  emit('drag', handle, rounded((x * v.y - y * v.x) / area), rounded((u.x * y - u.y * x) / area))
}
function release(): void {
  if (!grabbed) return
  grabbed = null
  emit('settle')
}

let typed: { handle: Handle; u: number; v: number } | null = null
const soon = useDebounceFn(() => {
  typed = null
  emit('settle')
}, 500)
function nudge(event: KeyboardEvent): void {
  const way = { ArrowUp: [0, 1], ArrowDown: [0, -1], ArrowRight: [1, 0], ArrowLeft: [-1, 0] }[event.key]
  if (!way) return
  event.preventDefault()
  const by = event.shiftKey ? 10 : 1
  typed ??= { handle: props.place.handle, u: 0, v: 0 }
  if (props.place.v) {
    typed.u += way[0]! * by
    typed.v += way[1]! * by
  } else typed.u += (way[0]! + way[1]!) * by
  emit('drag', typed.handle, typed.u, typed.v)
  void soon()
}
</script>

<template>
  <div
    class="handle"
    role="slider"
    tabindex="0"
    :data-test="`handle-${place.handle.id}`"
    :aria-label="`Move: ${place.handle.label}`"
    aria-valuenow="0"
    :style="{ left: `${place.x}px`, top: `${place.y}px` }"
    @pointerdown.prevent="grab"
    @pointermove="drag"
    @pointerup="release"
    @pointercancel="release"
    @keydown="nudge"
  ></div>
</template>

<style scoped>
.handle {
  position: absolute;
  width: 15px;
  height: 15px;
  margin: -7.5px 0 0 -7.5px;
  border: 1.6px solid var(--cedar);
  border-radius: 50%;
  background: var(--sheet);
  cursor: grab;
  touch-action: none;
}
.handle:active {
  cursor: grabbing;
}
</style>
