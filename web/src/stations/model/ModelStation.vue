<script setup lang="ts">
import { computed, ref, shallowRef, useTemplateRef } from 'vue'
import type { Printer } from '@/api/client'
import { cm3, count, size } from '@/api/format'
import { uploadModel, type Upload } from '@/api/upload'
import { useProject } from '@/stores/project'
import FindingList from '@/ui/FindingList.vue'
import RuledNumber from '@/ui/RuledNumber.vue'
import FitTable from './FitTable.vue'

const project = useProject()
const picker = useTemplateRef<HTMLInputElement>('picker')
const over = ref(false)
const sending = shallowRef<{ upload: Upload; name: string } | null>(null)
const sent = ref(0)
const model = computed(() => project.build?.model ?? null)
const findings = computed(() => project.findings.filter((f) => f.station === 'model'))
const UNITS = { mm: 'millimetres', cm: 'centimetres', m: 'metres', inch: 'inches', foot: 'feet' } as const

async function bring(files: FileList | null | undefined): Promise<void> {
  over.value = false
  const file = files?.[0]
  const now = project.revision
  if (!file || !now || sending.value) return
  sent.value = 0
  const upload = uploadModel(now.project_id, file, now.revision, (fraction) => (sent.value = fraction))
  sending.value = { upload, name: file.name }
  try {
    project.took(await upload.done)
  } catch (error) {
    await project.refused(error)
  } finally {
    sending.value = null
    if (picker.value) picker.value.value = ''
  }
}

function setUnit(unit: string): void {
  void project.edit(`Unit: ${UNITS[unit as keyof typeof UNITS]}`, (plan) => {
    if (plan.model) plan.model = { ...plan.model, unit: unit as keyof typeof UNITS }
  })
}

const known = computed(() => project.printers.some((p) => same(p, project.printer)))
const same = (a: Printer, b: Printer | null) =>
  b !== null && a.id === b.id && a.height_mm === b.height_mm && String(a.bed_mm) === String(b.bed_mm)
function setPrinter(id: string): void {
  const found = project.printers.find((p) => p.id === id)
  if (found) void project.edit(`Printer: ${found.name}`, (plan) => void (plan.printer = found))
}
function setSide(axis: number, value: number | null): void {
  const now = project.printer
  if (!now || value === null) return
  const bed: [number, number] = [...now.bed_mm]
  if (axis < 2) bed[axis] = value
  const next: Printer = {
    ...now,
    id: 'typed',
    name: 'Typed bed',
    bed_mm: bed,
    height_mm: axis === 2 ? value : now.height_mm,
  }
  void project.edit('Size of the bed', (plan) => void (plan.printer = next))
}
</script>

<template>
  <div class="block">
    <h2>Model</h2>
    <div
      class="drop"
      :class="{ over }"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="bring($event.dataTransfer?.files)"
    >
      <template v-if="sending">
        <span>{{ sent < 1 ? `Sending ${sending.name}` : `Reading ${sending.name}` }}</span>
        <v-progress-linear :model-value="sent * 100" :indeterminate="sent >= 1" color="primary" height="5" />
        <button class="chip" @click="sending.upload.stop()">Stop</button>
      </template>
      <template v-else>
        <span>Drop an STL file here</span>
        <button class="chip" data-test="pick" @click="picker?.click()">
          {{ model ? 'Bring in another file' : 'Choose a file' }}
        </button>
      </template>
      <input ref="picker" type="file" accept=".stl" hidden data-test="file" @change="bring(picker?.files)" />
    </div>
    <dl v-if="model" data-test="model-facts">
      <dt>File</dt>
      <dd>{{ model.name }}</dd>
      <dt>Size</dt>
      <dd>{{ size(model.size_mm) }} mm</dd>
      <dt>Volume</dt>
      <dd>{{ cm3(model.volume_mm3) }}</dd>
      <dt>Triangles</dt>
      <dd>{{ count(model.triangles) }}</dd>
      <dt>Surface</dt>
      <dd :class="model.closed ? 'good' : 'bad'">
        {{ model.closed ? 'closed' : `open: ${count(model.open_edges)} open edges` }}
      </dd>
    </dl>
    <div v-if="project.plan?.model" class="row">
      <label for="unit">Drawn in</label>
      <select
        id="unit"
        class="ruled"
        data-test="unit"
        :value="project.plan.model.unit"
        @change="setUnit(($event.target as HTMLSelectElement).value)"
      >
        <option v-for="(name, unit) in UNITS" :key="unit" :value="unit">{{ name }}</option>
      </select>
    </div>
  </div>
  <div class="block">
    <h2>Printer</h2>
    <select
      class="ruled"
      aria-label="Printer"
      data-test="printer"
      :value="known ? project.printer?.id : 'typed'"
      @change="setPrinter(($event.target as HTMLSelectElement).value)"
    >
      <option v-for="p in project.printers" :key="p.id" :value="p.id">
        {{ p.name }} · {{ p.bed_mm.join(' × ') }} × {{ p.height_mm }}
      </option>
      <option v-if="!known" value="typed">Typed bed</option>
    </select>
    <div v-if="project.printer" class="sides">
      <RuledNumber
        v-for="(axis, k) in ['Width X', 'Depth Y', 'Height Z']"
        :key="axis"
        :model-value="k < 2 ? project.printer.bed_mm[k]! : project.printer.height_mm"
        :label="`Bed ${axis}`"
        :min="1"
        :max="5000"
        :digits="0"
        :data-test="`bed-${k}`"
        @update:model-value="setSide(k, $event)"
      />
    </div>
  </div>
  <div class="block">
    <h2>Does it fit?</h2>
    <FitTable />
  </div>
  <div v-if="findings.length" class="block">
    <h2>Findings</h2>
    <FindingList :findings="findings" />
  </div>
</template>

<style scoped>
.drop {
  border: 1px dashed var(--line-strong);
  padding: 12px;
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 8px;
  text-align: center;
}
.drop.over {
  border-color: var(--cedar);
  background: var(--cedar-tint);
}
dl {
  display: grid;
  grid-template-columns: 88px 1fr;
  gap: 6px 10px;
  margin: 12px 0 4px;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.sides {
  display: flex;
  gap: 14px;
  margin-top: 8px;
}
</style>
