<script setup lang="ts">
import { computed, onMounted, watch } from 'vue'
import { mm, mm2, size } from '@/api/format'
import { useLooking } from '@/stores/looking'
import { useProject } from '@/stores/project'

const project = useProject()
const looking = useLooking()
const piece = computed(() => project.pieces.find((p) => p.number === looking.piece) ?? null)

const first = () => {
  if (!piece.value) looking.piece = project.pieces[0]?.number ?? null
}
onMounted(first)
watch(() => project.pieces, first)

function lay(down: [number, number, number] | null, what: string): void {
  const p = piece.value
  if (!p) return
  void project.edit(`Piece ${p.number}: ${what}`, (plan) => {
    plan.pieces = { ...plan.pieces, [p.key]: { name: '', ...plan.pieces?.[p.key], down } }
  })
}

const printers = computed(() =>
  project.printer ? [project.printer, ...(project.plan?.more_printers ?? [])] : [],
)
function setPrinter(id: string): void {
  const p = piece.value
  if (!p) return
  const wanted = id === project.printer?.id ? null : id
  void project.edit(`Piece ${p.number}: printer`, (plan) => {
    plan.pieces = { ...plan.pieces, [p.key]: { name: '', ...plan.pieces?.[p.key], printer_id: wanted } }
  })
}
</script>

<template>
  <div class="block">
    <h2>Resting faces</h2>
    <p class="soft">
      Each piece lies on the flat face, mating face or axis with the least overhang that fits the bed. Choose
      another below.
    </p>
    <ul class="list">
      <li
        v-for="p in project.pieces"
        :key="p.key"
        :class="{ on: p.number === looking.piece }"
        data-test="orient-piece"
        @click="looking.piece = p.number"
      >
        <button class="plain tag">{{ p.number }}</button>
        <span class="grow">{{ p.name }}</span>
        <span class="end" :class="{ bad: !p.rest.fits }">{{ p.rest_chosen ? 'chosen' : p.rest.what }}</span>
      </li>
    </ul>
  </div>
  <div v-if="piece" class="block">
    <div v-if="printers.length > 1" class="row printer">
      <label for="piece-printer">Prints on</label>
      <select
        id="piece-printer"
        class="ruled"
        data-test="piece-printer"
        :value="project.plan?.pieces?.[piece.key]?.printer_id ?? project.printer?.id"
        @change="setPrinter(($event.target as HTMLSelectElement).value)"
      >
        <option v-for="p in printers" :key="p.id" :value="p.id">{{ p.name }}</option>
      </select>
    </div>
    <h2>{{ piece.name }} can lie on</h2>
    <ul class="rests">
      <li v-for="(rest, i) in piece.rests" :key="i">
        <button
          class="card"
          :class="{ on: i === 0 }"
          :aria-pressed="i === 0"
          data-test="rest"
          @click="i > 0 && lay(rest.down, `lies on its ${rest.what}`)"
        >
          <b>{{ rest.what }}</b>
          <span :class="rest.fits ? 'good' : 'bad'">{{ rest.fits ? 'fits' : 'over' }}</span>
          <small>{{ size(rest.size_mm) }} mm</small>
          <small>overhang {{ mm2(rest.overhang_mm2) }}</small>
          <small>touches the bed with {{ mm2(rest.contact_mm2) }}</small>
          <small>height {{ mm(rest.height_mm) }} mm</small>
        </button>
      </li>
    </ul>
    <button
      v-if="piece.rest_chosen"
      class="wide"
      data-test="rest-auto"
      @click="lay(null, 'resting face by Hinoki')"
    >
      Let Hinoki choose
    </button>
  </div>
</template>

<style scoped>
p {
  margin: 0 0 8px;
}
.rests {
  list-style: none;
  padding: 0;
  margin: 0 0 10px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}
.card {
  width: 100%;
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 10px;
  text-align: left;
  background: none;
  border: 1px solid var(--line-strong);
  padding: 6px 10px;
  cursor: pointer;
}
.card small {
  color: var(--ink-soft);
}
.card.on {
  border-color: var(--cedar);
  background: var(--cedar-tint);
}
.card b {
  font-weight: 600;
}
</style>
