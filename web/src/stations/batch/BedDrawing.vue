<script setup lang="ts">
/** A bed from above, true to scale, with what lies on it. */
import { computed } from 'vue'
import { pigment } from '@/api/format'
import { useLooking } from '@/stores/looking'
import type { Batch } from './useBatches'

const props = defineProps<{ batch: Batch }>()
const looking = useLooking()
const [x, y] = [computed(() => props.batch.bed_mm[0]), computed(() => props.batch.bed_mm[1])]
const box = computed(() => `${-x.value / 2 - 4} ${-y.value / 2 - 4} ${x.value + 8} ${y.value + 8}`)
const grid = computed(() => {
  const lines: string[] = []
  for (let at = -Math.floor(x.value / 40) * 20; at <= x.value / 2; at += 20)
    if (Math.abs(at) < x.value / 2) lines.push(`M${at} ${-y.value / 2}V${y.value / 2}`)
  for (let at = -Math.floor(y.value / 40) * 20; at <= y.value / 2; at += 20)
    if (Math.abs(at) < y.value / 2) lines.push(`M${-x.value / 2} ${at}H${x.value / 2}`)
  return lines.join('')
})
const path = (outline: Batch['things'][number]['outline']) =>
  outline
    .flat()
    .map((ring) => `M${ring.map(([px, py]) => `${px} ${-py}`).join('L')}z`)
    .join('')
const radius = computed(() => Math.max(5, x.value / 36))
</script>

<template>
  <svg class="bed" :viewBox="box" role="img" :aria-label="`The bed of batch ${batch.number} from above`">
    <circle v-if="batch.round_bed" class="plate" :r="x / 2" />
    <rect v-else class="plate" :x="-x / 2" :y="-y / 2" :width="x" :height="y" />
    <path v-if="!batch.round_bed" class="grid" :d="grid" />
    <g
      v-for="thing in batch.things"
      :key="thing.name"
      class="thing"
      :class="{ on: thing.pieces.includes(looking.piece ?? -1) }"
      data-test="laid"
      @click="thing.pieces.length && (looking.piece = thing.pieces[0]!)"
    >
      <title>{{ thing.name }}, {{ Math.round(thing.mass_g) }} g</title>
      <path :d="path(thing.outline)" :fill="thing.pieces.length ? pigment(thing.pieces[0]!) : '#b98a5e'" />
      <template v-if="thing.pieces.length">
        <circle class="ball" :cx="thing.x_mm" :cy="-thing.y_mm" :r="radius" />
        <text :x="thing.x_mm" :y="-thing.y_mm + radius * 0.4" :font-size="radius * 1.15">
          {{ thing.pieces.join('+') }}
        </text>
      </template>
    </g>
  </svg>
</template>

<style scoped>
.bed {
  display: block;
  width: 100%;
}
.plate {
  fill: #f6ecd6;
  stroke: var(--ink);
  stroke-width: 0.8;
}
.grid {
  stroke: var(--line);
  stroke-width: 0.4;
  fill: none;
}
.thing {
  cursor: pointer;
}
.thing path {
  fill-rule: evenodd;
  fill-opacity: 0.85;
  stroke: var(--ink);
  stroke-width: 0.6;
}
.thing.on path {
  stroke: var(--cedar);
  stroke-width: 1.8;
}
.ball {
  fill: #fffaf0;
  stroke: var(--ink);
  stroke-width: 0.6;
}
text {
  text-anchor: middle;
}
</style>
