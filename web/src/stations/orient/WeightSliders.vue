<script setup lang="ts">
/** What counts when a piece is laid: a slider for each measure, 0 to 10. */
import { fieldsOf, type Field } from '@/ui/schema'
import type { Weights } from './useOrienting'

const props = defineProps<{ value: Weights }>()
const emit = defineEmits<{ change: [weights: Weights] }>()
const FIELDS = Object.entries(fieldsOf('Weights')) as [keyof Weights, Field][]
function set(name: keyof Weights, text: string): void {
  emit('change', { ...props.value, [name]: Number(text) })
}
</script>

<template>
  <div v-for="[name, field] in FIELDS" :key="name" class="row" :title="field.description">
    <label :for="`weight-${name}`">{{ field.title }}</label>
    <span class="slide">
      <input
        :id="`weight-${name}`"
        type="range"
        min="0"
        max="10"
        step="1"
        :value="value[name]"
        :data-test="`weight-${name}`"
        @change="set(name, ($event.target as HTMLInputElement).value)"
      />
      <output>{{ value[name] }}</output>
    </span>
  </div>
</template>

<style scoped>
.row {
  grid-template-columns: 104px 1fr;
}
.slide {
  display: grid;
  grid-template-columns: 1fr 22px;
  gap: 8px;
  align-items: center;
}
output {
  text-align: right;
}
</style>
