<script setup lang="ts">
/** All beds from above, true to one scale, with what lies on them; things are dragged on a bed and from bed to bed. */
import { computed, ref, useTemplateRef } from 'vue'
import { colourOf, duration, fixed } from '@/api/format'
import { useBatching, type Batch, type Thing } from '@/stores/batching'
import { useSelection } from '@/stores/selection'
import { useWorkshop } from '@/stores/workshop'

const batching = useBatching()
const selection = useSelection()
const workshop = useWorkshop()
const money = computed(() => workshop.currency)
const box = useTemplateRef<HTMLDivElement>('box')
const batches = computed(() => batching.batches?.batches ?? [])
const widest = computed(() => Math.max(1, ...batches.value.map((b) => b.bed_mm[0])))
const ROOM = 6

const view = (b: Batch) =>
  `${-b.bed_mm[0] / 2 - ROOM} ${-b.bed_mm[1] / 2 - ROOM} ${b.bed_mm[0] + 2 * ROOM} ${b.bed_mm[1] + 2 * ROOM}`
const path = (parts: number[][][][]) =>
  parts
    .flat()
    .map((ring) => `M${ring.map(([x, y]) => `${x} ${-y!}`).join('L')}z`)
    .join('')
function grid(b: Batch): string {
  const [x, y] = b.bed_mm.map((v) => v / 2) as [number, number]
  const lines: string[] = []
  for (let at = -Math.floor(x / 20) * 20; at < x; at += 20) lines.push(`M${at} ${-y}V${y}`)
  for (let at = -Math.floor(y / 20) * 20; at < y; at += 20) lines.push(`M${-x} ${at}H${x}`)
  return lines.join('')
}
const radius = computed(() => widest.value / 34)

/** the thing under way with the pointer, and by how much it was moved, in mm */
const held = ref<{ key: string; dx: number; dy: number; moved: boolean } | null>(null)
let from = { x: 0, y: 0, scale: 1 }

function grab(event: PointerEvent, thing: Thing): void {
  if (event.button !== 0) return
  choose(thing)
  const drawing = (event.currentTarget as SVGGElement).ownerSVGElement!
  from = { x: event.clientX, y: event.clientY, scale: 1 / drawing.getScreenCTM()!.a }
  held.value = { key: thing.key, dx: 0, dy: 0, moved: false }
  ;(event.currentTarget as SVGGElement).setPointerCapture(event.pointerId)
}
function drag(event: PointerEvent): void {
  const now = held.value
  if (!now) return
  const [px, py] = [event.clientX - from.x, event.clientY - from.y]
  if (!now.moved && Math.hypot(px, py) < 4) return
  held.value = { ...now, dx: px * from.scale, dy: py * from.scale, moved: true }
}
/** Let go: on its own bed, on another one, or on the empty one. */
function drop(event: PointerEvent, batch: Batch, thing: Thing): void {
  const now = held.value
  held.value = null
  if (!now?.moved) return
  const under = document
    .elementsFromPoint(event.clientX, event.clientY)
    .map((e) => e.closest<SVGSVGElement>('svg[data-bed]'))
    .find((e) => e)
  if (!under) return
  const other = batches.value.find((b) => b.number === Number(under.dataset['batch']))
  if (other && other.group !== batch.group) return
  const bed = Number(under.dataset['bed'])
  const [mine, theirs] = [drawingOf(batch).getScreenCTM()!, under.getScreenCTM()!]
  const x = (mine.e + (thing.x_mm + now.dx) * mine.a - theirs.e) / theirs.a
  const y = -(mine.f + (-thing.y_mm + now.dy) * mine.d - theirs.f) / theirs.d
  const round = (v: number) => Math.round(v * 10) / 10
  void batching.move(thing.key, bed, { x: round(x), y: round(y) }, thing.turn_deg)
}
const drawingOf = (b: Batch) => box.value!.querySelector<SVGSVGElement>(`svg[data-batch="${b.number}"]`)!

function choose(thing: Thing): void {
  batching.chosen = thing.key
  if (thing.pieces.length) selection.piece = thing.pieces[0]!
}
/** how a thing is moved from where it is drawn, while it is dragged or waits for its new place */
function shift(thing: Thing): string | undefined {
  const now = held.value
  if (now?.key === thing.key && now.moved) return `translate(${now.dx} ${now.dy})`
  const wanted = batching.wanted
  if (wanted?.key !== thing.key) return undefined
  const turn = thing.turn_deg - wanted.turn
  return `translate(${wanted.x - thing.x_mm} ${thing.y_mm - wanted.y}) rotate(${turn} ${thing.x_mm} ${-thing.y_mm})`
}
/** the bed after the last one of the group that the chosen thing is of */
const fresh = computed(() => {
  const group = batching.thing?.batch.group ?? batches.value[0]?.group
  const own = batches.value.filter((b) => b.group === group)
  return own.length ? { bed: Math.max(...own.map((b) => b.bed)) + 1, like: own[0]! } : null
})
const share = (b: Batch) => `${(b.bed_mm[0] / widest.value) * 100}%`
</script>

