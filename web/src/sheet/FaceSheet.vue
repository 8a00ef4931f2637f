<script setup lang="ts">
/** The flat drawing of a mating face, true to scale: section, room for joints, joints that can be dragged. */
import { computed, useTemplateRef } from 'vue'
import { fixed, mm } from '@/api/format'
import { useSelection } from '@/stores/selection'
import { useProject } from '@/stores/project'
import { usePlacing } from './usePlacing'
import { useSheet } from './useSheet'
import { useSpots } from './useSpots'

const project = useProject()
const selection = useSelection()
const sheet = useTemplateRef<HTMLDivElement>('sheet')
const drawing = useTemplateRef<SVGSVGElement>('drawing')
const face = computed(() => project.faces.find((f) => f.id === selection.face) ?? null)
const joints = computed(() => project.joints.filter((j) => j.face === selection.face))
const { width, height, zoom, shift, mirrored, box, scale, X, Y, back, pathOf, square, grid, zoomAt, whole } =
  useSheet(sheet, face)
const section = computed(() => pathOf(face.value?.outline ?? []))
/** walls 6 mm further in, of the piece that lies behind the drawing */
const behind = computed(() => pathOf(face.value?.behind?.[mirrored.value ? 1 : 0] ?? []))
const room = computed(() => joints.value.map((j) => pathOf(j.room)).join(''))
/** where the letters of a bore stand: off the centre lines */
function middleOf(ring: readonly (readonly number[])[]): { x: number; y: number } {
  const mean = (k: 0 | 1) => ring.reduce((sum, p) => sum + p[k]!, 0) / ring.length
  return { x: X(mean(0)) + 16, y: Y(mean(1)) - 8 }
}
/** what both pieces gain inside the hollow */
const collar = computed(() => joints.value.map((j) => pathOf(j.collar ?? [])).join(''))
const seenFrom = computed(() => (mirrored.value ? face.value?.a : face.value?.b))

const { spots, rims, distances, dragging, chosen } = useSpots(joints, face, mirrored)
const { grab, drag, release, nudge } = usePlacing({
  spots,
  joints,
  dragging,
  chosen,
  mirrored,
  where: (event) => {
    const rect = drawing.value?.getBoundingClientRect()
    return rect ? back(event.clientX - rect.left, event.clientY - rect.top) : null
  },
  box,
  scale,
})
const cuts = computed(() =>
  dragging.value
    ? ''
    : joints.value
        .flatMap((j) => j.cut_shapes ?? [])
        .map(pathOf)
        .join(''),
)

/** letters on the piece that is looked at */
const letters = computed(() =>
  (project.build?.mating_marks ?? [])
    .filter((m) => m.face === selection.face && m.side === (mirrored.value ? 'b' : 'a'))
    .map((m) => pathOf(m.outline))
    .join(''),
)

let panned: { x: number; y: number } | null = null
function wheel(event: WheelEvent): void {
  const rect = drawing.value!.getBoundingClientRect()
  zoomAt(event.clientX - rect.left, event.clientY - rect.top, Math.exp(-event.deltaY / 500))
}
function pan(event: PointerEvent): void {
  if (event.type === 'pointerdown')
    panned = { x: event.clientX - shift.value.x, y: event.clientY - shift.value.y }
  else if (panned && event.buttons) shift.value = { x: event.clientX - panned.x, y: event.clientY - panned.y }
  else panned = null
}
const calloutOf = computed(() => {
  const spot =
    spots.value.find((s) => s.key === chosen.value) ?? spots.value.find((s) => s.bad) ?? spots.value[0]
  const joint = spot?.joint ?? rims.value[0]
  if (!joint) return null
  const deep = joint.deep_mm ? `, ${mm(joint.deep_mm)} deep` : ''
  const at = rims.value[0]?.shapes?.[0]?.[0]?.[0]?.[0] ?? [0, 0]
  return {
    x: spot ? X(spot.u) : X(at[0]),
    y: spot ? Y(spot.v) : Y(at[1]),
    text: `${joint.label}: ${fixed(joint.clearance_mm, 2)} each side${deep}`,
    bad: spot?.bad ?? false,
  }
})
</script>

