<script setup lang="ts">
/** How the model is looked at: cut away, see through, walls, measures. */
import { computed, onBeforeUnmount, onMounted, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { Vec3 } from '@/api/client'
import { useLooking, type CutAway, type MeasureKind } from '@/stores/looking'
import { useProject } from '@/stores/project'
import { limits, SHADES } from './walls'

const emit = defineEmits<{ walls: [] }>()
const looking = useLooking()
const route = useRoute()
const project = useProject()
const MEASURES: { kind: MeasureKind; name: string; words: string[] }[] = [
  { kind: 'distance', name: 'Point to point', words: ['Click the first point.', 'Click the second point.'] },
  { kind: 'wall', name: 'Across a wall', words: ['Click a wall.'] },
  {
    kind: 'diameter',
    name: 'Round edge, three points',
    words: ['Click a round edge.', 'Click it again further on.', 'And once more.'],
  },
]
const hint = computed(() => {
  const drawing = looking.drawing
  if (drawing)
    return drawing.points.length < (drawing.closed ? 3 : 2)
      ? `Click point ${drawing.points.length + 1}${drawing.closed ? '' : '; the ends lie outside the model'}.`
      : 'Click further points; Backspace takes one back, Enter ends the line.'
  if (looking.brush) return 'Paint on the model with the button held down.'
  const words = looking.picking?.words ?? MEASURES.find((m) => m.kind === looking.measure)?.words
  if (!words) return ''
  return words[looking.spots.length] ?? ''
})
const face = computed(() =>
  route.params['station'] === 'join' ? project.faces.find((f) => f.id === looking.face) : undefined,
)
/** Turn the chosen mating face to the viewer: piece A is looked at from where piece B was. */
const facing = computed(() => looking.only?.length === 1)
function faceOn(): void {
  const at = face.value
  const again = facing.value
  allAgain()
  if (!at || again) return
  looking.only = [at.a]
  looking.lookAt = { eye: at.frame.n }
}
function allAgain(): void {
  looking.cutPlane = looking.only = null
}
/** Cut away through the first joint of the face, across its outline, and look straight at the cut:
 * the inside shows as a section only from there. */
function cutThrough(): void {
  const at = face.value
  const again = looking.cutPlane
  allAgain()
  if (!at || again) return
  const { origin, u, v, n } = at.frame
  const joint = project.joints.find((j) => j.face === at.id)
  const flat = (joint?.shapes?.[0]?.[0]?.[0] ?? at.outline[0]?.[0] ?? []) as [number, number][]
  const place = joint?.places[0]
  const middle = mean(flat)
  const [x, y] = joint?.kind === 'key' ? middle : (place ?? middle)
  const point = origin.map((o, k) => o + x * u[k]! + y * v[k]!) as Vec3
  // across a groove, seen from the end where it does not lock; a key is cut flat, a peg along its axis
  const slide = joint?.motions?.find((w) => Math.abs(dot(w, n)) < 0.1)
  let normal: Vec3 = v
  if (joint?.kind === 'key' && place) normal = inPlane(u, v, [middle[0] - place[0], middle[1] - place[1]])
  else if (slide) normal = slide.map((w) => -w) as Vec3
  looking.spread = 0
  looking.cutPlane = { normal, offset: dot(point, normal) }
  looking.only = [at.a, at.b]
  looking.lookAt = { eye: normal, at: point, reach: Math.max(12, 4 * (joint?.deep_mm ?? 8)) }
}
const dot = (p: readonly number[], q: readonly number[]) => p.reduce((sum, v, k) => sum + v * q[k]!, 0)
const inPlane = (u: Vec3, v: Vec3, [x, y]: [number, number]): Vec3 => {
  const long = Math.hypot(x, y) || 1
  return u.map((c, k) => -(x * c + y * v[k]!) / long) as Vec3
}
const mean = (points: [number, number][]): [number, number] => [
  points.reduce((s, p) => s + p[0], 0) / Math.max(1, points.length),
  points.reduce((s, p) => s + p[1], 0) / Math.max(1, points.length),
]
watch(() => looking.face, allAgain)

const bounds = computed(() => limits(project.printer?.least_wall_mm ?? 1))

function cut(change: Partial<CutAway>): void {
  // what is nearer in the usual views goes away first: the right, the front, the top
  const near = change.axis ? { flipped: change.axis === 'y' } : {}
  looking.cut = { axis: 'y', at: 0.5, flipped: true, ...looking.cut, ...near, ...change }
}
function start(kind: MeasureKind): void {
  looking.stopTools()
  looking.measure = kind
}
function keys(event: KeyboardEvent): void {
  const busy = looking.measure || looking.picking || looking.drawing || looking.brush
  if (event.key === 'Escape' && busy) looking.stopTools()
}
onMounted(() => window.addEventListener('keydown', keys))
onBeforeUnmount(() => window.removeEventListener('keydown', keys))
</script>

<template>
  <div class="lookbar" role="group" aria-label="Ways of looking">
    <template v-if="face">
      <button class="chip" :aria-pressed="facing" data-test="face-on" @click="faceOn">Face on</button>
      <button
        class="chip"
        :aria-pressed="looking.cutPlane !== null"
        data-test="cut-joint"
        @click="cutThrough"
      >
        Cut joint
      </button>
    </template>
    <button
      class="chip"
      :aria-pressed="looking.cut !== null"
      data-test="cut-away"
      @click="looking.cut = looking.cut ? null : { axis: 'y', at: 0.5, flipped: true }"
    >
      Cut away
    </button>
    <button
      class="chip"
      :aria-pressed="looking.seeThrough"
      data-test="see-through"
      @click="looking.seeThrough = !looking.seeThrough"
    >
      See through
    </button>
    <button class="chip" :aria-pressed="looking.walls" data-test="walls" @click="emit('walls')">Walls</button>
    <v-menu location="top">
      <template #activator="{ props: menu }">
        <button v-bind="menu" class="chip" :aria-pressed="looking.measure !== null" data-test="measure">
          Measure
        </button>
      </template>
      <div class="menu">
        <button
          v-for="m in MEASURES"
          :key="m.kind"
          class="plain"
          :data-test="`measure-${m.kind}`"
          @click="start(m.kind)"
        >
          {{ m.name }}
        </button>
      </div>
    </v-menu>
    <div v-if="looking.cut" class="panel" data-test="cut-panel">
      <span class="axes" role="group" aria-label="Cut along">
        <button
          v-for="axis in ['x', 'y', 'z'] as const"
          :key="axis"
          class="chip"
          :aria-pressed="looking.cut.axis === axis"
          :aria-label="`Cut along ${axis.toUpperCase()}`"
          @click="cut({ axis })"
        >
          {{ axis.toUpperCase() }}
        </button>
      </span>
      <v-slider
        :model-value="looking.cut.at"
        :min="0"
        :max="1"
        :step="0.005"
        aria-label="Where it is cut"
        data-test="cut-at"
        @update:model-value="cut({ at: $event })"
      />
      <button class="chip" @click="cut({ flipped: !looking.cut.flipped })">Other side</button>
    </div>
    <div v-if="looking.walls" class="panel key" data-test="walls-key">
      <span v-for="(shade, k) in SHADES" :key="shade">
        <i :style="{ background: shade }"></i>
        {{
          k === 0
            ? `under ${bounds[0]!.toFixed(1)}`
            : k < bounds.length
              ? `to ${bounds[k]!.toFixed(1)}`
              : 'more mm'
        }}
      </span>
    </div>
    <div v-if="hint" class="panel" data-test="pick-hint">
      <span class="say">{{ hint }}</span>
      <button class="chip" @click="looking.stopTools()">Stop (Esc)</button>
    </div>
  </div>
</template>

<style scoped>
.lookbar {
  position: absolute;
  right: 12px;
  bottom: 12px;
  display: flex;
  flex-wrap: wrap-reverse;
  justify-content: flex-end;
  gap: 6px;
  max-width: calc(100% - 24px);
}
/* beside a drawing the view is narrow: the bar stands above the spread */
@container (max-width: 560px) {
  .lookbar {
    bottom: 50px;
  }
}
.chip[aria-pressed='true'] {
  background: var(--ink);
  border-color: var(--ink);
  color: var(--sheet);
}
.panel {
  flex-basis: 100%;
  display: flex;
  align-items: center;
  justify-content: flex-end;
  gap: 10px;
  font-size: 12px;
}
.panel > * {
  background: var(--sheet);
}
.panel :deep(.v-slider) {
  max-width: 220px;
  border: 1px solid var(--line-strong);
  padding: 0 14px;
  margin: 0;
}
.axes {
  display: flex;
  gap: 2px;
}
.key {
  gap: 0;
}
.key > span {
  padding: 3px 8px;
  border: 1px solid var(--line-strong);
  border-left: 0;
}
.key > span:first-child {
  border-left: 1px solid var(--line-strong);
}
.key i {
  display: inline-block;
  width: 10px;
  height: 10px;
  margin-right: 4px;
  border: 1px solid var(--ink-soft);
}
.say {
  border: 1px solid var(--cedar);
  color: var(--cedar);
  padding: 3px 10px;
}
</style>
