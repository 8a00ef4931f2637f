<script setup lang="ts">
/** The flat drawing of a mating face, true to scale: section, room for joints, joints that can be dragged. */
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import type { JointView, Plan } from '@/api/client'
import { mm } from '@/api/format'
import { useLooking } from '@/stores/looking'
import { useProject } from '@/stores/project'
import { snapped } from './snap'

const project = useProject()
const looking = useLooking()
const sheet = useTemplateRef<HTMLDivElement>('sheet')
const drawing = useTemplateRef<SVGSVGElement>('drawing')
const width = ref(600)
const height = ref(500)
const dragging = shallowRef<{ joint: string; index: number; u: number; v: number } | null>(null)
const face = computed(() => project.faces.find((f) => f.id === looking.face) ?? null)
const joints = computed(() => project.joints.filter((j) => j.face === looking.face))
const planJoint = (id: string) => project.plan?.joints?.find((j) => j.id === id)

const box = computed(() => {
  const points = face.value?.outline.flat(2) ?? []
  if (points.length === 0) return null
  let [x0, x1, y0, y1] = [Infinity, -Infinity, Infinity, -Infinity]
  for (const [x, y] of points as [number, number][]) {
    x0 = Math.min(x0, x)
    x1 = Math.max(x1, x)
    y0 = Math.min(y0, y)
    y1 = Math.max(y1, y)
  }
  return { x0, x1, y0, y1, cx: (x0 + x1) / 2, cy: (y0 + y1) / 2, w: x1 - x0, h: y1 - y0 }
})
/** pixels for a millimetre */
const scale = computed(() => {
  const b = box.value
  return b ? Math.min((width.value - 150) / b.w, (height.value - 130) / b.h) : 1
})
const X = (u: number) => width.value / 2 + 14 + (u - (box.value?.cx ?? 0)) * scale.value
const Y = (v: number) => height.value / 2 + 18 - (v - (box.value?.cy ?? 0)) * scale.value
const pathOf = (outline: readonly (readonly (readonly (readonly number[])[])[])[]) =>
  outline
    .flat()
    .map((ring) => `M${ring.map((p) => `${X(p[0]!).toFixed(1)} ${Y(p[1]!).toFixed(1)}`).join('L')}Z`)
    .join('')
const section = computed(() => pathOf(face.value?.outline ?? []))
const room = computed(() => joints.value.map((j) => pathOf(j.room)).join(''))
const square = computed(() => {
  const wanted = 26 / scale.value
  return [0.5, 1, 2, 5, 10, 20, 50, 100].find((s) => s >= wanted) ?? 100
})
const grid = computed(() => {
  const b = box.value
  if (!b) return { xs: [], ys: [] }
  const s = square.value
  const range = (low: number, high: number) => {
    const out: number[] = []
    for (let k = Math.ceil(low / s); k * s <= high; k++) out.push(k * s)
    return out
  }
  const halfW = width.value / 2 / scale.value + 20
  const halfH = height.value / 2 / scale.value + 20
  return { xs: range(b.cx - halfW, b.cx + halfW), ys: range(b.cy - halfH, b.cy + halfH) }
})

interface Spot {
  joint: JointView
  index: number
  letter: string
  u: number
  v: number
  bad: boolean
}
const spots = computed<Spot[]>(() =>
  joints.value.flatMap((joint) =>
    joint.places.map((place, index) => {
      const moved = dragging.value
      const here = moved?.joint === joint.id && moved.index === index ? ([moved.u, moved.v] as const) : place
      const name = `${joint.kind[0]!.toUpperCase()}${joint.kind.slice(1)} ${joint.letters[index]} `
      const bad = joint.findings.some((f) => f.severity === 'must-fix' && f.message.startsWith(name))
      return { joint, index, letter: joint.letters[index]!, u: here[0], v: here[1], bad }
    }),
  ),
)
const measure = (joint: JointView) => {
  const plan = planJoint(joint.id)
  return { half: (plan?.diameter_mm ?? 2) / 2, square: plan?.shape === 'square', bore: joint.bore_mm[0] / 2 }
}

