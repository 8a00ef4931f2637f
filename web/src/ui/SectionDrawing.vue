<script setup lang="ts">
/** A small drawing of a section with its area and least wall, hatched as a joiner would. */
import { computed } from 'vue'
import { mm, mm2 } from '@/api/format'

const props = defineProps<{
  rings: readonly (readonly [number, number])[][]
  area: number
  wall: number | null
}>()

const path = computed(() =>
  props.rings
    .map((ring) => `M${ring.map(([x, y]) => `${x.toFixed(2)} ${(-y).toFixed(2)}`).join('L')}Z`)
    .join(''),
)
const box = computed(() => {
  const all = props.rings.flat()
  if (all.length === 0) return null
  const xs = all.map((p) => p[0])
  const ys = all.map((p) => -p[1])
  const [x, y] = [least(xs), least(ys)]
  const [w, h] = [most(xs) - x, most(ys) - y]
  const pad = 0.08 * Math.max(w, h)
  return {
    x: x - pad,
    y: y - pad,
    w: w + 2 * pad,
    h: h + 2 * pad,
    width: w,
    height: h,
    line: Math.max(w, h) / 90,
  }
})
const least = (v: number[]) => v.reduce((a, b) => Math.min(a, b), Infinity)
const most = (v: number[]) => v.reduce((a, b) => Math.max(a, b), -Infinity)
</script>

<template>
  <div class="section" data-test="section">
    <template v-if="box">
      <svg :viewBox="`${box.x} ${box.y} ${box.w} ${box.h}`" role="img" aria-label="Section at the parting">
        <defs>
          <pattern
            id="small-hatch"
            :width="box.line * 4"
            :height="box.line * 4"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <rect :width="box.line * 4" :height="box.line * 4" fill="var(--section)" />
            <line x1="0" y1="0" x2="0" :y2="box.line * 4" stroke="var(--hatch)" :stroke-width="box.line" />
          </pattern>
        </defs>
        <path
          :d="path"
          fill="url(#small-hatch)"
          fill-rule="evenodd"
          stroke="var(--ink)"
          :stroke-width="box.line"
          stroke-linejoin="round"
        />
      </svg>
      <p>
        <span>area {{ mm2(area) }}</span>
        <span>wall {{ wall === null ? '–' : `${mm(wall)} mm min` }}</span>
        <span>outline {{ mm(box.width) }} × {{ mm(box.height) }}</span>
      </p>
    </template>
    <p v-else class="bad">Nothing is cut here.</p>
  </div>
</template>

<style scoped>
.section {
  display: grid;
  grid-template-columns: 128px 1fr;
  gap: 12px;
  align-items: center;
  background: var(--drawing);
  border: 1px solid var(--line);
  padding: 6px 8px;
  margin-top: 6px;
  min-height: 90px;
}
svg {
  width: 128px;
  height: 76px;
}
p {
  margin: 0;
  font-size: 11.5px;
  display: flex;
  flex-direction: column;
  gap: 5px;
}
</style>
