<script setup lang="ts">
/** The log in plots: progress over time, estimate against truth, failures by cause. */
import { fixed } from '@/api/format'
import { computed } from 'vue'
import { Line, Scatter } from 'vue-chartjs'
import { chartTones } from '@/ui/charts'
import { tone } from '@/ui/night'
import BarChart from '@/ui/BarChart.vue'
import { usePrintLog } from '@/stores/printlog'
import { dateLanguage } from '@/words/language'

const log = usePrintLog()
const days = computed(() =>
  (log.log?.done ?? []).map((d) => ({
    ...d,
    day: new Date(d.at).toLocaleString(dateLanguage(), {
      day: 'numeric',
      month: 'short',
      hour: '2-digit',
      minute: '2-digit',
    }),
  })),
)
const tones = computed(chartTones)
const whole = computed(() => log.standing?.pieces.all ?? 0)
const progress = computed(() => ({
  labels: days.value.map((d) => d.day),
  datasets: [
    line(
      'printed',
      days.value.map((d) => d.pieces),
      tone('--moss'),
      [],
    ),
    line(
      'failed',
      days.value.map((d) => d.failed),
      tone('--vermilion'),
      [4, 3],
    ),
    line(
      'needed',
      days.value.map(() => whole.value),
      tone('--ink-soft'),
      [1, 3],
    ),
  ],
}))
function line(label: string, data: number[], colour: string, dash: number[]) {
  return {
    label,
    data,
    borderColor: colour,
    backgroundColor: colour,
    borderDash: dash,
    borderWidth: 2,
    pointRadius: 3,
    stepped: 'before' as const,
  }
}
const lineOptions = computed(() => ({
  animation: false as const,
  maintainAspectRatio: false,
  scales: {
    x: { grid: { color: tones.value.grid } },
    y: { beginAtZero: true, grid: { color: tones.value.grid }, title: { display: true, text: 'pieces' } },
  },
  plugins: { legend: { position: 'bottom' as const, labels: { boxHeight: 2 } } },
}))
const shots = computed(() => log.log?.learned.shots ?? [])
const most = computed(
  () => Math.max(0.5, ...shots.value.flatMap((s) => [s.minutes, s.measured_minutes])) / 60,
)
const truth = computed(() => ({
  datasets: [
    {
      label: 'prints',
      data: shots.value.map((s) => ({ x: s.minutes / 60, y: s.measured_minutes / 60 })),
      borderColor: tones.value.ink,
      backgroundColor: tone('--cedar'),
      pointRadius: 5,
    },
    {
      label: 'as estimated',
      data: [
        { x: 0, y: 0 },
        { x: most.value, y: most.value },
      ],
      borderColor: tone('--ink-soft'),
      backgroundColor: tone('--ink-soft'),
      borderDash: [4, 3],
      pointRadius: 0,
      showLine: true,
    },
  ],
}))
const hours = (title: string) => ({
  beginAtZero: true,
  grid: { color: tones.value.grid },
  title: { display: true, text: title },
})
const truthOptions = computed(() => ({
  animation: false as const,
  maintainAspectRatio: false,
  scales: { x: hours('estimated, h'), y: hours('measured, h') },
  plugins: { legend: { position: 'bottom' as const } },
}))
const causes = computed(() => log.log?.learned.causes ?? [])
const toldProgress = computed(() =>
  days.value.map((d) => `${d.day}: ${d.pieces} printed, ${d.failed} failed`).join('; '),
)
const toldTruth = computed(() =>
  shots.value
    .map(
      (s) =>
        `print ${s.print}: ${fixed(s.minutes / 60, 1)} h estimated, ${fixed(s.measured_minutes / 60, 1)} h measured`,
    )
    .join('; '),
)
</script>

<template>
  <div class="sheet" data-test="lesson-sheet">
    <p v-if="!days.length" class="soft">Plots come with the first print that has ended.</p>
    <template v-else>
      <figure>
        <figcaption>Progress over time</figcaption>
        <div class="plot">
          <Line
            :data="progress"
            :options="lineOptions"
            role="img"
            :aria-label="`Progress over time. ${toldProgress}`"
          />
        </div>
      </figure>
      <figure v-if="shots.length">
        <figcaption>Estimate against truth</figcaption>
        <div class="plot">
          <Scatter
            :data="truth"
            :options="truthOptions"
            role="img"
            :aria-label="`Estimate against truth. ${toldTruth}`"
          />
        </div>
      </figure>
      <BarChart
        v-if="causes.length"
        whole
        title="Failures by cause"
        unit="pieces"
        :labels="causes.map((c) => c.reason)"
        :values="causes.map((c) => c.failed)"
        :colours="causes.map(() => '#c8725f')"
      />
    </template>
  </div>
</template>

<style scoped>
.sheet {
  position: absolute;
  inset: 0;
  overflow: auto;
  background: var(--sheet);
  padding: 16px 20px;
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
  gap: 20px;
  align-content: start;
}
figure {
  margin: 0;
  min-width: 0;
}
figcaption {
  font-weight: 600;
  margin-bottom: 4px;
}
.plot {
  height: 270px;
}
</style>