<template>
  <section class="sheet-frame" aria-label="Drawing of the mating face">
    <header v-if="face">
      <b>Face {{ face.label }}</b>
      <span class="soft">seen from piece {{ seenFrom }}, which is taken off</span>
      <span class="gap"></span>
      <span class="soft">1 square = {{ square }} mm</span>
    </header>
    <header v-else class="soft">No mating face is chosen.</header>
    <div ref="sheet" class="paper">
      <svg
        v-if="face && box"
        ref="drawing"
        :width="width"
        :height="height"
        data-test="face-sheet"
        @wheel.prevent="wheel"
        @pointerdown.self="pan"
        @pointermove.self="pan"
        @pointerup.self="pan"
      >
        <defs>
          <pattern
            id="hatch"
            width="9"
            height="9"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <rect width="9" height="9" fill="var(--section)" />
            <line x1="0" y1="0" x2="0" y2="9" stroke="var(--hatch)" stroke-width="1.2" />
          </pattern>
          <marker
            id="head"
            markerWidth="10"
            markerHeight="8"
            refX="9.5"
            refY="4"
            orient="auto-start-reverse"
            markerUnits="userSpaceOnUse"
          >
            <path d="M0 1 10 4 0 7z" fill="var(--ink)" />
          </marker>
        </defs>
        <g stroke="var(--grid)">
          <line v-for="x in grid.xs" :key="`x${x}`" :x1="X(x)" y1="0" :x2="X(x)" :y2="height" />
          <line v-for="y in grid.ys" :key="`y${y}`" x1="0" :y1="Y(y)" :x2="width" :y2="Y(y)" />
        </g>
        <path
          :d="section"
          fill="url(#hatch)"
          fill-rule="evenodd"
          stroke="var(--ink)"
          stroke-width="1.8"
          stroke-linejoin="round"
        />
        <path :d="collar" class="collar" data-test="collar" />
        <path :d="behind" class="behind" />
        <g v-for="b in face.bores ?? []" :key="b.way" class="bore" data-test="bore-drawn">
          <path :d="pathOf(b.outline)" />
          <text v-if="b.outline[0]?.[0]" v-bind="middleOf(b.outline[0][0])">{{ b.way.toUpperCase() }}</text>
          <title>{{ b.label }}</title>
        </g>
        <path v-for="j in rims" :key="j.id" :d="(j.shapes ?? []).map(pathOf).join('')" class="rim" />
        <path :d="letters" class="letters" data-test="letters" />
        <path :d="cuts" class="cut" />
        <path
          :d="room"
          class="room"
          fill="none"
          stroke="var(--moss)"
          stroke-width="1.3"
          stroke-dasharray="6 4"
        />
        <g stroke="var(--cedar)" stroke-width="1" stroke-dasharray="16 4 3 4">
          <line :x1="X(box.x0) - 26" :y1="Y(box.cy)" :x2="X(box.x1) + 26" :y2="Y(box.cy)" />
          <line :x1="X(box.cx)" :y1="Y(box.y1) - 26" :x2="X(box.cx)" :y2="Y(box.y0) + 26" />
        </g>
        <g stroke="var(--ink)" stroke-width="1">
          <line :x1="X(box.x0)" :y1="Y(box.y1) - 4" :x2="X(box.x0)" :y2="Y(box.y1) - 46" />
          <line :x1="X(box.x1)" :y1="Y(box.y1) - 4" :x2="X(box.x1)" :y2="Y(box.y1) - 46" />
          <line
            :x1="X(box.x0)"
            :y1="Y(box.y1) - 40"
            :x2="X(box.x1)"
            :y2="Y(box.y1) - 40"
            marker-start="url(#head)"
            marker-end="url(#head)"
          />
          <line :x1="X(box.x0) - 4" :y1="Y(box.y0)" :x2="X(box.x0) - 46" :y2="Y(box.y0)" />
          <line :x1="X(box.x0) - 4" :y1="Y(box.y1)" :x2="X(box.x0) - 46" :y2="Y(box.y1)" />
          <line
            :x1="X(box.x0) - 40"
            :y1="Y(box.y0)"
            :x2="X(box.x0) - 40"
            :y2="Y(box.y1)"
            marker-start="url(#head)"
            marker-end="url(#head)"
          />
        </g>
        <text class="dim" :x="X(box.cx) + 40" :y="Y(box.y1) - 40">{{ mm(box.w) }}</text>
        <text class="dim" :transform="`translate(${X(box.x0) - 40} ${Y(box.cy) + 40}) rotate(-90)`">
          {{ mm(box.h) }}
        </text>
        <g v-for="(m, k) in face?.poles ?? []" :key="`m${k}`" class="module" data-test="module-drawn">
          <circle :cx="X(m[0])" :cy="Y(m[1])" :r="Math.abs(X(m[2]) - X(0))" />
          <text :x="X(m[0])" :y="Y(m[1]) + 5" class="pole">
            {{ (m[3] === 'n') !== mirrored ? 'N' : 'S' }}
          </text>
        </g>
        <g v-if="calloutOf">
          <line
            :x1="calloutOf.x"
            :y1="calloutOf.y"
            x2="150"
            :y2="height - 22"
            stroke="var(--ink)"
            stroke-width="0.9"
          />
          <text x="14" :y="height - 12" class="call" :class="{ bad: calloutOf.bad }">
            {{ calloutOf.text }}
          </text>
        </g>
        <g
          v-for="s in spots"
          :key="s.key"
          class="spot"
          :class="{ bad: s.bad }"
          role="button"
          tabindex="0"
          data-test="spot"
          :aria-label="`${s.joint.kind} ${s.letter} at ${mm(s.u)}, ${mm(s.v)}`"
          @focus="chosen = s.key"
          @pointerdown.prevent="grab($event, s)"
          @pointermove="drag"
          @pointerup="release"
          @pointercancel="release"
          @keydown="nudge($event, s)"
        >
          <circle :cx="X(s.u)" :cy="Y(s.v)" r="14" class="hold" />
          <path :d="pathOf(s.shape)" />
          <text :x="X(s.u) - 12" :y="Y(s.v) - 12">{{ s.letter }}</text>
          <text v-if="s.pole" :x="X(s.u)" :y="Y(s.v) + 5" class="pole" data-test="pole-drawn">
            {{ s.pole }}
          </text>
        </g>
        <g v-for="(way, k) in distances" :key="`way${k}`" class="way" data-test="distance">
          <line :x1="X(way.from[0])" :y1="Y(way.from[1])" :x2="X(way.to[0])" :y2="Y(way.to[1])" />
          <text :x="(X(way.from[0]) + X(way.to[0])) / 2" :y="(Y(way.from[1]) + Y(way.to[1])) / 2 - 5">
            {{ fixed(way.long, 2) }}
          </text>
        </g>
      </svg>
      <p v-else class="soft empty">Part the model at Divide; its mating faces are drawn here.</p>
      <p v-if="dragging" class="at">{{ mm(dragging.u) }}, {{ mm(dragging.v) }} mm</p>
    </div>
    <div v-if="face" class="tools" role="group" aria-label="The drawing">
      <button class="chip" data-test="mirror-sheet" @click="mirrored = !mirrored">
        From piece {{ mirrored ? face.b : face.a }}
      </button>
      <button class="chip" aria-label="Larger" @click="zoomAt(width / 2, height / 2, 1.5)">+</button>
      <button class="chip" aria-label="Smaller" @click="zoomAt(width / 2, height / 2, 1 / 1.5)">−</button>
      <button v-if="zoom > 1" class="chip" @click="whole">Whole</button>
    </div>
    <footer>
      <span><i class="dash"></i> room for joints</span>
      <span><i class="line"></i> cut beneath</span>
      <span><i class="dots"></i> 6 mm behind</span>
      <span class="gap"></span>
      <span class="soft">Drag, or arrow keys; Shift: freely, large steps</span>
    </footer>
  </section>
