<script setup lang="ts">
/** What the colours and hatches on the model mean, with how many pieces are in each state. */
import { computed } from 'vue'
import { background, COLUMNS, seenState } from '@/api/states'
import { usePrintLog } from '@/stores/printlog'

const log = usePrintLog()
const lines = computed(() =>
  COLUMNS.map((state) => ({
    state,
    many: log.rows.filter((r) => r.number && seenState(r) === state).length,
  })).filter((l) => l.many),
)
</script>

<template>
  <ul v-if="lines.length" class="legend" aria-label="States of the pieces" data-test="legend">
    <li v-for="l in lines" :key="l.state">
      <span class="swatch" :style="{ background: background(l.state) }"></span>
      {{ l.state === 'planned' ? 'missing' : l.state }} <b>{{ l.many }}</b>
    </li>
    <li v-if="log.old.length">
      <span class="swatch" :style="{ background: background('out of date') }"></span> out of date
      <b>{{ log.old.length }}</b>
    </li>
  </ul>
</template>

<style scoped>
.legend {
  position: absolute;
  left: 12px;
  top: 46px;
  margin: 0;
  padding: 6px 10px;
  list-style: none;
  background: var(--sheet);
  border: 1px solid var(--line);
  font-size: 12px;
  pointer-events: none;
}
.legend li {
  display: flex;
  align-items: center;
  gap: 7px;
}
.swatch {
  width: 16px;
  height: 12px;
  border: 1px solid var(--line-strong);
}
</style>
