<script setup lang="ts">
/** On a small screen one sheet of the bench is shown at a time: the large keys at the foot that turn to another. */
import type { StationId } from '@/router'
import { useViewport, type Sheet } from '@/stores/viewport'

const props = defineProps<{ station: StationId }>()
const viewport = useViewport()
const NAMES: Record<Sheet, string> = { work: 'Work', view: 'View', face: 'Face', cuts: 'Cut list' }
const sheets = (): Sheet[] => (props.station === 'join' ? ['work', 'face', 'view'] : ['work', 'view', 'cuts'])
</script>

<template>
  <nav class="keys" aria-label="Sheets of the bench">
    <button
      v-for="name in sheets()"
      :key="name"
      :aria-pressed="viewport.sheet === name"
      @click="viewport.sheet = name"
    >
      {{ NAMES[name] }}
    </button>
  </nav>
</template>

<style scoped>
.keys {
  display: flex;
  background: var(--sheet);
  border-top: 1px solid var(--line-strong);
}
button {
  flex: 1;
  border: 0;
  border-right: 1px solid var(--line);
  border-top: 3px solid transparent;
  background: none;
  font-size: 15px;
}
button[aria-pressed='true'] {
  border-top-color: var(--cedar);
  color: var(--cedar);
  font-weight: 600;
}
</style>
