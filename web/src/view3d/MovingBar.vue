<script setup lang="ts">
/** Plays what moves through a driver's travel. */
import { computed } from 'vue'
import { fixed } from '@/api/format'
import { useMoving } from '@/stores/moving'

const moving = useMoving()
const share = computed({
  get: () => moving.share,
  set: (to: number) => {
    moving.playing = false
    moving.go(to)
  },
})
const says = computed(() => {
  const driver = moving.travel?.movement ?? ''
  if (moving.resting) return `${moving.labelOf(driver)} at rest`
  return `${moving.labelOf(driver)} ${fixed(moving.value, 1)}${moving.unitOf(driver)}`
})
</script>

<template>
  <div class="play-bar" role="group" aria-label="Play what moves">
    <button
      class="chip"
      :aria-pressed="moving.playing"
      data-test="play-moving"
      @click="moving.playing = !moving.playing"
    >
      {{ moving.playing ? 'Pause' : 'Play' }}
    </button>
    <label class="run">
      <span class="soft" data-test="moved-to">{{ says }}</span>
      <v-slider
        v-model="share"
        :min="0"
        :max="1"
        :step="0.002"
        hide-details
        density="compact"
        aria-label="How far it has moved"
        data-test="moving-scrubber"
      />
    </label>
    <button class="chip" :disabled="moving.resting" data-test="moving-rest" @click="moving.rest()">
      At rest
    </button>
  </div>
</template>
