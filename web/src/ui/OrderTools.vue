<script setup lang="ts">
/** The tools of a chosen row in an ordered list: earlier, later, on or off, take out. */
import { mdiArrowDown, mdiArrowUp, mdiDeleteOutline } from '@mdi/js'

defineProps<{ first: boolean; last: boolean; on: boolean; onWord: string; outWord: string; test: string }>()
const emit = defineEmits<{ shift: [by: number]; on: [on: boolean]; out: [] }>()
</script>

<template>
  <span class="tools" @click.stop>
    <v-btn
      :icon="mdiArrowUp"
      variant="text"
      size="22"
      aria-label="Earlier"
      :disabled="first"
      @click="emit('shift', -1)"
    />
    <v-btn
      :icon="mdiArrowDown"
      variant="text"
      size="22"
      aria-label="Later"
      :disabled="last"
      @click="emit('shift', 1)"
    />
    <input
      type="checkbox"
      :checked="on"
      :title="onWord"
      :aria-label="onWord"
      :data-test="`${test}-on`"
      @change="emit('on', ($event.target as HTMLInputElement).checked)"
    />
    <v-btn
      :icon="mdiDeleteOutline"
      variant="text"
      size="22"
      :aria-label="outWord"
      :data-test="`${test}-remove`"
      @click="emit('out')"
    />
  </span>
</template>

<style scoped>
.tools {
  display: flex;
  align-items: center;
  gap: 2px;
}
</style>
