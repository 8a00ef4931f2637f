<script setup lang="ts">
/** The printer and material of the project, from the workshop; a bed can also be typed. */
import { fixed } from '@/api/format'
import { computed, onMounted } from 'vue'
import type { Plan, Printer } from '@/api/client'
import { useProject } from '@/stores/project'
import { FITS, useWorkshop } from '@/stores/workshop'
import RuledNumber from '@/ui/RuledNumber.vue'

const project = useProject()
const workshop = useWorkshop()
onMounted(async () => {
  try {
    await workshop.load()
  } catch (error) {
    await project.refused(error)
  }
})

const printers = computed(() => (workshop.printers.length ? workshop.printers : project.printers))
const inWorkshop = computed(() => printers.value.find((p) => p.id === project.printer?.id) ?? null)
const known = computed(() => inWorkshop.value !== null)
const changed = computed(
  () => inWorkshop.value !== null && JSON.stringify(inWorkshop.value) !== JSON.stringify(project.printer),
)
const material = computed(() => project.plan?.material ?? null)
const more = computed(() => project.plan?.more_printers ?? [])
const spare = computed(() =>
  printers.value.filter((p) => p.id !== project.printer?.id && !more.value.some((m) => m.id === p.id)),
)

/** The fits go with the printer and the material. */
function suit(plan: Plan): void {
  const printer = plan.printer?.id
  const kind = plan.material?.id
  if (printer && kind) plan.fits = workshop.fitsFor(printer, kind)
}
function setPrinter(id: string): void {
  const found = printers.value.find((p) => p.id === id)
  if (!found) return
  void project.edit(`Printer: ${found.name}`, (plan) => {
    plan.printer = found
    const same = workshop.materials.find((m) => m.process === found.process)
    if (plan.material?.process !== found.process && same) plan.material = same
    suit(plan)
  })
}
function setMaterial(id: string): void {
  const found = workshop.materials.find((m) => m.id === id)
  if (!found) return
  void project.edit(`Material: ${found.name}`, (plan) => {
    plan.material = found
    suit(plan)
  })
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
function addPrinter(id: string): void {
  const found = printers.value.find((p) => p.id === id)
  if (found)
    void project.edit(`Also prints on ${found.name}`, (plan) => {
      plan.more_printers = [...(plan.more_printers ?? []), found]
    })
}
function dropPrinter(id: string): void {
  void project.edit('Took a printer out', (plan) => {
    plan.more_printers = plan.more_printers?.filter((p) => p.id !== id)
    for (const note of Object.values(plan.pieces ?? {})) if (note.printer_id === id) note.printer_id = null
  })
}
const moreMaterials = computed(() => project.plan?.more_materials ?? [])
const spareMaterials = computed(() =>
  workshop.materials.filter(
    (m) => m.id !== material.value?.id && !moreMaterials.value.some((n) => n.id === m.id),
  ),
)
function addMaterial(id: string): void {
  const found = workshop.materials.find((m) => m.id === id)
  if (found)
    void project.edit(`Also prints with ${found.name}`, (plan) => {
      plan.more_materials = [...(plan.more_materials ?? []), found]
    })
}
function dropMaterial(id: string): void {
  void project.edit('Took a material out', (plan) => {
    plan.more_materials = plan.more_materials?.filter((m) => m.id !== id)
    for (const note of Object.values(plan.pieces ?? {})) if (note.material_id === id) note.material_id = null
  })
}
const fitWords = computed(() =>
  FITS.map((fit) => `${fit} ${fixed(project.plan?.fits?.[fit] ?? 0, 2)}`).join(' · '),
)
</script>

<template>
  <h2>
    Printer and material
    <router-link class="link" to="/workshop" data-test="to-workshop">Workshop</router-link>
  </h2>
  <select
    class="ruled"
    aria-label="Printer"
    data-test="printer"
    :value="known ? project.printer?.id : 'typed'"
    @change="setPrinter(($event.target as HTMLSelectElement).value)"
  >
    <option v-for="p in printers" :key="p.id" :value="p.id">
      {{ p.name }} · {{ p.bed_shape === 'round' ? `ø${p.bed_mm[0]}` : p.bed_mm.join(' × ') }} ×
      {{ p.height_mm }}
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
  <select
    v-if="material"
    class="ruled"
    aria-label="Material"
    data-test="material"
    :value="material.id"
    @change="setMaterial(($event.target as HTMLSelectElement).value)"
  >
    <option v-for="m in workshop.materials" :key="m.id" :value="m.id">{{ m.name }}</option>
    <option v-if="!workshop.materials.some((m) => m.id === material!.id)" :value="material.id">
      {{ material.name }}
    </option>
  </select>
  <p class="soft small">Fits, each side: {{ fitWords }} mm</p>
  <p v-if="changed" class="look small">
    This printer was changed in the workshop since.
    <button class="chip" @click="setPrinter(project.printer!.id!)">Take it over</button>
  </p>
  <p v-for="p in more" :key="p.id" class="small also">
    also {{ p.name }} <button class="chip" @click="dropPrinter(p.id!)">Take out</button>
  </p>
  <select
    v-if="spare.length"
    class="ruled small"
    aria-label="Print on another printer too"
    value=""
    @change="addPrinter(($event.target as HTMLSelectElement).value)"
  >
    <option value="">print on another printer too …</option>
    <option v-for="p in spare" :key="p.id" :value="p.id">{{ p.name }}</option>
  </select>
  <p v-for="m in moreMaterials" :key="m.id" class="small also" data-test="more-material">
    also {{ m.name }} <button class="chip" @click="dropMaterial(m.id!)">Take out</button>
  </p>
  <select
    v-if="spareMaterials.length"
    class="ruled small"
    aria-label="Print with another material too"
    data-test="add-material"
    value=""
    @change="addMaterial(($event.target as HTMLSelectElement).value)"
  >
    <option value="">print with another material too …</option>
    <option v-for="m in spareMaterials" :key="m.id" :value="m.id">{{ m.name }}</option>
  </select>
</template>

<style scoped>
.link {
  margin-left: auto;
  color: var(--cedar);
  font-weight: 400;
  font-size: 12px;
}
.sides {
  display: flex;
  gap: 14px;
  margin: 6px 0;
}
.small {
  font-size: 12px;
  margin: 5px 0 0;
}
.also {
  display: flex;
  justify-content: space-between;
}
</style>
