<script setup lang="ts">
/** What goes out in one ZIP, and what went out before, in which revision. */
import { shallowRef, useTemplateRef, watch } from 'vue'
import { api, got, type Schemas } from '@/api/client'
import { readJson } from '@/api/jsonFile'
import { useProject } from '@/stores/project'
import SchemaForm from '@/ui/SchemaForm.vue'
import { dateLanguage } from '@/words/language'

const project = useProject()
const went = shallowRef<Schemas['WentView'][]>([])
async function load(): Promise<void> {
  const id = project.revision?.project_id
  if (!id) return
  try {
    const params = { path: { project_id: id } }
    went.value = got<Schemas['WentView'][]>(await api.GET('/api/projects/{project_id}/exports', { params }))
  } catch (error) {
    await project.refused(error)
  }
}
watch([() => project.exporting, () => project.upToDate], () => project.exporting ?? load(), {
  immediate: true,
})
const picker = useTemplateRef<HTMLInputElement>('picker')
async function take(): Promise<void> {
  const file = picker.value?.files?.[0]
  const now = project.revision
  if (!file || !now) return
  try {
    const plan = await readJson(file, 'a plan saved from Hinoki')
    const params = { path: { project_id: now.project_id } }
    const body = { base_revision: now.revision, plan }
    project.took(
      got<Schemas['RevisionView']>(await api.POST('/api/projects/{project_id}/take-plan', { params, body })),
    )
    project.say(`Following ${file.name}. What did not match is among the findings at Check.`)
  } catch (error) {
    await project.refused(error)
  } finally {
    picker.value!.value = ''
  }
}
function set(field: string, value: unknown): void {
  project.exportWish = { ...project.exportWish, [field]: value }
}
const day = (at: string) =>
  new Date(at).toLocaleString(dateLanguage(), { dateStyle: 'medium', timeStyle: 'short' })
const since = (w: Schemas['WentView']) => {
  if (w.changed === null || w.gone === null) return 'being built'
  const parts = []
  if (w.changed.length) parts.push(`changed since: ${w.changed.join(', ')}`)
  if (w.gone.length) parts.push(`no more: ${w.gone.join(', ')}`)
  return parts.join('; ') || 'nothing has changed since'
}
</script>

<template>
  <div class="block">
    <h2>Files out <small>in one ZIP</small></h2>
    <p class="soft small">
      A 3MF for every batch, every piece as it lies, the cut list and hardware as CSV, the plan and the report
      always go out.
    </p>
    <SchemaForm
      schema="ExportWish"
      :value="project.exportWish"
      :words="{ pieces: { stl: 'STL', obj: 'OBJ', ply: 'PLY' } }"
      @change="set"
    />
    <button
      class="wide"
      data-test="export-all"
      :disabled="project.exporting !== null || !project.upToDate"
      @click="project.exportPieces()"
    >
      {{ project.exporting ? project.exporting.phrase : 'Export everything' }}
    </button>
  </div>
  <div class="block">
    <h2>The plan <small>an open file</small></h2>
    <p class="soft small">
      What you decided, without the model. A plan from elsewhere is followed on this project's model; what
      does not match is kept, and the findings say so.
    </p>
    <div class="chips">
      <a class="chip" :href="`/api/projects/${project.revision?.project_id}/plan.json`" download="plan.json"
        >Save the plan</a
      >
      <button class="chip" data-test="take-plan" @click="picker?.click()">Follow another plan</button>
      <input ref="picker" type="file" accept=".json" hidden data-test="plan-file" @change="take" />
    </div>
  </div>
  <div v-if="went.length" class="block" data-test="went-out">
    <h2>Went out</h2>
    <p v-for="(w, k) in went" :key="k" class="small" data-test="went">
      <b>Revision {{ w.revision }}</b
      >, {{ day(w.at) }}: {{ w.pieces }} pieces in {{ w.batches }}
      {{ w.batches === 1 ? 'batch' : 'batches' }};
      <span :class="w.changed?.length || w.gone?.length ? 'look' : 'good'">{{ since(w) }}</span>
    </p>
  </div>
</template>

<style scoped>
.small {
  font-size: 12px;
  margin: 0 0 6px;
}
.wide {
  margin-top: 10px;
}
</style>
