<script setup lang="ts">
/** How much of something is done, as a small bar; the figures stand beside it in words. */
const props = defineProps<{ done: number; all: number }>()
const share = () => (props.all > 0 ? Math.min(100, (100 * props.done) / props.all) : 0)
</script>

<template>
  <span class="track" aria-hidden="true"><i :style="{ width: `${share()}%` }"></i></span>
</template>

<style scoped>
.track {
  width: 76px;
  height: 7px;
  flex: none;
  border: 1px solid var(--line-strong);
  background: var(--paper);
}
.track i {
  display: block;
  height: 100%;
  background: var(--moss);
}
</style>
