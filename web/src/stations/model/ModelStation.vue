<script setup lang="ts">
/** Model: what was brought in, the state of its surface, and what is changed before it is divided. */
import { computed, onBeforeUnmount, ref } from 'vue'
import { useLookAnew } from '@/stores/lookAnew'
import { useTools } from '@/stores/tools'
import { useViewport } from '@/stores/viewport'
import { aboutParts, useParts } from '@/stores/parts'
import { useProject } from '@/stores/project'
import FileSheet from './FileSheet.vue'
import PicturesBlock from './PicturesBlock.vue'
import PartsSheet from './PartsSheet.vue'
import StepsSheet from './StepsSheet.vue'
import SurfaceSheet from './SurfaceSheet.vue'

const project = useProject()
const tools = useTools()
const viewport = useViewport()
const anew = useLookAnew()
const SHEETS = [
  { id: 'file', name: 'What it is' },
  { id: 'surface', name: 'Make it right' },
  { id: 'shape', name: 'Prepare' },
  { id: 'parts', name: 'Parts' },
] as const
const sheet = ref<(typeof SHEETS)[number]['id']>('file')
const waiting = computed(
  () =>
    project.findings.filter(
      (f) => f.station === 'model' && f.severity !== 'note' && !f.step && !aboutParts(f),
    ).length,
)
const parts = useParts()
const inParts = computed(() => parts.findings.length)
const stuck = computed(() => project.findings.filter((f) => f.step && f.severity === 'must-fix').length)

function turnTo(id: (typeof SHEETS)[number]['id']): void {
  sheet.value = id
  tools.stop()
  viewport.marks = []
  viewport.otherMesh = viewport.play = null
}
onBeforeUnmount(() => anew.plain())
</script>

<template>
  <div class="sheets" role="tablist" aria-label="Sheets of the model">
    <button
      v-for="s in SHEETS"
      :key="s.id"
      role="tab"
      :aria-selected="sheet === s.id"
      :data-test="`sheet-${s.id}`"
      @click="turnTo(s.id)"
    >
      {{ s.name }}
      <b v-if="s.id === 'surface' && waiting" class="look">{{ waiting }}</b>
      <b v-if="s.id === 'shape' && stuck" class="bad">{{ stuck }}</b>
      <b v-if="s.id === 'parts' && inParts" class="bad">{{ inParts }}</b>
    </button>
  </div>
  <template v-if="sheet === 'file'">
    <FileSheet />
    <PicturesBlock v-if="project.begun" />
  </template>
  <SurfaceSheet v-else-if="sheet === 'surface'" />
  <StepsSheet v-else-if="sheet === 'shape'" />
  <PartsSheet v-else />
</template>

<style scoped>
.sheets {
  display: flex;
  gap: 14px;
  padding: 0 16px;
  border-bottom: 1px solid var(--line-strong);
  position: sticky;
  top: 0;
  background: var(--sheet);
  z-index: 2;
}
.sheets button {
  background: none;
  border: 0;
  border-bottom: 2px solid transparent;
  padding: 9px 0 7px;
  cursor: pointer;
  color: var(--ink-soft);
}
.sheets button[aria-selected='true'] {
  color: var(--ink);
  font-weight: 600;
  border-color: var(--cedar);
}
b {
  font-weight: 600;
}
</style>
