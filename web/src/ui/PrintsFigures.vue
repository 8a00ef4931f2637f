<script setup lang="ts">
/** What is lost of a body as it prints, and where; with which layer and line it is looked at. */
import { duration, fixed } from '@/api/format'
import { usePrints, type PrintedView } from '@/stores/prints'
import { useViewport } from '@/stores/viewport'
import RuledNumber from './RuledNumber.vue'

defineProps<{
  view: PrintedView | null
  place?: (at: [number, number, number]) => [number, number, number]
}>()
const prints = usePrints()
const viewport = useViewport()
</script>

<template>
  <div class="row">
    <span class="label">Layer</span>
    <RuledNumber
      v-model="prints.layer"
      class="wider"
      label="Layer to look with"
      unit="mm"
      :digits="2"
      :step="0.04"
      :min="0.02"
      :max="2"
      empty
      hint="as it prints"
      data-test="field-prints-layer"
    />
  </div>
  <div class="row">
    <span class="label">Line</span>
    <RuledNumber
      v-model="prints.line"
      class="wider"
      label="Line to look with"
      unit="mm"
      :digits="2"
      :step="0.05"
      :min="0.05"
      :max="5"
      empty
      hint="as it prints"
      data-test="field-prints-line"
    />
  </div>
  <template v-if="view">
    <p class="small" data-test="prints-says">
      <template v-if="view.lost_mm3 > 0">
        Lost: {{ fixed(view.lost_mm3, 1) }} mm³,
        {{ fixed(view.lost_percent, view.lost_percent < 1 ? 2 : 1) }} % of it, up to
        {{ fixed(view.reach_mm, 2) }} mm from what prints
      </template>
      <template v-else>Nothing is lost</template>
      in layers of {{ fixed(view.layer_mm, 2) }} with lines of {{ fixed(view.line_mm, 2) }} mm{{
        view.every ? '' : `; ${view.layers} layers of more were looked at`
      }}.
      <button
        v-if="view.at_mm && place"
        class="chip"
        data-test="prints-go"
        @click="viewport.flyTo = { at: place(view.at_mm), reach: Math.max(4, 4 * view.reach_mm) }"
      >
        Go there
      </button>
    </p>
    <p v-if="view.lines" class="small" data-test="prints-lines">
      Line by line, without support: {{ duration(view.lines.minutes) }}, {{ fixed(view.lines.mass_g, 1) }} g;
      the estimate says {{ duration(view.lines.estimated_minutes) }},
      {{ fixed(view.lines.estimated_g, 1) }} g.
    </p>
  </template>
</template>

<style scoped>
.wider {
  width: 118px;
}
.small {
  font-size: 12px;
  margin: 4px 0 8px;
}
</style>
