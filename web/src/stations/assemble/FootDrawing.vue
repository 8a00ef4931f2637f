<script setup lang="ts">
/** The foot of the model from below the centre of mass, drawn from above: its outline, the centre, how far it may be tipped each way. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{ balance: Schemas['BalanceView'] }>()
const SIZE = 150
const REACH = 52
/** as many degrees as the outermost ring stands for */
const MOST = 60
const RINGS = [10, 30, 60]
const foot = computed(() => props.balance.foot)
const half = computed(() => {
  const [cx, cy] = props.balance.centre_mm as [number, number, number]
  return Math.max(1, ...foot.value.map(([x, y]) => Math.max(Math.abs(x - cx), Math.abs(y - cy))))
})
const scaled = computed(() =>
  foot.value.map(([x, y]) => at(x - props.balance.centre_mm[0], y - props.balance.centre_mm[1], half.value)),
)
const at = (x: number, y: number, most: number) => [
  SIZE / 2 + (x / most) * REACH,
  SIZE / 2 - (y / most) * REACH,
]
const tips = computed(() =>
  props.balance.tips.map((t) => {
    const r = Math.max(0, Math.min(MOST, t.tip_deg))
    const a = (t.towards_deg * Math.PI) / 180
    return at(r * Math.cos(a), r * Math.sin(a), MOST)
  }),
)
const path = (points: readonly number[][]) =>
  points.map((p) => p.map((v) => v.toFixed(1)).join(',')).join(' ')
</script>

<template>
  <svg
    :viewBox="`0 0 ${SIZE} ${SIZE}`"
    role="img"
    aria-label="The foot, the centre of mass, and how far it may be tipped"
  >
    <polygon :points="path(scaled)" class="foot" />
    <circle
      v-for="ring in RINGS"
      :key="ring"
      :cx="SIZE / 2"
      :cy="SIZE / 2"
      :r="(ring / MOST) * REACH"
      class="ring"
      :class="{ safe: ring === 10 }"
    />
    <text v-for="ring in RINGS" :key="`t${ring}`" :x="SIZE / 2 + 2" :y="SIZE / 2 - (ring / MOST) * REACH - 2">
      {{ ring }}°
    </text>
    <polygon :points="path(tips)" class="tips" />
    <path :d="`M${SIZE / 2 - 4} ${SIZE / 2}h8M${SIZE / 2} ${SIZE / 2 - 4}v8`" class="centre" />
  </svg>
</template>

<style scoped>
svg {
  width: 150px;
  flex: none;
}
.foot {
  fill: var(--section);
  stroke: var(--ink);
  stroke-width: 1;
}
.ring {
  fill: none;
  stroke: var(--line-strong);
  stroke-width: 0.6;
  stroke-dasharray: 2 2;
}
.ring.safe {
  stroke: var(--vermilion);
}
.tips {
  fill: none;
  stroke: var(--indigo);
  stroke-width: 1.4;
}
.centre {
  stroke: var(--cedar);
  stroke-width: 1.4;
}
text {
  font-size: 7.5px;
  fill: var(--ink-soft);
}
</style>
