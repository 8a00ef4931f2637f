<script setup lang="ts">
/** The flat drawing of a mating face, true to scale: section, room for joints, joints that can be dragged. */
import { computed, ref, shallowRef, useTemplateRef, watch } from 'vue'
import type { JointView, Plan } from '@/api/client'
import { mm } from '@/api/format'
import { useLooking } from '@/stores/looking'
import { useProject } from '@/stores/project'
import { moved, nearestBetween, sideways, type Way } from './nearest'
import { snapped } from './snap'
import { useSheet } from './useSheet'

const project = useProject()
const looking = useLooking()
const sheet = useTemplateRef<HTMLDivElement>('sheet')
const drawing = useTemplateRef<SVGSVGElement>('drawing')
const dragging = shallowRef<{ joint: string; index: number; u: number; v: number } | null>(null)
const chosen = ref('')
const face = computed(() => project.faces.find((f) => f.id === looking.face) ?? null)
const joints = computed(() => project.joints.filter((j) => j.face === looking.face))
const { width, height, zoom, shift, mirrored, box, scale, X, Y, back, pathOf, square, grid, zoomAt, whole } =
  useSheet(sheet, face)
const section = computed(() => pathOf(face.value?.outline ?? []))
/** walls 6 mm further in, of the piece that lies behind the drawing */
const behind = computed(() => pathOf(face.value?.behind?.[mirrored.value ? 1 : 0] ?? []))
const room = computed(() => joints.value.map((j) => pathOf(j.room)).join(''))
/** what both pieces gain inside the hollow */
const collar = computed(() => joints.value.map((j) => pathOf(j.collar ?? [])).join(''))
const seenFrom = computed(() => (mirrored.value ? face.value?.a : face.value?.b))

type Outline = JointView['room']
interface Spot {
  key: string
  joint: JointView
  index: number
  letter: string
  /** the pole of a magnet that looks at the viewer */
  pole: string
  u: number
  v: number
  bad: boolean
  /** what it takes of the face, where it is now */
  shape: Outline
}
const spots = computed<Spot[]>(() =>
  joints.value.flatMap((joint) =>
    joint.places.map((place, index) => {
      const drawn = dragging.value
      const here = drawn?.joint === joint.id && drawn.index === index ? ([drawn.u, drawn.v] as const) : place
      const kind = `${joint.kind[0]!.toUpperCase()}${joint.kind.slice(1)}`
      const bad = joint.findings.some(
        (f) => f.severity === 'must-fix' && f.message.startsWith(`${kind} ${joint.letters[index]} `),
      )
      const [du, dv] = [here[0] - place[0], here[1] - place[1]]
      return {
        key: `${joint.id}-${index}`,
        joint,
        index,
        letter: joint.letters[index]!,
        pole: poleSeen(joint, index),
        u: here[0],
        v: here[1],
        bad,
        shape: moved((joint.shapes?.[index] ?? []) as never, du, dv) as unknown as Outline,
      }
    }),
  ),
)
/** Seen from B one looks at the magnets of A; from the other side at those of B, which turn the other pole. */
function poleSeen(joint: JointView, index: number): string {
  const pole = joint.poles?.[index]
  if (!pole) return ''
  return (pole === 'n') !== mirrored.value ? 'N' : 'S'
}
/** what follows the outline and has no place of its own */
const rims = computed(() => joints.value.filter((j) => j.places.length === 0 && j.shapes?.length))
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
    .filter((m) => m.face === looking.face && m.side === (mirrored.value ? 'b' : 'a'))
    .map((m) => pathOf(m.outline))
    .join(''),
)

/** Distances of the spot in hand: to the nearest edge of the face, and to the nearest other joint. */
const distances = computed<Way[]>(() => {
  const spot = spots.value.find((s) => s.key === chosen.value)
  if (!spot || !face.value) return []
  const edge = nearestBetween(spot.shape as never, face.value.outline as never)
  const others = [
    ...spots.value.filter((s) => s !== spot).map((s) => s.shape),
    ...rims.value.flatMap((r) => r.shapes ?? []),
  ]
  const near = others.flatMap((o) => nearestBetween(spot.shape as never, o as never) ?? [])
  near.sort((p, q) => p.long - q.long)
  const ways = [edge, near[0]].filter((w): w is Way => !!w && w.long > 0.01)
  // what runs out of the face touches its edge; then its sides count
  const runsOut = edge !== null && edge.long <= 0.01
  return runsOut
    ? [...ways, ...sideways(spot.shape as never, face.value.outline as never, [spot.u, spot.v])]
    : ways
})

