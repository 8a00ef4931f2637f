<script setup lang="ts">
/** The figures of a division, short. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { figureRows } from './figures'

const props = defineProps<{ figures: Schemas['Figures'] }>()
const rows = computed(() => figureRows(props.figures))
</script>

<template>
  <dl>
    <template v-for="row in rows" :key="row.name">
      <dt>{{ row.name }}</dt>
      <dd :class="{ bad: row.bad }">{{ row.text }}</dd>
    </template>
  </dl>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 1px 8px;
  margin: 0;
  font-size: 11.5px;
  line-height: 1.3;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  text-align: right;
}
</style>
