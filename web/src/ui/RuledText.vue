<script setup lang="ts">
/**
 * Words on a ruled line. What is being typed stays, whatever comes in meanwhile; Enter and leaving the field take it, Escape
 * gives back what was there.
 */
import { ref, watch } from 'vue'

const props = defineProps<{ modelValue: string | null | undefined; label: string }>()
const emit = defineEmits<{ 'update:modelValue': [value: string] }>()
const text = ref('')
const typing = ref(false)
watch(
  () => props.modelValue,
  (value) => {
    if (!typing.value) text.value = value ?? ''
  },
  { immediate: true },
)

function keep(): void {
  typing.value = false
  if (text.value !== (props.modelValue ?? '')) emit('update:modelValue', text.value)
}
function leave(): void {
  typing.value = false
  text.value = props.modelValue ?? ''
}
</script>

<template>
  <input
    v-model="text"
    class="ruled"
    :aria-label="label"
    @input="typing = true"
    @change="keep"
    @keydown.esc="leave"
  />
</template>