<template>
  <div ref="box" class="beds" data-test="beds" :class="{ dragging: held?.moved }">
    <section v-for="b in batches" :key="b.number" class="bed" data-test="batch">
      <h3>
        <b>Batch {{ b.number }}</b>
        <i :style="{ background: b.colour }" :title="b.material"></i>
        <small>{{ b.printer }}, {{ b.material }}{{ b.layers ? `, ${b.layers} layers` : '' }}</small>
        <button
          class="chip"
          :aria-pressed="batching.inSpace === b.number"
          data-test="in-space"
          @click="batching.inSpace = b.number"
        >
          In 3-D
        </button>
      </h3>
      <svg
        :viewBox="view(b)"
        :style="{ width: share(b) }"
        :data-bed="b.bed"
        :data-batch="b.number"
        role="group"
        :aria-label="`The bed of batch ${b.number} from above`"
      >
        <circle v-if="b.round_bed" class="plate" :r="b.bed_mm[0] / 2" />
        <rect
          v-else
          class="plate"
          :x="-b.bed_mm[0] / 2"
          :y="-b.bed_mm[1] / 2"
          :width="b.bed_mm[0]"
          :height="b.bed_mm[1]"
        />
        <path v-if="!b.round_bed" class="grid" :d="grid(b)" />
        <path class="room" :d="path(b.room)" />
        <g
          v-for="t in b.things"
          :key="t.key"
          class="thing"
          :class="{ on: t.key === batching.chosen, held: t.key === held?.key }"
          :transform="shift(t)"
          tabindex="0"
          role="button"
          :aria-label="`${t.name}, ${Math.round(t.took.mass_g)} g`"
          data-test="laid"
          :data-key="t.key"
          @pointerdown="grab($event, t)"
          @pointermove="drag"
          @pointerup="drop($event, b, t)"
          @pointercancel="held = null"
          @keydown.enter="choose(t)"
          @focus="choose(t)"
        >
          <title>{{ t.name }}, {{ Math.round(t.took.mass_g) }} g</title>
          <path :d="path(t.outline)" :fill="colourOf(t.pieces)" />
          <template v-if="t.pieces.length">
            <circle class="ball" :cx="t.x_mm" :cy="-t.y_mm" :r="radius" />
            <text :x="t.x_mm" :y="-t.y_mm + radius * 0.4" :font-size="radius * 1.15">
              {{ t.pieces.join('+') }}
            </text>
          </template>
          <path
            v-if="t.pinned"
            class="pin"
            :d="`M${t.x_mm + radius * 1.2} ${-t.y_mm - radius * 1.9}v${radius * 1.1}m${-radius * 0.45} 0h${radius * 0.9}`"
          />
        </g>
      </svg>
      <p>
        {{ duration(b.took.minutes_low) }} to {{ duration(b.took.minutes_high) }} ·
        {{ Math.round(b.took.mass_g) }} g<template v-if="b.took.support_g >= 1">
          ({{ Math.round(b.took.support_g) }} support)</template
        ><template v-if="b.took.filament_m"> · {{ fixed(b.took.filament_m, 0) }} m</template> ·
        {{ fixed(b.took.kwh, 1) }} kWh · {{ money }} {{ fixed(b.took.cost, 2) }} ·
        {{ fixed(b.height_mm, 0) }} mm high
      </p>
    </section>
    <section v-if="fresh && batching.chosen" class="bed empty">
      <h3><small>drop here for a batch of its own</small></h3>
      <svg
        :viewBox="view(fresh.like)"
        :style="{ width: share(fresh.like) }"
        :data-bed="fresh.bed"
        data-batch="0"
      >
        <rect
          class="plate"
          :x="-fresh.like.bed_mm[0] / 2"
          :y="-fresh.like.bed_mm[1] / 2"
          :width="fresh.like.bed_mm[0]"
          :height="fresh.like.bed_mm[1]"
        />
      </svg>
    </section>
    <p v-if="!batches.length && !batching.busy" class="none">Nothing is laid out.</p>
  </div>
</template>

<style scoped>
.beds {
  position: absolute;
  inset: 0;
  overflow: auto;
  padding: 14px 16px;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(270px, 1fr));
  align-content: start;
  gap: 14px 18px;
  background: var(--view);
}
.beds.dragging {
  cursor: grabbing;
  user-select: none;
}
h3 {
  display: flex;
  align-items: center;
  gap: 7px;
  font-size: 13px;
  font-weight: 400;
  margin: 0 0 4px;
}
h3 small {
  color: var(--ink-soft);
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
h3 i {
  width: 11px;
  height: 11px;
  border: 1px solid var(--ink);
}
svg {
  display: block;
  overflow: visible;
}
.bed:has(.held) {
  position: relative;
  z-index: 2;
}
.bed p {
  margin: 4px 0 0;
  font-size: 12px;
  color: var(--ink-soft);
}
.plate {
  fill: var(--wood);
  stroke: var(--ink);
  stroke-width: 0.8;
}
.grid {
  stroke: var(--line);
  stroke-width: 0.4;
  fill: none;
}
.room {
  fill: none;
  stroke: var(--cedar);
  stroke-width: 0.5;
  stroke-dasharray: 3 2;
}
.thing {
  cursor: grab;
  outline: none;
}
.thing.held {
  pointer-events: none;
  opacity: 0.8;
}
.thing path:first-of-type {
  fill-rule: evenodd;
  fill-opacity: 0.88;
  stroke: var(--ink);
  stroke-width: 0.6;
}
.thing.on path:first-of-type {
  stroke: var(--cedar);
  stroke-width: 2;
}
.thing:focus-visible path:first-of-type {
  stroke: var(--indigo);
  stroke-width: 2;
}
.pin {
  fill: none;
  stroke: var(--cedar);
  stroke-width: 1.6;
}
.ball {
  fill: var(--on-wood);
  stroke: var(--ink);
  stroke-width: 0.6;
}
text {
  text-anchor: middle;
  pointer-events: none;
}
.empty .plate {
  fill: none;
  stroke: var(--line-strong);
  stroke-dasharray: 4 3;
}
.none {
  color: var(--ink-soft);
}
</style>
