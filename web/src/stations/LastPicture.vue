<script setup lang="ts">
/** The last picture there is of a project, shown in the middle of the view until its model is built. */
import { ref } from 'vue'

const props = defineProps<{ project: string }>()
const there = ref(false)
</script>

<template>
  <figure v-show="there" class="last" data-test="last-picture">
    <img
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
