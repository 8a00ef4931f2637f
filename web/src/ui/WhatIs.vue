<script setup lang="ts">
/** What a word of a heading means, for who asks. */
import { meaningOf } from './words'

const props = defineProps<{ word: string }>()
const meaning = meaningOf(props.word)
</script>

<template>
  <v-menu location="bottom start" :close-on-content-click="false">
    <template #activator="{ props: opens }">
      <button v-bind="opens" class="what" :aria-label="`What is it: ${word}`">what is it?</button>
    </template>
    <div class="menu told" role="note">
      <strong>{{ word }}</strong>
      <span>{{ meaning }}</span>
    </div>
  </v-menu>
</template>

<style scoped>
.what {
  margin-left: auto;
  padding: 0 2px;
  border: 0;
  background: none;
  color: var(--indigo);
  font-size: 11.5px;
  font-weight: 400;
  white-space: nowrap;
  cursor: pointer;
}
.told {
  max-width: 300px;
}
.told strong::first-letter {
  text-transform: uppercase;
}
</style>
