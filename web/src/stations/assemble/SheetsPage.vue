<script setup lang="ts">
/** Assembly sheets: drawn on the server, looked at here, taken as PDF or printed. */
import { computed } from 'vue'
import { useAssembly } from '@/stores/assembly'
import { useProject } from '@/stores/project'
import AskedBar from '@/ui/AskedBar.vue'
import SchemaForm from '@/ui/SchemaForm.vue'

const assembly = useAssembly()
const project = useProject()
const stale = computed(
  () => assembly.sheets !== null && assembly.sheets.revision !== project.revision?.revision,
)
</script>

<template>
  <div class="block">
    <h2>Assembly sheets</h2>
    <p class="soft">
      Title, hardware, tools, cut list, and one picture a step with balloons, arrows, hardware, glue and your
      notes and photographs.
    </p>
    <SchemaForm
      v-if="assembly.wish"
      schema="Assembling"
      :fields="['paper']"
      :value="assembly.wish"
      @change="(_, value) => assembly.edit(`Paper: ${value}`, { paper: value as 'A4' })"
    />
    <AskedBar
      v-if="assembly.drawing"
      :told="assembly.drawingTold"
      test="sheet-job"
      @stop="assembly.stopDrawing()"
    />
    <button
      v-else
      class="wide"
      data-test="draw-sheets"
      :disabled="!project.upToDate || !assembly.steps.length"
      @click="assembly.drawSheets()"
    >
      {{ assembly.sheets ? 'Draw them anew' : 'Draw the sheets' }}
    </button>
  </div>
  <div v-if="assembly.sheets" class="block" data-test="sheets">
    <p v-if="stale" class="look">Of revision {{ assembly.sheets.revision }}: the plan has changed since.</p>
    <div class="chips">
      <a class="chip" :href="assembly.sheetUrl('pdf')!" download data-test="sheet-pdf">Save as PDF</a>
      <a class="chip" :href="assembly.sheetUrl('html')!" target="_blank" data-test="sheet-html"
        >Page to print</a
      >
    </div>
  </div>
</template>

<style scoped>
p {
  margin: 0 0 6px;
}
</style>
