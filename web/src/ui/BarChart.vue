<script setup lang="ts">
/** Bars, one a label, in the colours of the house. */
import { fixed } from '@/api/format'
import { computed } from 'vue'
import { Bar } from 'vue-chartjs'
import { told } from '@/words/language'
import { chartTones } from './charts'

const props = defineProps<{
  title: string
  unit: string
  labels: string[]
  values: number[]
  colours: string[]
  /** values are counts */
  whole?: boolean
}>()
const tones = computed(chartTones)
const data = computed(() => ({
  labels: props.labels.map(told),
  datasets: [
    {
      data: props.values,
      backgroundColor: props.colours,
      borderColor: tones.value.ink,
      borderWidth: 1,
      maxBarThickness: 16,
    },
  ],
}))
const options = computed(() => ({
  indexAxis: 'y' as const,
  animation: false as const,
  maintainAspectRatio: false,
  scales: {
    x: {
      beginAtZero: true,
      ticks: { precision: props.whole ? 0 : undefined },
      grid: { color: tones.value.grid },
      title: { display: true, text: told(props.unit) },
    },
    y: { grid: { display: false } },
  },
  plugins: { legend: { display: false } },
}))
const spoken = computed(() =>
  props.labels.map((l, k) => `${l}: ${fixed(props.values[k]!, 1)} ${props.unit}`).join('; '),
)
</script>

<template>
  <figure>
    <figcaption>{{ title }}</figcaption>
    <div :style="{ height: `${56 + labels.length * 22}px` }">
      <Bar :data="data" :options="options" :aria-label="`${title}. ${spoken}`" role="img" />
    </div>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  min-width: 0;
}
figcaption {
  font-weight: 600;
  margin-bottom: 4px;
}
</style>
