<script setup lang="ts">
/** Above a long list: a field to look for words in it, and how many of its rows have them. */
const props = defineProps<{ count: number; shown: number; of: string }>()
const looked = defineModel<string>({ required: true })
const LONG = 10
const long = () => props.count > LONG || looked.value !== ''
</script>

<template>
  <div v-if="long()" class="search">
    <input
      v-model="looked"
      class="ruled"
      type="search"
      :placeholder="`look for ${of}`"
      :aria-label="`Look for ${of}`"
      :data-test="`look-for-${of}`"
    />
    <small v-if="looked" aria-live="polite">{{ shown }} of {{ count }}</small>
  </div>
</template>

<style scoped>
.search {
  display: flex;
  align-items: baseline;
  gap: 8px;
  margin-bottom: 4px;
}
small {
  flex: none;
  color: var(--ink-soft);
}
</style>
