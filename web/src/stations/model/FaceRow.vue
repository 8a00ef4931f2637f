<script setup lang="ts">
/** The face something stands on: where, and which way it looks; picked anew with a click. */
import { fixed } from '@/api/format'
import { looks } from './makers'

defineProps<{ at: readonly number[]; facing: readonly number[] }>()
const emit = defineEmits<{ pick: [] }>()
</script>

<template>
  <div class="row">
    <span class="label">Face</span>
    <span>
      {{ at.map((v) => fixed(v, 1)).join(', ') }}, looks {{ looks(facing) }}
      <button class="chip" data-test="pick-face" @click="emit('pick')">Pick</button>
    </span>
  </div>
</template>
