<script setup lang="ts">
/** What the server is working on for this page, how much of it is done, and a way to stop it. */
defineProps<{ told: { phrase: string; fraction: number }; test: string }>()
const emit = defineEmits<{ stop: [] }>()
</script>

<template>
  <div class="asked" role="status" :data-test="test">
    <span>{{ told.phrase || 'Waiting …' }}</span>
    <button class="chip" @click="emit('stop')">Stop</button>
    <v-progress-linear
      :aria-label="told.phrase || 'Waiting …'"
      :model-value="told.fraction * 100"
      color="primary"
      height="4"
    />
  </div>
</template>

<style scoped>
.asked {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 4px 10px;
  align-items: center;
  font-size: 12px;
}
.asked :deep(.v-progress-linear) {
  grid-column: 1 / -1;
}
</style>
