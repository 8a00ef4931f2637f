<script setup lang="ts">
/** Plays an assembly along its true paths, and spreads it by steps. */
import { computed } from 'vue'
import { useAssembly } from '@/stores/assembly'

const assembly = useAssembly()
const at = computed({
  get: () => assembly.at,
  set: (value: number) => {
    assembly.playing = false
    assembly.apart = 0
    assembly.at = value
  },
})
const apart = computed({
  get: () => assembly.apart,
  set: (value: number) => {
    assembly.playing = false
    assembly.apart = value
  },
})
</script>

<template>
  <div class="play-bar" role="group" aria-label="Play the assembly">
    <button
      class="chip"
      :aria-pressed="assembly.playing"
      data-test="play"
      @click="assembly.playing = !assembly.playing"
    >
      {{ assembly.playing ? 'Pause' : 'Play' }}
    </button>
    <label class="run">
      <span class="soft">Step {{ assembly.step?.step ?? 0 }} of {{ assembly.steps.length }}</span>
      <v-slider
        v-model="at"
        :min="0"
        :max="assembly.steps.length"
        :step="0.01"
        hide-details
        density="compact"
        aria-label="How far the assembly is"
        data-test="scrubber"
      />
    </label>
    <label class="apart">
      <span class="soft">Apart</span>
      <v-slider
        v-model="apart"
        :min="0"
        :max="1"
        :step="0.01"
        hide-details
        density="compact"
        aria-label="Apart by steps"
        data-test="apart"
      />
    </label>
    <label class="own"
      ><input v-model="assembly.ownView" type="checkbox" data-test="own-view" /> step’s own view</label
    >
  </div>
</template>

<style scoped>
.apart {
  flex: 1;
  display: flex;
  align-items: center;
  gap: 10px;
  min-width: 90px;
}
.own {
  white-space: nowrap;
  font-size: 12px;
}
@container (max-width: 560px) {
  .apart,
  .own {
    display: none;
  }
}
</style>
