<script setup lang="ts">
/** A button that opens a sheet of kinds under their headings; one is taken. */
import { ref } from 'vue'
import type { Kind } from './schema'

defineProps<{
  label: string
  groups: { name: string; kinds: Kind[] }[]
  disabled?: boolean
  /** how tests find the button, and, before its kind, each choice */
  test: string
  item: string
}>()
const emit = defineEmits<{ take: [kind: string] }>()
const open = ref(false)

function take(kind: string): void {
  open.value = false
  emit('take', kind)
}
</script>

<template>
  <v-menu v-model="open" :close-on-content-click="false">
    <template #activator="{ props: menu }">
      <button v-bind="menu" class="chip" :disabled="disabled" :data-test="test">{{ label }}</button>
    </template>
    <div class="kinds">
      <div v-for="group in groups" :key="group.name">
        <h2>{{ group.name }}</h2>
        <button
          v-for="k in group.kinds"
          :key="k.kind"
          class="plain"
          :data-test="`${item}-${k.kind}`"
          @click="take(k.kind)"
        >
          {{ k.name }} <span class="soft">{{ k.says }}</span>
        </button>
      </div>
    </div>
  </v-menu>
</template>

<style scoped>
.kinds {
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  padding: 12px 18px;
  display: flex;
  flex-wrap: wrap;
  gap: 14px 26px;
}
.kinds > div {
  display: flex;
  flex-direction: column;
  gap: 7px;
}
.kinds button:hover {
  color: var(--cedar);
}
</style>
