<script setup lang="ts">
/** What is drawn over the view in screen positions: leads of balloons, dimension lines, measures, drawn lines, brush, arrow. */
import type { Balloon } from './balloons'
import type { Dimension, ScreenLine, Tick } from './overlay'

defineProps<{
  width: number
  height: number
  balloons: readonly Balloon[]
  dimensions: readonly Dimension[]
  measure: ScreenLine | null
  path: readonly { x: number; y: number }[]
  dabs: readonly { x: number; y: number; r: number }[]
  arrow: ScreenLine | null
  guides: readonly ScreenLine[]
  ticks: readonly Tick[]
}>()
</script>

<template>
  <svg class="over" :width="width" :height="height" aria-hidden="true">
    <defs>
      <marker
        id="tip"
        markerWidth="9"
        markerHeight="8"
        refX="8.5"
        refY="4"
        orient="auto-start-reverse"
        markerUnits="userSpaceOnUse"
      >
        <path d="M0 1.2 9 4 0 6.8z" fill="context-stroke" />
      </marker>
    </defs>
    <g v-for="b in balloons" :key="b.number">
      <line :x1="b.x" :y1="b.y" :x2="b.bx" :y2="b.by" stroke="var(--ink)" stroke-width="0.9" />
      <circle :cx="b.x" :cy="b.y" r="2.2" fill="var(--ink)" />
    </g>
    <g v-for="d in dimensions" :key="d.id" :stroke="d.over ? 'var(--vermilion)' : 'var(--ink)'">
      <line
        :x1="d.x1"
        :y1="d.y1"
        :x2="d.x2"
        :y2="d.y2"
        stroke-width="1"
        marker-start="url(#tip)"
        marker-end="url(#tip)"
      />
      <text :x="(d.x1 + d.x2) / 2" :y="(d.y1 + d.y2) / 2" :class="{ over: d.over }">{{ d.text }}</text>
    </g>
    <g v-if="ticks.length" stroke="var(--scale)" data-test="height-scale">
      <line :x1="ticks[0]!.x1" :y1="ticks[0]!.y1" :x2="ticks.at(-1)!.x1" :y2="ticks.at(-1)!.y1" />
      <line v-for="t in ticks" :key="t.z" :x1="t.x1" :y1="t.y1" :x2="t.x2" :y2="t.y2" />
      <text v-for="t in ticks" :key="`at${t.z}`" :x="t.x2 - 4" :y="t.y2 + 4" class="tick">{{ t.text }}</text>
    </g>
    <line
      v-if="measure"
      :x1="measure.x1"
      :y1="measure.y1"
      :x2="measure.x2"
      :y2="measure.y2"
      stroke="var(--indigo)"
      stroke-width="1.6"
      marker-start="url(#tip)"
      marker-end="url(#tip)"
    />
    <polyline
      v-if="path.length"
      :points="path.map((p) => `${p.x},${p.y}`).join(' ')"
      fill="none"
      stroke="var(--cedar)"
      stroke-width="2"
    />
    <circle v-for="(p, k) in path" :key="`path${k}`" :cx="p.x" :cy="p.y" r="4" fill="var(--cedar)" />
    <circle v-for="(d, k) in dabs" :key="`dab${k}`" :cx="d.x" :cy="d.y" :r="d.r" class="dab" />
    <line
      v-for="(g, k) in guides"
      :key="`guide${k}`"
      :x1="g.x1"
      :y1="g.y1"
      :x2="g.x2"
      :y2="g.y2"
      class="guide"
    />
    <line
      v-if="arrow"
      :x1="arrow.x1"
      :y1="arrow.y1"
      :x2="arrow.x2"
      :y2="arrow.y2"
      stroke="var(--cedar)"
      stroke-width="2"
      marker-end="url(#tip)"
    />
  </svg>
</template>

<style scoped>
.over {
  position: absolute;
  inset: 0;
  pointer-events: none;
}
.over text {
  font-size: 12px;
  text-anchor: middle;
  dominant-baseline: middle;
  fill: var(--ink);
  stroke: var(--view);
  stroke-width: 5px;
  paint-order: stroke;
}
.over text.over {
  position: static;
  fill: var(--vermilion);
  font-weight: 600;
}
.over .guide {
  stroke: var(--cedar);
  stroke-width: 1;
  stroke-dasharray: 4 4;
}
.over .dab {
  fill: var(--cedar);
  opacity: 0.25;
}
.over text.tick {
  text-anchor: end;
  stroke: none;
  fill: var(--scale);
  font-size: 11px;
}
</style>
