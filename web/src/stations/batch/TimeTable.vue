<script setup lang="ts">
/** When what is done: one line for each machine, its batches as bars over days, and the same in words. */
import { computed } from 'vue'
import { useBatching } from '@/stores/batching'
import SchemaForm from '@/ui/SchemaForm.vue'

const batching = useBatching()
const runs = computed(() => batching.batches?.runs ?? [])
const machines = computed(() => [...new Set(runs.value.map((r) => r.machine))])
const hours = (day: number, hour: number) => (day - 1) * 24 + hour
const days = computed(() => Math.max(1, ...runs.value.map((r) => r.ends_day)))
const clock = (hour: number) => {
  const minutes = Math.round(hour * 60)
  return `${String(Math.floor(minutes / 60) % 24).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`
}
function set(field: string, value: unknown, title: string): void {
  if (value !== null) void batching.edit(`Someone is ${title.toLowerCase()}`, { [field]: value })
}
</script>

<template>
  <div v-if="runs.length" class="block" data-test="timetable">
    <h2>
      When <small>{{ days }} {{ days === 1 ? 'day' : 'days' }} from a first morning on</small>
    </h2>
    <SchemaForm
      v-if="batching.wish"
      schema="Batching"
      :fields="['from_hour', 'to_hour']"
      :value="batching.wish"
      @change="set"
    />
    <svg
      class="bars"
      :viewBox="`0 0 ${days * 24} ${machines.length * 9 + 1}`"
      preserveAspectRatio="none"
      :style="{ height: `${machines.length * 20 + 4}px` }"
      role="img"
      aria-label="Batches over days"
    >
      <line
        v-for="d in days + 1"
        :key="d"
        :x1="(d - 1) * 24"
        :x2="(d - 1) * 24"
        y1="0"
        :y2="machines.length * 9 + 1"
      />
      <rect
        v-for="r in runs"
        :key="r.batch"
        :x="hours(r.starts_day, r.starts_hour)"
        :width="hours(r.ends_day, r.ends_hour) - hours(r.starts_day, r.starts_hour)"
        :y="machines.indexOf(r.machine) * 9 + 1"
        height="7"
      >
        <title>Batch {{ r.batch }} on {{ r.machine }}</title>
      </rect>
    </svg>
    <table class="plain-table">
      <tbody>
        <tr v-for="r in runs" :key="r.batch" data-test="run">
          <td>Batch {{ r.batch }}</td>
          <td v-if="machines.length > 1">{{ r.machine }}</td>
          <td class="num">day {{ r.starts_day }}, {{ clock(r.starts_hour) }}</td>
          <td class="num">day {{ r.ends_day }}, {{ clock(r.ends_hour) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.bars {
  display: block;
  width: 100%;
  margin: 6px 0 4px;
  background: var(--paper);
}
.bars line {
  stroke: var(--line-strong);
  vector-effect: non-scaling-stroke;
}
.bars rect {
  fill: var(--hatch);
  stroke: var(--ink);
  vector-effect: non-scaling-stroke;
}
</style>
