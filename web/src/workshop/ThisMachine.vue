<script setup lang="ts">
/** What is kept in this browser alone. */
import LanguageChoice from './LanguageChoice.vue'
import { lightDrawing, setLightDrawing } from '@/view3d/lightDrawing'

const change = (event: Event): void => setLightDrawing((event.target as HTMLInputElement).checked)
</script>

<template>
  <h2>This machine</h2>
  <label class="light">
    <input type="checkbox" :checked="lightDrawing" data-test="light-drawing" @change="change" />
    Light drawing
  </label>
  <p class="soft">
    Draws the model with fewer pixels and without moving transitions. For a machine on which turning the model
    is slow; kept in this browser only.
  </p>
  <LanguageChoice />
</template>

<style scoped>
h2 {
  margin-top: 18px;
}
.light {
  display: flex;
  gap: 8px;
  align-items: center;
}
p {
  font-size: 12px;
}
</style>
