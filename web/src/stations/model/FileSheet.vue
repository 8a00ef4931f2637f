<script setup lang="ts">
/** What was brought in: files, unit, objects; the printer and material; whether it fits. */
import { computed, ref, shallowRef, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import { type Plan } from '@/api/client'
import { cm3, count, size } from '@/api/format'
import { finished } from '@/api/jobs'
import { asked } from '@/api/operations'
import { uploadModel, type Upload } from '@/api/upload'
import { useProject } from '@/stores/project'
import { useWholeJob } from '@/stores/wholeJob'
import FitTable from './FitTable.vue'
import { ACCEPTED } from './formats'
import MachineChoice from './MachineChoice.vue'

const FORMATS = ['stl', '3mf', 'obj', 'ply', 'glb'] as const
const project = useProject()
const wholeJob = useWholeJob()
const router = useRouter()
const picker = useTemplateRef<HTMLInputElement>('picker')
const over = ref(false)
const adding = ref(false)
const sending = shallowRef<Upload | null>(null)
const sent = ref(0)
const model = computed(() => project.build?.model ?? null)
const use = computed(() => project.plan?.model ?? null)
const files = computed(() => (use.value ? [use.value, ...(project.plan?.also ?? [])] : []))
const leftOut = computed(() => files.value.flatMap((f) => f.left_out ?? []))
const UNITS = { mm: 'millimetres', cm: 'centimetres', m: 'metres', inch: 'inches', foot: 'feet' } as const
const PER = { mm: 1, cm: 10, m: 1000, inch: 25.4, foot: 304.8 } as const
type Unit = keyof typeof UNITS

/** The model's largest size if its numbers were in another unit; steps that set a size of their own make it the same. */
const across = (unit: Unit): string => {
  const now = use.value?.unit
  if (!now || !model.value) return ''
  const raw = Math.max(...model.value.size_mm) / PER[now]
  return `${(raw * PER[unit]).toPrecision(4).replace(/\.?0+$/, '')} mm`
}

async function bring(list: FileList | null | undefined): Promise<void> {
  over.value = false
  let add = adding.value
  for (const file of list ?? []) {
    const now = project.revision
    if (!now || sending.value) return
    sent.value = 0
    const upload = uploadModel(
      now.project_id,
      file,
      now.revision,
      (f) => (sent.value = f),
      add ? 'add' : 'model',
    )
    sending.value = upload
    project.bringing = file.name
    try {
      project.took(await upload.done)
      add = true // several files at once make one project
    } catch (error) {
      await project.refused(error)
    } finally {
      sending.value = null
      project.bringing = ''
    }
  }
  adding.value = false
  if (picker.value) picker.value.value = ''
}

function planIt(): void {
  void wholeJob.plan()
  void router.push(`/projects/${project.revision!.project_id}/whole-job`)
}

function choose(add: boolean): void {
  adding.value = add
  picker.value?.click()
}

function setUnit(unit: Unit, at = 0): void {
  void project.edit(`Unit: ${UNITS[unit]}`, (plan: Plan) => {
    const picked = { unit, unit_from: 'picked' as const, unit_reason: '' }
    if (at === 0 && plan.model) plan.model = { ...plan.model, ...picked }
    else plan.also = (plan.also ?? []).map((f, k) => (k === at - 1 ? { ...f, ...picked } : f))
  })
}
function drop(at: number): void {
  const gone = files.value[at]
  void project.edit(`Took out ${gone?.file_name}`, (plan: Plan) => {
    plan.also = (plan.also ?? []).filter((_, k) => k !== at - 1)
  })
}

async function save(ending: string): Promise<void> {
  const id = project.revision?.project_id
  if (!id || !ending) return
  try {
    const job = await asked('model-file', id, { ending: ending as (typeof FORMATS)[number] })
    const link = document.createElement('a')
    link.href = `/api/model-files/${await finished(job)}`
    link.download = ''
    link.click()
  } catch (error) {
    await project.refused(error)
  }
}
</script>

<template>
  <div class="block">
    <div
      class="drop"
      :class="{ over }"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="bring($event.dataTransfer?.files)"
    >
      <template v-if="sending">
        <span>{{ sent < 1 ? `Sending ${project.bringing}` : `Reading ${project.bringing}` }}</span>
        <v-progress-linear
          aria-label="Sending the model"
          :model-value="sent * 100"
          :indeterminate="sent >= 1"
          color="primary"
          height="5"
        />
        <button class="chip" @click="sending.stop()">Stop</button>
      </template>
      <template v-else>
        <span>Drop model files here</span>
        <span class="soft small">STL, 3MF, OBJ, PLY, OFF, GLB, STEP</span>
        <span class="chips">
          <button class="chip" data-test="pick" @click="choose(false)">
            {{ use ? 'Bring in another' : 'Choose a file' }}
          </button>
          <button v-if="use" class="chip" data-test="add-file" @click="choose(true)">Add a file</button>
        </span>
      </template>
      <input
        ref="picker"
        type="file"
        :accept="ACCEPTED"
        multiple
        hidden
        data-test="file"
        @change="bring(picker?.files)"
      />
    </div>
    <div v-if="use && use.unit_from === 'proposed'" class="ask" data-test="unit-question">
      <b>Which unit?</b> The file does not say. {{ use.unit_reason }}
      <span class="chips">
        <button
          v-for="(name, unit) in UNITS"
          :key="unit"
          class="chip"
          :class="{ on: unit === use.unit }"
          :data-test="`unit-${unit}`"
          @click="setUnit(unit)"
        >
          {{ name }} · {{ across(unit) }}
        </button>
      </span>
    </div>
    <dl v-if="model" data-test="model-facts">
      <dt>{{ use ? 'File' : 'Made' }}</dt>
      <dd>
        {{ use ? files.map((f) => f.file_name).join(', ') : `${model.name}; its figures are at Parts` }}
      </dd>
      <dt>Size</dt>
      <dd>{{ size(model.size_mm) }} mm</dd>
      <dt>Volume</dt>
      <dd>{{ cm3(model.volume_mm3) }} · {{ count(Math.round(model.mass_g)) }} g solid</dd>
      <dt>Triangles</dt>
      <dd>{{ count(model.triangles) }}</dd>
      <dt>Surface</dt>
      <dd :class="model.closed ? 'good' : 'bad'">
        {{ model.closed ? 'closed' : `not closed: ${count(model.open_edges)} open edges` }}
      </dd>
    </dl>
    <div v-if="use" class="row">
      <label for="unit">Drawn in</label>
      <select
        id="unit"
        class="ruled"
        data-test="unit"
        :value="use.unit"
        @change="setUnit(($event.target as HTMLSelectElement).value as Unit)"
      >
        <option v-for="(name, unit) in UNITS" :key="unit" :value="unit">{{ name }}</option>
      </select>
    </div>
    <div v-if="model" class="row">
      <label for="save-as">Save as</label>
      <select
        id="save-as"
        class="ruled"
        data-test="save-as"
        value=""
        @change="save(($event.target as HTMLSelectElement).value)"
      >
        <option value="">the model as prepared …</option>
        <option v-for="f in FORMATS" :key="f" :value="f">{{ f.toUpperCase() }}</option>
      </select>
    </div>
    <p v-for="sentence in leftOut" :key="sentence" class="look small">Left out: {{ sentence }}.</p>
  </div>
  <div v-if="files.length > 1 || (model?.objects?.length ?? 0) > 1" class="block">
    <h2>
      Objects <small>{{ model?.objects?.length }}</small>
    </h2>
    <ul class="objects">
      <li v-for="o in model?.objects" :key="o.name" data-test="object">
        <span class="grow">{{ o.name }}</span>
        <span class="soft">{{ size(o.size_mm) }}</span>
        <span v-if="!o.closed" class="bad">open</span>
      </li>
    </ul>
    <div v-for="(f, k) in files.slice(1)" :key="f.source" class="row also">
      <span class="grow">{{ f.file_name }}</span>
      <span class="chips">
        <select
          class="ruled"
          :aria-label="`Unit of ${f.file_name}`"
          :value="f.unit"
          @change="setUnit(($event.target as HTMLSelectElement).value as Unit, k + 1)"
        >
          <option v-for="(name, unit) in UNITS" :key="unit" :value="unit">{{ name }}</option>
        </select>
        <button class="chip" @click="drop(k + 1)">Take out</button>
      </span>
    </div>
  </div>
  <div class="block"><MachineChoice /></div>
  <div v-if="use && !project.plan?.partings?.length" class="block">
    <button class="wide" data-test="plan-it" :disabled="wholeJob.planning" @click="planIt">
      Plan the whole job
    </button>
    <p class="soft small">
      Divided, joined, laid and put in order by Hinoki; all of it can be changed after.
    </p>
  </div>
  <div class="block">
    <h2>Does it fit?</h2>
    <FitTable />
  </div>
</template>

<style scoped>
.drop {
  border: 1px dashed var(--line-strong);
  padding: 10px;
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 5px;
  text-align: center;
}
.drop.over {
  border-color: var(--cedar);
  background: var(--cedar-tint);
}
.small {
  font-size: 12px;
}
.ask {
  border-left: 3px solid var(--ochre);
  padding: 2px 0 2px 9px;
  margin-top: 10px;
  font-size: 12.5px;
}
.ask .chips {
  margin-top: 6px;
}
.ask .chip.on {
  border-color: var(--cedar);
  color: var(--cedar);
}
dl {
  display: grid;
  grid-template-columns: 72px 1fr;
  gap: 5px 10px;
  margin: 10px 0 4px;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.objects {
  list-style: none;
  margin: 0;
  padding: 0;
  font-size: 12.5px;
}
.objects li {
  display: flex;
  gap: 8px;
}
.grow {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
}
.also {
  grid-template-columns: 1fr auto;
}
</style>