</template>

<style scoped>
.sheet-frame {
  position: relative;
  display: grid;
  grid-template-rows: 38px minmax(0, 1fr) 32px;
  background: var(--sheet);
  border-right: 1px solid var(--line);
  min-width: 0;
  min-height: 0;
}
header,
footer {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 0 14px;
  white-space: nowrap;
  overflow: hidden;
}
header {
  border-bottom: 1px solid var(--line);
}
footer {
  border-top: 1px solid var(--line);
  font-size: 12px;
}
.gap {
  flex: 1;
}
.paper {
  position: relative;
  overflow: hidden;
  min-height: 0;
}
svg {
  position: absolute;
  inset: 0;
  touch-action: none;
}
.dim {
  font-size: 13px;
  text-anchor: middle;
  dominant-baseline: middle;
  stroke: var(--sheet);
  stroke-width: 7px;
  paint-order: stroke;
}
.call {
  font-size: 12.5px;
  stroke: var(--sheet);
  stroke-width: 5px;
  paint-order: stroke;
}
.call.bad {
  fill: var(--vermilion);
}
.spot {
  cursor: grab;
}
.spot path {
  fill: var(--drawing);
  fill-opacity: 0.85;
  stroke: var(--ink);
  stroke-width: 2;
}
.spot.bad path {
  stroke: var(--vermilion);
  stroke-width: 3;
}
.module circle {
  fill: var(--drawing);
  fill-opacity: 0.85;
  stroke: var(--ink);
  stroke-width: 1.5;
}
.hold {
  fill: transparent;
}
.rim {
  fill: var(--indigo);
  fill-opacity: 0.16;
  stroke: var(--indigo);
  stroke-width: 1.6;
  fill-rule: evenodd;
}
.cut {
  fill: none;
  stroke: var(--cedar);
  stroke-width: 1;
}
.collar {
  fill: url(#hatch);
  fill-opacity: 0.55;
  fill-rule: evenodd;
  stroke: var(--ink-soft);
  stroke-width: 1.2;
}
.letters {
  fill: var(--ink-soft);
  fill-rule: evenodd;
  pointer-events: none;
}
.bore path {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.3;
}
.bore text {
  font-size: 12px;
  text-anchor: middle;
  fill: var(--steel);
}
.behind {
  fill: none;
  stroke: var(--ink-soft);
  stroke-width: 1;
  stroke-dasharray: 2 4;
}
.way line {
  stroke: var(--indigo);
  stroke-width: 1.2;
}
.way text {
  font-size: 12px;
  fill: var(--indigo);
  text-anchor: middle;
  stroke: var(--sheet);
  stroke-width: 4px;
  paint-order: stroke;
}
.tools {
  position: absolute;
  right: 10px;
  top: 46px;
  display: flex;
  gap: 5px;
}
.module text.pole,
.spot text.pole {
  font-size: 15px;
  font-weight: 700;
  text-anchor: middle;
  stroke: none;
}
.spot text {
  font-size: 12px;
  stroke: var(--section);
  stroke-width: 3px;
  paint-order: stroke;
}
.at {
  position: absolute;
  right: 12px;
  bottom: 4px;
  background: var(--sheet);
  padding: 2px 6px;
}
.empty {
  padding: 20px;
}
.dash,
.line,
.dots {
  display: inline-block;
  width: 22px;
  height: 0;
  border-top: 2px dashed var(--moss);
  vertical-align: middle;
}
.line {
  border-top: 1px solid var(--cedar);
}
.dots {
  border-top: 1px dotted var(--ink-soft);
}
</style>