let grabbed: { joint: string; index: number } | null = null
let panned: { x: number; y: number } | null = null
function grab(event: PointerEvent, spot: Spot): void {
  chosen.value = spot.key
  if (!project.upToDate) return
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  grabbed = { joint: spot.joint.id, index: spot.index }
}
function drag(event: PointerEvent): void {
  const b = box.value
  if (!grabbed || !b || !drawing.value) return
  const rect = drawing.value.getBoundingClientRect()
  const [u, v] = back(event.clientX - rect.left, event.clientY - rect.top)
  const others = spots.value.filter((s) => !(s.joint.id === grabbed!.joint && s.index === grabbed!.index))
  const [su, sv] = event.shiftKey ? [u, v] : snapped(u, v, b, others, 7 / scale.value)
  dragging.value = { ...grabbed, u: Math.round(su * 100) / 100, v: Math.round(sv * 100) / 100 }
}
function release(): void {
  grabbed = null
  const drawn = dragging.value
  if (drawn) void place(drawn.joint, drawn.index, drawn.u, drawn.v)
}
async function place(jointId: string, index: number, u: number, v: number): Promise<void> {
  const view = joints.value.find((j) => j.id === jointId)
  if (!view) return
  const places = view.places.map((p, i) => (i === index ? [u, v] : p)) as [number, number][]
  const what = `Moved ${view.kind} ${view.letters[index]} on ${view.face_label}`
  const kept = await project.edit(what, (plan: Plan) => {
    plan.joints = plan.joints?.map((j) => (j.id === jointId ? { ...j, places } : j))
  })
  if (!kept) dragging.value = null
}
let typing = 0
function nudge(event: KeyboardEvent, spot: Spot): void {
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key]
  if (!way) return
  event.preventDefault()
  const by = event.shiftKey ? 5 : 0.5
  const right = mirrored.value ? -way[0]! : way[0]!
  dragging.value = {
    joint: spot.joint.id,
    index: spot.index,
    u: spot.u + right * by,
    v: spot.v + way[1]! * by,
  }
  window.clearTimeout(typing)
  typing = window.setTimeout(release, 500)
}
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
// what was dragged stays where it was put until the build with it is there
watch([() => project.build, () => looking.face], () => (dragging.value = null))
watch(
  () => looking.face,
  () => (chosen.value = ''),
)

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
    text: `${joint.label}: ${joint.clearance_mm.toFixed(2)} each side${deep}`,
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
            <rect width="9" height="9" fill="#f0e0c2" />
            <line x1="0" y1="0" x2="0" y2="9" stroke="#c5a877" stroke-width="1.2" />
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
            <path d="M0 1 10 4 0 7z" fill="#2b2521" />
          </marker>
        </defs>
        <g stroke="#ece4d4">
          <line v-for="x in grid.xs" :key="`x${x}`" :x1="X(x)" y1="0" :x2="X(x)" :y2="height" />
          <line v-for="y in grid.ys" :key="`y${y}`" x1="0" :y1="Y(y)" :x2="width" :y2="Y(y)" />
        </g>
        <path
          :d="section"
          fill="url(#hatch)"
          fill-rule="evenodd"
          stroke="#2b2521"
          stroke-width="1.8"
          stroke-linejoin="round"
        />
        <path :d="collar" class="collar" data-test="collar" />
        <path :d="behind" class="behind" />
        <path v-for="j in rims" :key="j.id" :d="(j.shapes ?? []).map(pathOf).join('')" class="rim" />
        <path :d="letters" class="letters" data-test="letters" />
        <path :d="cuts" class="cut" />
        <path :d="room" class="room" fill="none" stroke="#4f6839" stroke-width="1.3" stroke-dasharray="6 4" />
        <g stroke="#9a4a2b" stroke-width="1" stroke-dasharray="16 4 3 4">
          <line :x1="X(box.x0) - 26" :y1="Y(box.cy)" :x2="X(box.x1) + 26" :y2="Y(box.cy)" />
          <line :x1="X(box.cx)" :y1="Y(box.y1) - 26" :x2="X(box.cx)" :y2="Y(box.y0) + 26" />
        </g>
        <g stroke="#2b2521" stroke-width="1">
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
        <g v-if="calloutOf">
          <line
            :x1="calloutOf.x"
            :y1="calloutOf.y"
            x2="150"
            :y2="height - 22"
            stroke="#2b2521"
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
            {{ way.long.toFixed(2) }}
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
  fill: #fff;
  fill-opacity: 0.85;
  stroke: var(--ink);
  stroke-width: 2;
}
.spot.bad path {
  stroke: var(--vermilion);
  stroke-width: 3;
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
