<script setup lang="ts">
/** Which part is worked on, above every worksheet of a project with several. */
import { useParts } from '@/stores/parts'

const parts = useParts()
</script>

<template>
  <div v-if="parts.parts.length > 1 && parts.open" class="line">
    <label for="part-open">Part</label>
    <select
      id="part-open"
      class="ruled"
      data-test="part-line"
      :value="parts.open.id"
      @change="parts.work(($event.target as HTMLSelectElement).value)"
    >
      <option v-for="p in parts.parts" :key="p.id" :value="p.id">
        {{ p.name }}{{ p.count > 1 ? ` × ${p.count}` : '' }}
      </option>
    </select>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 72px 1fr;
  align-items: center;
  column-gap: 10px;
  padding: 5px 16px;
  border-bottom: 1px solid var(--line);
}
label {
  color: var(--ink-soft);
}
</style>
