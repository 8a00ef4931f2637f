<script setup lang="ts">
/** How the model is looked at: cut away, see through, walls, measures. */
import { fixed } from '@/api/format'
import { useEventListener } from '@vueuse/core'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useTools, type MeasureKind } from '@/stores/tools'
import { useViewport, type CutAway } from '@/stores/viewport'
import { useParts } from '@/stores/parts'
import { useProject } from '@/stores/project'
import type { StationId } from '@/router'
import { useJointCut } from './useJointCut'
import { TOGETHER } from './parts'
import { GAPS, limits, SHADES } from './walls'

const emit = defineEmits<{ walls: []; lineEnds: [] }>()
const tools = useTools()
const viewport = useViewport()
const route = useRoute()
const project = useProject()
const parts = useParts()
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
  const drawing = tools.drawing
  if (drawing)
    return drawing.points.length < (drawing.closed ? 3 : 2)
      ? `Click point ${drawing.points.length + 1}${drawing.closed ? '' : '; the ends lie outside the model'}.`
      : 'Click further points; Backspace takes one back, Enter ends the line.'
  if (tools.brush) return 'Paint on the model with the button held down.'
  const words = tools.picking ?? MEASURES.find((m) => m.kind === tools.measure)?.words
  if (!words) return ''
  return words[tools.spots.length] ?? ''
})
const { face, facing, faceOn, cutThrough } = useJointCut(computed(() => route.params['station'] === 'join'))

const several = computed(
  () => TOGETHER.includes(String(route.params['station']) as StationId) && parts.standing > 1,
)
const bounds = computed(() => limits(project.printer?.least_wall_mm ?? 1))

function cut(change: Partial<CutAway>): void {
  // what is nearer in the usual views goes away first: the right, the front, the top
  const near = change.axis ? { flipped: change.axis === 'y' } : {}
  viewport.cut = { axis: 'y', at: 0.5, flipped: true, ...viewport.cut, ...near, ...change }
}
function start(kind: MeasureKind): void {
  tools.stop()
  tools.measure = kind
}
function keys(event: KeyboardEvent): void {
  const busy = tools.measure || tools.picking || tools.drawing || tools.brush
  if (event.key === 'Escape' && busy) tools.stop()
}
useEventListener(window, 'keydown', keys)
</script>

<template>
  <div
    class="lookbar"
    :class="{ lifted: route.params['station'] === 'assemble' }"
    role="group"
    aria-label="Ways of looking"
  >
    <template v-if="face">
      <button class="chip" :aria-pressed="facing" data-test="face-on" @click="faceOn">Face on</button>
      <button
        class="chip"
        :aria-pressed="viewport.cutPlane !== null"
        data-test="cut-joint"
        @click="cutThrough"
      >
        Cut joint
      </button>
    </template>
    <button
      class="chip"
      :aria-pressed="viewport.cut !== null"
      data-test="cut-away"
      @click="viewport.cut = viewport.cut ? null : { axis: 'y', at: 0.5, flipped: true }"
    >
      Cut away
    </button>
    <button
      class="chip"
      :aria-pressed="viewport.seeThrough"
      data-test="see-through"
      @click="viewport.seeThrough = !viewport.seeThrough"
    >
      See through
    </button>
    <button
      v-if="several"
      class="chip"
      :aria-pressed="viewport.others"
      data-test="other-parts"
      @click="viewport.others = !viewport.others"
    >
      Other parts
    </button>
    <button class="chip" :aria-pressed="viewport.walls" data-test="walls" @click="emit('walls')">
      Walls
    </button>
    <v-menu location="top">
      <template #activator="{ props: menu }">
        <button v-bind="menu" class="chip" :aria-pressed="tools.measure !== null" data-test="measure">
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
    <div v-if="viewport.cut" class="panel" data-test="cut-panel">
      <span class="axes" role="group" aria-label="Cut along">
        <button
          v-for="axis in ['x', 'y', 'z'] as const"
          :key="axis"
          class="chip"
          :aria-pressed="viewport.cut.axis === axis"
          :aria-label="`Cut along ${axis.toUpperCase()}`"
          @click="cut({ axis })"
        >
          {{ axis.toUpperCase() }}
        </button>
      </span>
      <v-slider
        :model-value="viewport.cut.at"
        :min="0"
        :max="1"
        :step="0.005"
        aria-label="Where it is cut"
        data-test="cut-at"
        @update:model-value="cut({ at: $event })"
      />
      <button class="chip" @click="cut({ flipped: !viewport.cut.flipped })">Other side</button>
    </div>
    <div v-if="viewport.walls" class="panel key" data-test="walls-key">
      <span v-for="(shade, k) in SHADES" :key="shade">
        <i :style="{ background: shade }"></i>
        {{
          k === 0
            ? `under ${fixed(bounds[0]!, 1)}`
            : k < bounds.length
              ? `to ${fixed(bounds[k]!, 1)}`
              : 'more mm'
        }}
      </span>
    </div>
    <div v-if="viewport.play" class="panel key" data-test="play-key">
      <span v-for="(shade, k) in SHADES" :key="shade">
        <i :style="{ background: shade }"></i>
        {{ k === 0 ? 'in each other' : k < GAPS.length ? `to ${fixed(GAPS[k]!, 2)}` : 'more mm' }}
      </span>
    </div>
    <div v-if="hint" class="panel" data-test="pick-hint">
      <span class="say">{{ hint }}</span>
      <template v-if="tools.drawing">
        <button class="chip" :disabled="!tools.drawing.points.length" @click="tools.pointBack()">
          Point back
        </button>
        <button class="chip" :disabled="!tools.drawing.points.length" @click="emit('lineEnds')">
          End the line
        </button>
      </template>
      <button class="chip" @click="tools.stop()">Stop (Esc)</button>
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
.lookbar.lifted {
  bottom: 54px;
}
/* beside a drawing the view is narrow: the bar stands above the spread */
@container (max-width: 560px) {
  .lookbar {
    bottom: 50px;
  }
}
@media (max-width: 600px) {
  .lookbar.lifted {
    display: none;
  }
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
