<script setup lang="ts">
/** Three numbers on ruled lines, along X, Y and Z. */
import RuledNumber from './RuledNumber.vue'

type Triple = [number, number, number]
const AXES = ['x', 'y', 'z'] as const
const props = withDefaults(
  defineProps<{
    modelValue: readonly number[]
    /** what each is called before its axis, such as “At” */
    label: string
    /** how tests find them, before the axis */
    test?: string
    unit?: string
    step?: number
    min?: number
    max?: number
    digits?: number
  }>(),
  { test: undefined, unit: 'mm', step: 1, min: -1e5, max: 1e5, digits: 1 },
)
const emit = defineEmits<{ 'update:modelValue': [value: Triple] }>()
function set(axis: number, value: number | null): void {
  if (value === null) return
  emit('update:modelValue', AXES.map((_, k) => (k === axis ? value : (props.modelValue[k] ?? 0))) as Triple)
}
</script>

<template>
  <span class="three">
    <RuledNumber
      v-for="(axis, k) in AXES"
      :key="axis"
      :label="`${label} ${axis.toUpperCase()}`"
      :model-value="modelValue[k] ?? 0"
      :unit="unit"
      :step="step"
      :min="min"
      :max="max"
      :digits="digits"
      :data-test="test && `${test}-${axis}`"
      @update:model-value="set(k, $event)"
    />
  </span>
</template>

<style scoped>
.three {
  display: flex;
  gap: 5px;
}
.three :deep(.ruled-number) {
  width: 63px;
}
</style>
