<script setup lang="ts">
/** The workshop: printers, materials, fits for each pair of them, and what money and power cost. */
import { computed, onMounted, ref, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import type { Material, Printer, Schemas } from '@/api/client'
import { readJson } from '@/api/jsonFile'
import { useProject } from '@/stores/project'
import { FITS, freeId, useWorkshop, type FitName } from '@/stores/workshop'
import RuledNumber from '@/ui/RuledNumber.vue'
import SchemaForm from '@/ui/SchemaForm.vue'
import CornersBlock from './CornersBlock.vue'
import HardwareBlock from './HardwareBlock.vue'
import LaddersBlock from './LaddersBlock.vue'
import ThisMachine from './ThisMachine.vue'

const workshop = useWorkshop()
const project = useProject()
const router = useRouter()
const picker = useTemplateRef<HTMLInputElement>('picker')
const printerId = ref('')
const materialId = ref('')
const printer = computed(
  () => workshop.printers.find((p) => p.id === printerId.value) ?? workshop.printers[0] ?? null,
)
const material = computed(
  () => workshop.materials.find((m) => m.id === materialId.value) ?? workshop.materials[0] ?? null,
)
const PRINTER_FIELDS = [
  'name',
  'process',
  'bed_shape',
  'bed_mm',
  'height_mm',
  'margin_mm',
  'machines',
  'nozzle_mm',
  'line_mm',
  'least_wall_mm',
  'layers_mm',
  'speed_mm_s',
  'acceleration_mm_s2',
  'overhang_deg',
  'layer_time_s',
  'watts',
  'hourly_cost',
]
const MATERIAL_FIELDS = [
  'name',
  'process',
  'density_g_cm3',
  'price',
  'shrinkage_percent',
  'compensated',
  'tension_mpa',
  'modulus_mpa',
  'strain_percent',
  'source',
  'colour',
  'stock_g',
]
const WORDS = { process: { filament: 'filament', resin: 'resin' } }

async function tried(action: () => Promise<void>): Promise<void> {
  try {
    await action()
  } catch (error) {
    await project.refused(error)
  }
}
onMounted(() => tried(workshop.load))

function setPrinter(field: string, value: unknown): void {
  const now = printer.value
  if (!now || value === null) return
  let next = { ...now, [field]: value } as Printer
  if (next.bed_shape === 'round') next = { ...next, bed_mm: [next.bed_mm[0], next.bed_mm[0]] }
  void tried(() => workshop.keepPrinter(next))
}
function setMaterial(field: string, value: unknown): void {
  const now = material.value
  if (now && value !== null) void tried(() => workshop.keepMaterial({ ...now, [field]: value } as Material))
}
function copyPrinter(): void {
  const now = printer.value
  if (!now) return
  const name = `${now.name}, copy`
  const id = freeId(
    name,
    workshop.printers.map((p) => p.id),
  )
  void tried(async () => {
    await workshop.keepPrinter({ ...now, id, name })
    printerId.value = id
  })
}
function copyMaterial(): void {
  const now = material.value
  if (!now) return
  const name = `${now.name}, copy`
  const id = freeId(
    name,
    workshop.materials.map((m) => m.id),
  )
  void tried(async () => {
    await workshop.keepMaterial({ ...now, id, name })
    materialId.value = id
  })
}
function setFit(fit: FitName, value: number | null): void {
  if (printer.value && material.value)
    void tried(() => workshop.keepFit(printer.value!.id!, material.value!.id!, fit, value))
}
function origin(fit: FitName): string {
  if (!printer.value || !material.value) return ''
  const entry = workshop.entry(printer.value.id!, material.value.id!, fit)
  if (!entry) return 'common practice'
  const day = (entry.updated_at ?? '').slice(0, 10)
  return entry.origin === 'ladder' ? `fit ladder, ${day}` : `typed, ${day}`
}
function setMoney(field: string, value: unknown): void {
  const now = workshop.all?.settings
  if (now && value !== null)
    void tried(() => workshop.keepSettings({ ...now, [field]: value } as Schemas['Settings']))
}
async function takeIn(): Promise<void> {
  const file = picker.value?.files?.[0]
  if (!file) return
  await tried(async () => {
    await workshop.takeIn(await readJson(file, 'a workshop exported from Hinoki'))
    project.message = `Took in ${file.name}.`
  })
  if (picker.value) picker.value.value = ''
}
</script>

<template>
  <main class="workshop">
    <header>
      <router-link to="/" class="mark" aria-label="Hinoki: to the shelf of projects"
        ><span translate="no">Hinoki</span></router-link
      >
      <span class="bar"></span>
      <h1>Workshop</h1>
      <span class="gap"></span>
      <a class="chip" href="/api/workshop/workshop.json" download data-test="workshop-out">Save as a file</a>
      <button class="chip" data-test="workshop-in" @click="picker?.click()">Take in a file</button>
      <input ref="picker" type="file" accept=".json" hidden data-test="workshop-file" @change="takeIn" />
      <button class="chip" data-test="workshop-back" @click="router.back()">Back</button>
    </header>
    <div v-if="workshop.all" class="bench">
      <section>
        <h2>
          Printers <small>{{ workshop.printers.length }}</small>
        </h2>
        <ul class="list">
          <li
            v-for="p in workshop.printers"
            :key="p.id"
            :class="{ on: p.id === printer?.id }"
            data-test="ws-printer"
            @click="printerId = p.id!"
          >
            <button class="plain grow">{{ p.name }}</button>
            <span class="end">
              {{ p.bed_shape === 'round' ? `ø${p.bed_mm[0]}` : p.bed_mm.join(' × ') }} × {{ p.height_mm }}
            </span>
          </li>
        </ul>
        <div class="chips">
          <button class="chip" data-test="copy-printer" @click="copyPrinter">Copy</button>
          <button
            class="chip"
            data-test="drop-printer"
            @click="printer && tried(() => workshop.dropPrinter(printer!.id!))"
          >
            Take out
          </button>
        </div>
        <SchemaForm
          v-if="printer"
          :key="printer.id"
          schema="Printer"
          :fields="PRINTER_FIELDS"
          :value="printer"
          :words="{ ...WORDS, bed_shape: { rectangular: 'rectangular', round: 'round' } }"
          @change="setPrinter"
        />
        <CornersBlock v-if="printer" :printer="printer" @change="setPrinter('kept_free', $event)" />
      </section>
      <section>
        <h2>
          Materials <small>{{ workshop.materials.length }}</small>
        </h2>
        <ul class="list">
          <li
            v-for="m in workshop.materials"
            :key="m.id"
            :class="{ on: m.id === material?.id }"
            data-test="ws-material"
            @click="materialId = m.id!"
          >
            <i :style="{ background: m.colour }"></i>
            <button class="plain grow">{{ m.name }}</button>
            <span class="end">{{ m.stock_g }} g</span>
          </li>
        </ul>
        <div class="chips">
          <button class="chip" data-test="copy-material" @click="copyMaterial">Copy</button>
          <button
            class="chip"
            data-test="drop-material"
            @click="material && tried(() => workshop.dropMaterial(material!.id!))"
          >
            Take out
          </button>
        </div>
        <SchemaForm
          v-if="material"
          :key="material.id"
          schema="Material"
          :fields="MATERIAL_FIELDS"
          :value="material"
          :words="WORDS"
          @change="setMaterial"
        />
        <HardwareBlock />
      </section>
      <section>
        <h2>Fits <small>clearance on each side</small></h2>
        <p class="soft">{{ printer?.name }} with {{ material?.name }}</p>
        <div v-for="fit in FITS" :key="fit" class="row fit" :data-test="`fit-${fit}`">
          <span class="label">{{ fit[0]!.toUpperCase() + fit.slice(1) }}</span>
          <RuledNumber
            :model-value="printer && material ? workshop.clearance(printer.id!, material.id!, fit) : null"
            :label="`${fit} fit, each side`"
            :digits="2"
            :step="0.01"
            :min="0"
            :max="2"
            @update:model-value="setFit(fit, $event)"
          />
          <span class="soft">{{ origin(fit) }}</span>
          <button
            v-if="printer && material && workshop.entry(printer.id!, material.id!, fit)"
            class="chip"
            @click="setFit(fit, null)"
          >
            Common
          </button>
        </div>
        <p class="soft small">
          Printers print holes tight. 0.05 mm each side is a press, 0.1 a good tight fit on a tuned printer,
          0.2 the usual second try. Projects take these when they choose the printer and the material.
        </p>
        <LaddersBlock v-if="printer && material" :printer="printer" :material="material" />
        <h2>Money</h2>
        <SchemaForm
          v-if="workshop.all.settings"
          schema="Settings"
          :value="workshop.all.settings"
          @change="setMoney"
        />
        <ThisMachine />
      </section>
    </div>
  </main>
</template>

<style scoped>
.workshop {
  height: 100vh;
  display: flex;
  flex-direction: column;
}
header {
  height: 46px;
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 0 16px;
  background: var(--sheet);
  border-bottom: 1px solid var(--ink);
}
.mark {
  font-family: 'Shippori Mincho', serif;
  font-size: 24px;
  font-weight: 600;
  color: var(--cedar);
  text-decoration: none;
}
.bar {
  width: 1px;
  height: 24px;
  background: var(--line-strong);
}
h1 {
  font-size: 14px;
  font-weight: 600;
  margin: 0;
}
.gap {
  flex: 1;
}
.bench {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: 1.15fr 1fr 1.1fr;
}
section {
  padding: 14px 18px;
  border-right: 1px solid var(--line);
  background: var(--sheet);
  overflow: auto;
}
section .list {
  margin: 0 -18px 8px;
}
section .chips {
  margin-bottom: 10px;
}
section :deep(.row) {
  grid-template-columns: 130px 1fr;
}
section .row.fit {
  grid-template-columns: 60px 92px 1fr auto;
}
.list i {
  width: 12px;
  height: 12px;
  border: 1px solid var(--ink-soft);
}
.small {
  font-size: 12px;
}
</style>
