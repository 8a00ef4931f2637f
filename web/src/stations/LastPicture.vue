<script setup lang="ts">
/** The last picture there is of a project, shown in the middle of the view until its model is built. */
import { useTimeoutFn } from '@vueuse/core'
import { ref } from 'vue'

/** what is there so soon is not announced by a picture */
const SOON_MS = 400
const props = defineProps<{ project: string }>()
const there = ref(false)
const late = ref(false)
useTimeoutFn(() => (late.value = true), SOON_MS)
</script>

<template>
  <figure v-show="there" class="last" data-test="last-picture">
    <img
      v-if="late"
      :src="`/api/projects/${props.project}/picture`"
      alt="The project as it was last"
      @load="there = true"
    />
    <figcaption class="soft">as it was last; being built now</figcaption>
  </figure>
</template>

<style scoped>
.last {
  position: absolute;
  inset: 0;
  margin: 0;
  display: grid;
  place-content: center;
  justify-items: center;
  gap: 6px;
  pointer-events: none;
}
.last img {
  width: min(52vw, 720px);
  opacity: 0.55;
  mix-blend-mode: multiply;
}
</style>
