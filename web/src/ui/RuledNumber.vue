<script setup lang="ts">
/** A number on a ruled line: typed, or moved by arrow keys in small and (with Shift) large steps. */
import { fixed } from '@/api/format'
import { ref, watch } from 'vue'

const props = withDefaults(
  defineProps<{
    modelValue: number | null
    label: string
    unit?: string
    step?: number
    min?: number
    max?: number
    digits?: number
    empty?: boolean
    /** what holds where it is empty */
    hint?: string
    /** Hinoki chose it, nobody typed it */
    chosen?: boolean
  }>(),
  { unit: 'mm', step: 1, min: -1e5, max: 1e5, digits: 1, empty: false, hint: '', chosen: false },
)
const emit = defineEmits<{ 'update:modelValue': [value: number | null] }>()
const text = ref('')
const wrong = ref('')

const written = (v: number | null) => (v === null ? '' : fixed(v, props.digits))
watch(
  () => props.modelValue,
  (v) => {
    text.value = written(v)
    wrong.value = ''
  },
  { immediate: true },
)

function keep(): void {
  const plain = text.value.trim().replace(',', '.')
  if (plain === '' && props.empty) {
    wrong.value = ''
    if (props.modelValue !== null) emit('update:modelValue', null)
    return
  }
  const value = Number(plain)
  if (plain === '' || !Number.isFinite(value)) wrong.value = 'Type a number.'
  else if (value < props.min || value > props.max) wrong.value = `Between ${props.min} and ${props.max}.`
  else {
    wrong.value = ''
    if (props.modelValue === null || Math.abs(value - props.modelValue) > 1e-9)
      emit('update:modelValue', value)
    else text.value = written(props.modelValue)
  }
}

function nudge(event: KeyboardEvent, way: number): void {
  event.preventDefault()
  const by = way * props.step * (event.shiftKey ? 10 : 1)
  const next = Math.min(props.max, Math.max(props.min, (Number(text.value) || 0) + by))
  text.value = written(next)
}
</script>

<template>
  <span class="ruled-number" :class="{ wrong }">
    <input
      v-model="text"
      inputmode="decimal"
      :class="{ chosen }"
      :aria-label="label"
      :placeholder="hint"
      :aria-invalid="wrong !== ''"
      :title="wrong || (chosen ? 'Hinoki chose this; type another' : undefined)"
      @change="keep"
      @keydown.up="nudge($event, 1)"
      @keydown.down="nudge($event, -1)"
      @keyup.up="keep"
      @keyup.down="keep"
    />
    <span class="unit">{{ unit }}</span>
    <span v-if="wrong" class="say" role="alert">{{ wrong }}</span>
  </span>
</template>

<style scoped>
.ruled-number {
  position: relative;
  display: inline-flex;
  align-items: baseline;
  border-bottom: 1px solid var(--ink);
  width: 84px;
}
input {
  font: inherit;
  color: inherit;
  border: 0;
  background: transparent;
  flex: 1 1 6.2ch;
  width: 6.2ch;
  min-width: 0;
  text-align: right;
  padding: 3px 3px 3px 0;
}
.chosen {
  color: var(--ink-soft);
  font-style: italic;
  padding-right: 6px;
}
.unit {
  color: var(--ink-soft);
  font-size: 12px;
  padding-right: 2px;
}
.wrong {
  border-color: var(--vermilion);
}
.say {
  position: absolute;
  top: 100%;
  left: 0;
  z-index: 2;
  white-space: nowrap;
  background: var(--sheet);
  border: 1px solid var(--vermilion);
  color: var(--vermilion);
  font-size: 11.5px;
  padding: 1px 6px;
}
</style>
