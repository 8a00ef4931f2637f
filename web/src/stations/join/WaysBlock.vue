<script setup lang="ts">
/** Rods and cable ways: straight bores and tunnels through several pieces. */
import { computed, ref } from 'vue'
import type { Plan, Schemas, Vec3 } from '@/api/client'
import { useTools } from '@/stores/tools'
import { useProject } from '@/stores/project'
import FindingList from '@/ui/FindingList.vue'
import RuledNumber from '@/ui/RuledNumber.vue'
import { kindOf, kindsOf, shownFields } from '@/ui/schema'
import SchemaForm from '@/ui/SchemaForm.vue'
import SizeChoice from '@/ui/SizeChoice.vue'

type Way = NonNullable<Plan['ways']>[number]
const project = useProject()
const tools = useTools()
const chosenId = ref('')
const ways = computed(() => project.plan?.ways ?? [])
const chosen = computed(() => ways.value.find((w) => w.id === chosenId.value) ?? ways.value[0] ?? null)
const viewOf = (way: Way) => project.build?.ways?.find((v) => v.id === way.id)
const kinds = kindsOf('ways')
const nameOf = (kind: string) => kindOf('ways', kind).says
const info = computed(() => kindOf('ways', chosen.value?.kind ?? 'rod'))
const fields = computed(() => shownFields(info.value, chosen.value ?? {}))
const via = computed(() => (chosen.value?.kind === 'cable' ? (chosen.value.via_mm ?? []) : []))
const findings = computed(() => project.findings.filter((f) => f.code.startsWith('way-')))

function keep(what: string, next: Way): void {
  void project.edit(what, (plan) => {
    plan.ways = plan.ways?.map((w) => (w.id === next.id ? next : w))
  })
}
/** A new one runs upright through the middle of the model; a stand holds it from below. */
function add(kind: Way['kind']): void {
  const model = project.build?.model
  if (!model) return
  const [low, high] = [model.low_mm, model.high_mm]
  const number = Math.max(0, ...ways.value.map((w) => Number(w.id.slice(1)))) + 1
  const at = (z: number): Vec3 => [
    Math.round((low[0] + high[0]) * 5) / 10,
    Math.round((low[1] + high[1]) * 5) / 10,
    Math.round(z * 10) / 10,
  ]
  const inset = kind === 'rod' ? 5 : 0
  const ends =
    kind === 'stand'
      ? { start_mm: at(low[2] + 15), end_mm: at(low[2] - 40) }
      : { start_mm: at(low[2] + inset), end_mm: at(high[2] - inset) }
  const way = { kind, id: `w${number}`, ...ends }
  chosenId.value = way.id
  void project.edit(`Added ${nameOf(kind)}`, (plan) => {
    plan.ways = [...(plan.ways ?? []), way as Way]
  })
}
function set(field: string, next: unknown, title: string): void {
  if (chosen.value && next !== null) keep(title, { ...chosen.value, [field]: next } as Way)
}
/** rods on sale, for what is bought as one */
const rods = computed(() => {
  const bought =
    chosen.value?.kind === 'rod' || (chosen.value?.kind === 'stand' && chosen.value.peg === 'rod')
  return bought ? (project.sizes['rod'] ?? []) : []
})
function takeRod(size: Schemas['SizeView']): void {
  if (chosen.value) keep(size.name, { ...chosen.value, ...size.values } as Way)
}
async function pick(field: string): Promise<void> {
  const spots = await tools.pick(['Click where it begins or ends.'])
  if (!spots) return
  const at = spots[0]!.at.map((v) => Math.round(v * 10) / 10) as Vec3
  set(field, at, field === 'start_mm' ? 'From' : 'To')
}
function setVia(index: number, axis: number, to: number | null): void {
  const way = chosen.value
  if (way?.kind !== 'cable' || to === null) return
  const next = via.value.map((p, k) => (k === index ? p.map((v, a) => (a === axis ? to : v)) : p)) as Vec3[]
  keep('Bend', { ...way, via_mm: next })
}
/** A further bend, halfway to the end. */
function addVia(): void {
  const way = chosen.value
  if (way?.kind !== 'cable') return
  const last = via.value.at(-1) ?? way.start_mm
  const middle = last.map((v, k) => Math.round((v + way.end_mm[k]!) * 5) / 10) as Vec3
  keep('Added a bend', { ...way, via_mm: [...via.value, middle] } as Schemas['CableWay'])
}
function dropVia(index: number): void {
  const way = chosen.value
  if (way?.kind === 'cable')
    keep('Removed a bend', { ...way, via_mm: via.value.filter((_, k) => k !== index) })
}
function remove(way: Way): void {
  void project.edit(`Removed ${nameOf(way.kind)}`, (plan) => {
    plan.ways = plan.ways?.filter((w) => w.id !== way.id)
  })
}
</script>

<template>
  <div class="block" data-test="ways">
    <h2>Rods, cable ways, stands</h2>
    <ul v-if="ways.length" class="list">
      <li
        v-for="w in ways"
        :key="w.id"
        :class="{ on: w.id === chosen?.id }"
        data-test="way"
        @click="chosenId = w.id"
      >
        <button class="plain grow">{{ viewOf(w)?.label ?? w.kind }}</button>
        <span class="end soft">{{ viewOf(w)?.pieces.join(', ') || '' }}</span>
      </li>
    </ul>
    <template v-if="chosen">
      <SizeChoice :sizes="rods" :value="chosen" label="Rods on sale" data-test="way-size" @take="takeRod" />
      <SchemaForm
        :schema="info.model"
        :fields="fields"
        :picks="['start_mm', 'end_mm']"
        :value="chosen"
        :words="info.words"
        @change="(field, next, title) => set(field, next, title)"
        @pick="pick"
      />
      <div v-for="(p, k) in via" :key="k" class="via">
        <span class="label">bend {{ k + 1 }}</span>
        <RuledNumber
          v-for="axis in [0, 1, 2]"
          :key="axis"
          :model-value="p[axis]!"
          :label="`Bend ${k + 1}, ${'XYZ'[axis]}`"
          unit=""
          :digits="1"
          :step="1"
          :min="-100000"
          :max="100000"
          :data-test="`via-${k}-${axis}`"
          @update:model-value="setVia(k, axis, $event)"
        />
        <button class="chip" :aria-label="`Take bend ${k + 1} out`" @click="dropVia(k)">×</button>
      </div>
      <div class="chips">
        <button v-if="chosen.kind === 'cable'" class="chip" data-test="add-via" @click="addVia">
          + Bend
        </button>
        <button class="chip" data-test="remove-way" @click="remove(chosen)">Remove</button>
      </div>
    </template>
    <FindingList v-if="findings.length" :findings="findings" />
    <div class="chips add">
      <button
        v-for="k in kinds"
        :key="k.kind"
        class="chip"
        :data-test="`add-${k.kind}`"
        @click="add(k.kind as Way['kind'])"
      >
        + {{ k.name }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.via {
  display: grid;
  grid-template-columns: 52px 58px 58px 58px auto;
  gap: 5px;
  align-items: center;
}
.add {
  margin-top: 8px;
}
</style>
