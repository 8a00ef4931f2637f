<script setup lang="ts">
/** A module from above: its sides by number; in them magnets with their poles, or what stands out (+) and takes that (−). */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{ view: Schemas['ModulesView'] }>()
const letter = (pole: string): string =>
  props.view.by === 'magnets' ? pole.toUpperCase() : pole === 'n' ? '+' : pole === 's' ? '−' : 'k'
type Ring = [number, number][]
const rings = computed(() => (props.view.outline ?? []).flat() as Ring[])
const reach = computed(() =>
  Math.max(1, ...rings.value.flat().flatMap(([x, y]) => [Math.abs(x), Math.abs(y)])),
)
const scale = computed(() => 62 / reach.value)
const at = ([x, y]: readonly [number, number] | Ring[number]) =>
  `${(x * scale.value).toFixed(1)} ${(-y * scale.value).toFixed(1)}`
const path = computed(() => rings.value.map((r) => `M${r.map(at).join('L')}z`).join(''))
const sides = computed(() =>
  props.view.sides.map((side, k) => {
    const [x, y] = side.middle ?? [0, 0]
    const [u, v] = side.out ?? [0, 0]
    return { number: k + 1, x: x * scale.value + 15 * u, y: -y * scale.value - 15 * v }
  }),
)
const magnets = computed(() =>
  (props.view.drawn ?? []).map(([x, y, pole, side]) => {
    const [u, v] = props.view.sides[side]?.out ?? [0, 0]
    return { pole, x: x * scale.value - 7 * u, y: -y * scale.value + 7 * v }
  }),
)
</script>

<template>
  <svg
    class="plan"
    viewBox="-92 -84 184 168"
    role="img"
    aria-label="A module from above, with what is in its sides"
  >
    <path class="outline" :d="path" />
    <g v-for="(m, k) in magnets" :key="k" :class="m.pole" data-test="module-pole">
      <circle :cx="m.x" :cy="m.y" r="6.4" />
      <text :x="m.x" :y="m.y + 3.4">{{ letter(m.pole) }}</text>
    </g>
    <text v-for="s in sides" :key="s.number" class="side" :x="s.x" :y="s.y + 4">{{ s.number }}</text>
  </svg>
</template>

<style scoped>
.plan {
  display: block;
  width: 100%;
  max-width: 220px;
  margin: 6px auto 0;
}
.outline {
  fill: var(--wood);
  stroke: var(--ink);
}
circle {
  stroke: var(--ink);
}
.n circle {
  fill: var(--ink);
}
.s circle {
  fill: var(--on-wood);
}
text {
  font-size: 9.5px;
  text-anchor: middle;
}
.n text {
  fill: var(--on-wood);
}
.side {
  font-size: 11px;
  fill: var(--ink-soft);
}
</style>
