<script setup lang="ts">
/** Which way is up: one of the six axes, or a face picked in the view. */
import { computed } from 'vue'

const props = defineProps<{ down: [number, number, number] }>()
const emit = defineEmits<{ down: [down: [number, number, number]]; pick: [] }>()
const WAYS: { name: string; down: [number, number, number] }[] = [
  { name: 'Z up', down: [0, 0, -1] },
  { name: 'Y up', down: [0, -1, 0] },
  { name: 'X up', down: [-1, 0, 0] },
  { name: 'Z down', down: [0, 0, 1] },
  { name: 'Y down', down: [0, 1, 0] },
  { name: 'X down', down: [1, 0, 0] },
]
const now = computed(
  () => WAYS.find((w) => w.down.every((v, k) => Math.abs(v - props.down[k]!) < 1e-6))?.name,
)
</script>

<template>
  <div class="chips" role="radiogroup" aria-label="Which way is up">
    <button
      v-for="way in WAYS"
      :key="way.name"
      class="chip"
      role="radio"
      :aria-checked="way.name === now"
      :data-test="`stand-${way.name.toLowerCase().replace(' ', '-')}`"
      @click="emit('down', way.down)"
    >
      {{ way.name }}
    </button>
    <button class="chip" role="radio" :aria-checked="!now" data-test="stand-pick" @click="emit('pick')">
      Pick a face
    </button>
  </div>
</template>

<style scoped>
.chip[aria-checked='true'] {
  background: var(--ink);
  border-color: var(--ink);
  color: var(--sheet);
}
</style>