let grabbed: { joint: string; index: number } | null = null
function grab(event: PointerEvent, spot: Spot): void {
  if (!project.upToDate) return
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  grabbed = { joint: spot.joint.id, index: spot.index }
}
function drag(event: PointerEvent): void {
  const b = box.value
  if (!grabbed || !b || !drawing.value) return
  const rect = drawing.value.getBoundingClientRect()
  const u = (event.clientX - rect.left - width.value / 2 - 14) / scale.value + b.cx
  const v = -(event.clientY - rect.top - height.value / 2 - 18) / scale.value + b.cy
  const others = spots.value.filter((s) => !(s.joint.id === grabbed!.joint && s.index === grabbed!.index))
  const [su, sv] = event.shiftKey ? [u, v] : snapped(u, v, b, others, 7 / scale.value)
  dragging.value = { ...grabbed, u: Math.round(su * 100) / 100, v: Math.round(sv * 100) / 100 }
}
function release(): void {
  grabbed = null
  const moved = dragging.value
  if (moved) void place(moved.joint, moved.index, moved.u, moved.v)
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
  const [u, v] = [spot.u + way[0]! * by, spot.v + way[1]! * by]
  dragging.value = { joint: spot.joint.id, index: spot.index, u, v }
  window.clearTimeout(typing)
  typing = window.setTimeout(release, 500)
}
// what was dragged stays where it was put until the build with it is there
watch([() => project.build, () => looking.face], () => (dragging.value = null))

let watcher: ResizeObserver | null = null
onMounted(() => {
  watcher = new ResizeObserver(() => {
    width.value = sheet.value!.clientWidth
    height.value = sheet.value!.clientHeight
  })
  watcher.observe(sheet.value!)
})
onBeforeUnmount(() => watcher?.disconnect())

const calloutOf = computed(() => {
  const spot = spots.value.find((s) => s.bad) ?? spots.value[0]
  if (!spot) return null
  const [bore, deep] = spot.joint.bore_mm
  const shape = measure(spot.joint).square ? '□' : 'ø'
  return {
    x: X(spot.u),
    y: Y(spot.v),
    text: `bore ${shape}${bore.toFixed(2)} × ${mm(deep)} deep`,
    bad: spot.bad,
  }
})
</script>

<template>
  <section class="sheet-frame" aria-label="Drawing of the mating face">
    <header v-if="face">
      <b>Face {{ face.label }}</b>
      <span class="soft">seen from piece {{ face.b }}, which is taken off</span>
      <span class="gap"></span>
      <span class="soft">1 square = {{ square }} mm</span>
    </header>
    <header v-else class="soft">No mating face is chosen.</header>
    <div ref="sheet" class="paper">
      <svg v-if="face && box" ref="drawing" :width="width" :height="height" data-test="face-sheet">
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
        <path :d="room" fill="none" stroke="#4f6839" stroke-width="1.3" stroke-dasharray="6 4" />
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
          :key="`${s.joint.id}-${s.index}`"
          class="spot"
          :class="{ bad: s.bad }"
          role="button"
          tabindex="0"
          data-test="spot"
          :aria-label="`${s.joint.kind} ${s.letter} at ${mm(s.u)}, ${mm(s.v)}`"
          :transform="`translate(${X(s.u)} ${Y(s.v)})`"
          @pointerdown.prevent="grab($event, s)"
          @pointermove="drag"
          @pointerup="release"
          @pointercancel="release"
          @keydown="nudge($event, s)"
        >
          <circle r="14" fill="transparent" stroke="none" />
          <rect
            v-if="measure(s.joint).square"
            :x="-measure(s.joint).half * scale"
            :y="-measure(s.joint).half * scale"
            :width="2 * measure(s.joint).half * scale"
            :height="2 * measure(s.joint).half * scale"
          />
          <circle v-else :r="measure(s.joint).half * scale" />
          <text :x="-measure(s.joint).half * scale - 9" :y="-measure(s.joint).half * scale - 2">
            {{ s.letter }}
          </text>
        </g>
      </svg>
      <p v-else class="soft empty">Part the model at Divide; its mating faces are drawn here.</p>
      <p v-if="dragging" class="at">{{ mm(dragging.u) }}, {{ mm(dragging.v) }} mm</p>
    </div>
    <footer>
      <span><i class="dash"></i> room for joints</span>
      <span><i class="centre"></i> centre lines</span>
      <span class="gap"></span>
      <span class="soft">Drag a peg or use the arrow keys; Shift: freely, large steps</span>
    </footer>
  </section>
</template>

<style scoped>
.sheet-frame {
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
.spot circle:not(:first-child),
.spot rect {
  fill: #fff;
  stroke: var(--ink);
  stroke-width: 2;
}
.spot.bad circle:not(:first-child),
.spot.bad rect {
  stroke: var(--vermilion);
  stroke-width: 3;
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
.centre {
  display: inline-block;
  width: 22px;
  height: 0;
  border-top: 2px dashed var(--moss);
  vertical-align: middle;
}
.centre {
  border-top: 1px dashed var(--cedar);
}
</style>
