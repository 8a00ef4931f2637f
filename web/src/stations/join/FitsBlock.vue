<script setup lang="ts">
/** The four clearances and the least wall; a change is shown before it is made. */
import { fixed } from '@/api/format'
import { computed, ref } from 'vue'
import { useProject } from '@/stores/project'
import RuledNumber from '@/ui/RuledNumber.vue'
import WhatIs from '@/ui/WhatIs.vue'

type FitName = 'press' | 'snug' | 'sliding' | 'loose'
const project = useProject()
const TITLES: Record<FitName, string> = { press: 'Press', snug: 'Snug', sliding: 'Sliding', loose: 'Loose' }
const wished = ref<{ fit: FitName; to: number } | null>(null)
/** whose clearances are shown: the first printer's, or a further one's */
const printer = ref('')
const others = computed(() => project.plan?.more_printers ?? [])
const fits = computed(() => (printer.value && project.plan?.more_fits?.[printer.value]) || project.plan?.fits)
const clearance = (fit: FitName) => fits.value?.[fit] ?? 0
const touched = computed(() => {
  const wish = wished.value
  if (!wish) return []
  const name = others.value.find((p) => p.id === printer.value)?.name
  return project.joints.filter((j) => {
    if (j.fit !== wish.fit || j.own_clearance || j.kind === 'butt') return false
    const face = project.faces.find((f) => f.id === j.face)
    const pieces = project.pieces.filter((p) => p.number === face?.a || p.number === face?.b)
    return !name || pieces.some((p) => p.printer === name)
  })
})

function ask(fit: FitName, to: number | null): void {
  if (to === null || to === clearance(fit)) return
  wished.value = { fit, to }
  if (touched.value.length === 0) make()
}
function make(): void {
  const wish = wished.value
  wished.value = null
  if (!wish) return
  const id = printer.value
  void project.edit(`Clearance of ${wish.fit}`, (plan) => {
    const next = { ...(fits.value ?? plan.fits!), [wish.fit]: wish.to }
    if (id) plan.more_fits = { ...plan.more_fits, [id]: next }
    else plan.fits = next
  })
}
</script>

<template>
  <div class="block">
    <h2>Fits <small>clearance on each side</small> <WhatIs word="fit" /></h2>
    <div v-if="others.length" class="row">
      <span class="label">Printer</span>
      <select v-model="printer" class="ruled" aria-label="Fits of the printer" data-test="fits-printer">
        <option value="">{{ project.printer?.name }}</option>
        <option v-for="p in others" :key="p.id" :value="p.id">{{ p.name }}</option>
      </select>
    </div>
    <div v-for="(title, fit) in TITLES" :key="fit" class="row">
      <span class="label">{{ title }}</span>
      <RuledNumber
        :model-value="wished?.fit === fit ? wished.to : clearance(fit)"
        :label="`Clearance of ${fit}, each side`"
        :step="0.05"
        :min="0"
        :max="2"
        :digits="2"
        :data-test="`fit-${fit}`"
        @update:model-value="ask(fit, $event)"
      />
    </div>
    <div v-if="wished && touched.length" class="preview" role="alertdialog" data-test="fit-preview">
      <b>
        {{ TITLES[wished.fit] }} {{ fixed(clearance(wished.fit), 2) }} → {{ fixed(wished.to, 2) }} mm each
        side changes:
      </b>
      <ul>
        <li v-for="j in touched.slice(0, 8)" :key="j.id">{{ j.face_label }} {{ j.label }}</li>
        <li v-if="touched.length > 8">and {{ touched.length - 8 }} more</li>
      </ul>
      <div class="chips">
        <button class="chip" data-test="fit-make" @click="make">Change {{ touched.length }}</button>
        <button class="chip" @click="wished = null">Leave it</button>
      </div>
    </div>
    <div class="row">
      <span class="label">Least wall</span>
      <RuledNumber
        :model-value="project.plan?.least_wall_mm ?? 1.6"
        label="Least wall around a joint"
        :step="0.1"
        :min="0.2"
        :max="50"
        data-test="least-wall"
        @update:model-value="
          (v) => v !== null && project.edit('Least wall', (plan) => void (plan.least_wall_mm = v))
        "
      />
    </div>
    <div class="row">
      <span
        class="label"
        title="What pushes what hangs from a seam when it is held; 0: nothing is told of bending"
      >
        Pushed with
      </span>
      <RuledNumber
        :model-value="project.plan?.handling_n ?? 20"
        label="Force at the far end of what hangs from a seam"
        unit="N"
        :step="5"
        :min="0"
        :max="2000"
        :digits="0"
        data-test="handling"
        @update:model-value="
          (v) => v !== null && project.edit('Force at the far end', (plan) => void (plan.handling_n = v))
        "
      />
    </div>
  </div>
</template>

<style scoped>
.preview {
  border: 1px solid var(--cedar);
  padding: 7px 10px;
  margin: 6px 0;
  font-size: 12px;
}
.preview ul {
  margin: 4px 0 6px;
  padding-left: 18px;
}
</style>
