<script setup lang="ts">
/** The figures that the open part is made of; it follows as soon as one is changed. */
import { computed } from 'vue'
import { useProject } from '@/stores/project'
import { pointOf, useTools } from '@/stores/tools'
import { useParts } from '@/stores/parts'
import { kindOf } from '@/ui/schema'
import MakerForm from './MakerForm.vue'
import type { Maker } from './makers'

const project = useProject()
const tools = useTools()
const parts = useParts()
const made = computed(() => project.plan?.made ?? null)
const info = computed(() => (made.value ? kindOf('makers', made.value.kind) : null))
const host = computed(() => parts.parts.find((p) => p.id === made.value?.for_part))
const said = computed(() => project.build?.model?.said ?? [])

function change(changes: object, label: string): void {
  const maker = { ...made.value, ...changes } as Maker
  void project.command('change-made', { maker, label: label.slice(0, 120) })
}
async function pickCorner(): Promise<void> {
  const found = await tools.pick(['Click near the inner corner.'])
  if (found) change({ at_mm: pointOf(found[0]!) }, 'Corner')
}
</script>

<template>
  <div v-if="made && info" class="block" data-test="made-form">
    <h2>
      {{ info.name }} <small>{{ host ? `made for ${host.name}` : info.says }}</small>
    </h2>
    <MakerForm :maker="made" :part="made.for_part ?? 'q1'" @change="change" @pick="pickCorner" />
    <p v-for="sentence in said" :key="sentence" class="said" data-test="made-said">{{ sentence }}</p>
  </div>
</template>

<style scoped>
.said {
  margin: 6px 0 0;
  font-size: 12.5px;
  color: var(--moss);
}
</style>
