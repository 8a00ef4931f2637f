<script setup lang="ts">
/** Which pieces a parting cuts: all, or those ticked. */
import { computed } from 'vue'
import type { Parting } from '@/api/client'
import { useProject } from '@/stores/project'
import { keysBefore } from './partings'

const props = defineProps<{ parting: Parting }>()
const emit = defineEmits<{ change: [what: string, next: Parting] }>()
const project = useProject()

const before = computed(() =>
  project.plan ? keysBefore(project.plan, props.parting.id, project.pieces) : [],
)
const choices = computed(() => {
  const there = before.value
  const gone = (props.parting.only ?? []).filter((k) => !there.some((b) => b.key === k))
  return [...there, ...gone.map((key) => ({ key, numbers: [] as number[] }))]
})
const cutsWhat = computed(() => {
  const only = props.parting.only
  if (!only) return 'everything'
  const numbers = choices.value.filter((c) => only.includes(c.key)).flatMap((c) => c.numbers)
  return only.length === 0 ? 'nothing' : `only ${numbers.sort((a, b) => a - b).join(', ') || 'what is gone'}`
})
function setOnly(key: string, on: boolean): void {
  const all = before.value.map((b) => b.key)
  const only = new Set(props.parting.only ?? all)
  if (on) only.add(key)
  else only.delete(key)
  const everything = all.every((k) => only.has(k)) && [...only].every((k) => all.includes(k))
  emit('change', 'Pieces', { ...props.parting, only: everything ? null : [...only].sort() })
}
</script>

<template>
  <v-menu :close-on-content-click="false" location="top">
    <template #activator="{ props: menu }">
      <button v-bind="menu" class="ruled-button" data-test="cuts-only">{{ cutsWhat }} ▾</button>
    </template>
    <div class="menu">
      <label v-for="c in choices" :key="c.key">
        <input
          type="checkbox"
          :checked="!parting.only || parting.only.includes(c.key)"
          @change="setOnly(c.key, ($event.target as HTMLInputElement).checked)"
        />
        {{
          c.numbers.length
            ? `${c.numbers.length === 1 ? 'piece' : 'pieces'} ${c.numbers.join(', ')}`
            : `${c.key}: not there now`
        }}
      </label>
    </div>
  </v-menu>
</template>

<style scoped>
.ruled-button {
  background: none;
  border: 0;
  border-bottom: 1px solid var(--line-strong);
  text-align: left;
  padding: 3px 4px;
  cursor: pointer;
  width: fit-content;
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
