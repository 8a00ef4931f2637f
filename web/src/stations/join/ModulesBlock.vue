<script setup lang="ts">
/** Modules: pieces that meet side by side, what their sides have, and the table of all pairs. */
import { fixed } from '@/api/format'
import { computed, ref } from 'vue'
import type { Plan, Schemas } from '@/api/client'
import { useParts } from '@/stores/parts'
import { useProject } from '@/stores/project'
import FindingList from '@/ui/FindingList.vue'
import SchemaForm from '@/ui/SchemaForm.vue'
import SizeChoice from '@/ui/SizeChoice.vue'
import ModulePlan from './ModulePlan.vue'
import WhatIs from '@/ui/WhatIs.vue'

type ModuleSet = NonNullable<Plan['modules']>[number]
const project = useProject()
const parts = useParts()
const chosen = computed<ModuleSet | null>(() => project.plan?.modules?.[0] ?? null)
const view = computed(() => project.build?.modules?.find((m) => m.id === chosen.value?.id) ?? null)
const fields = computed(() => {
  const set = chosen.value
  const both = set?.layout === 'all' ? ['apart_mm'] : []
  if (set?.by === 'dovetails')
    return ['layout', 'neck_mm', 'head_mm', 'out_mm', ...(both.length ? both : ['end_mm']), 'fit']
  if (set?.by === 'keys') return ['layout', 'neck_mm', 'head_mm', 'out_mm', 'end_mm', 'fit']
  if (set?.by === 'hooks')
    return ['layout', 'long_mm', 'width_mm', 'spring_mm', 'nose_mm', 'lets_go_deg', ...both, 'high_mm', 'fit']
  if (set?.by === 'pegs') return ['layout', 'diameter_mm', 'out_mm', ...both, 'high_mm', 'fit']
  const shaped = set?.shape === 'block' ? ['width_mm'] : set?.shape === 'ring' ? ['hole_mm'] : []
  return [
    'shape',
    'diameter_mm',
    ...shaped,
    'thick_mm',
    ...(set?.a_side === 2 ? ['apart_mm'] : []),
    'high_mm',
    'held',
    'fit',
    'jig',
  ]
})
const WORDS = {
  shape: { disc: 'Disc', ring: 'Ring', block: 'Block' },
  held: { glue: 'glue', press: 'pressing it in' },
  layout: {
    all: 'all sides, alike',
    row: 'one and the opposite: a row',
    corner: 'one and the next: a corner',
  },
}
const BY = {
  magnets: 'Magnets',
  dovetails: 'Tails and grooves',
  keys: 'Loose keys',
  hooks: 'Snap hooks',
  pegs: 'Pegs',
} as const
/** other parts that are modules: this one can be given the same sides */
const others = computed(() => (project.plan?.parts ?? []).filter((p) => p.modules?.length))
const told = ref('')
async function same(part: string): Promise<void> {
  const found = await project.command('same-modules', { part })
  told.value = found ? `${found.said}.` : ''
}
const nameOf = (part: string): string => parts.parts.find((p) => p.id === part)?.name ?? part
const findings = computed(() => project.findings.filter((f) => f.code.startsWith('module-')))
const sizes = computed(() => project.sizes['magnet'] ?? [])
const byMagnets = computed(() => (chosen.value?.by ?? 'magnets') === 'magnets')
const isIn = (key: string) => chosen.value?.pieces == null || chosen.value.pieces.includes(key)

function keep(what: string, next: ModuleSet): void {
  void project.edit(what, (plan) => {
    plan.modules = plan.modules?.map((m) => (m.id === next.id ? next : m))
  })
}
function set(field: string, next: unknown, title: string): void {
  if (chosen.value) keep(title, { ...chosen.value, [field]: next } as ModuleSet)
}
function take(size: Schemas['SizeView']): void {
  if (chosen.value) keep(size.name, { ...chosen.value, ...size.values } as ModuleSet)
}
function add(): void {
  void project.edit('Made the pieces modules', (plan) => {
    plan.modules = [{ id: 'm1' } as ModuleSet]
  })
}
function remove(): void {
  void project.edit('No modules', (plan) => {
    plan.modules = []
  })
}
/** Take a piece in or leave it out; all of them is no list. */
function toggle(key: string, number: number): void {
  if (!chosen.value) return
  const keys = project.pieces.map((p) => p.key)
  const now = chosen.value.pieces ?? keys
  const next = now.includes(key) ? now.filter((k) => k !== key) : [...now, key]
  keep(`Piece ${number} ${now.includes(key) ? 'left out' : 'taken in'}`, {
    ...chosen.value,
    pieces: next.length === keys.length ? null : next,
  })
}
const turnWords = (turn: number | null) =>
  turn === null
    ? 'never'
    : turn === 0
      ? 'hold as they are'
      : `hold after the other is turned by ${turn > 0 ? turn : -turn} ${Math.abs(turn) === 1 ? 'side' : 'sides'}`
const turnSign = (turn: number | null) =>
  turn === null ? '–' : turn === 0 ? '●' : turn > 0 ? `+${turn}` : `−${-turn}`
</script>

<template>
  <div class="block" data-test="modules">
    <h2>Modules <small>meet side by side</small> <WhatIs word="module" /></h2>
    <template v-if="chosen">
      <p v-if="view" class="name">{{ view.label }}</p>
      <div class="row">
        <label for="meet-by">Meet by</label>
        <select
          id="meet-by"
          class="ruled"
          data-test="meet-by"
          :value="chosen.by ?? 'magnets'"
          @change="set('by', ($event.target as HTMLSelectElement).value, 'What modules meet by')"
        >
          <option v-for="(words, by) in BY" :key="by" :value="by">{{ words }}</option>
        </select>
      </div>
      <div v-if="byMagnets" class="row">
        <span class="label">A side</span>
        <span class="chips tight" role="group" aria-label="Magnets a side">
          <button
            v-for="n in [1, 2] as const"
            :key="n"
            class="chip"
            :aria-pressed="chosen.a_side === n"
            :data-test="`a-side-${n}`"
            @click="set('a_side', n, n === 1 ? 'One magnet a side' : 'Two magnets a side')"
          >
            {{ n === 1 ? 'one magnet' : 'two, N and S' }}
          </button>
        </span>
      </div>
      <SizeChoice
        v-if="byMagnets"
        :sizes="sizes"
        :value="chosen"
        label="Magnets on sale"
        data-test="module-size"
        @take="take"
      />
      <SchemaForm
        schema="ModuleSet"
        :fields="fields"
        :value="chosen"
        :words="WORDS"
        @change="(field, next, title) => set(field, next, title)"
      />
      <div v-if="project.pieces.length > 1" class="row">
        <span class="label">Pieces</span>
        <span class="chips tight">
          <button
            v-for="p in project.pieces"
            :key="p.key"
            class="chip"
            :aria-pressed="isIn(p.key)"
            :aria-label="`Piece ${p.number} is a module`"
            data-test="module-piece"
            @click="toggle(p.key, p.number)"
          >
            {{ p.number }}
          </button>
        </span>
      </div>
      <template v-if="view && view.sides.length">
        <ModulePlan :view="view" />
        <table class="pairs" data-test="pairs">
          <caption>
            Side against side:
            <b>●</b>
            holds,
            <b>±n</b>
            turn the other by n sides
          </caption>
          <thead>
            <tr>
              <th></th>
              <th v-for="(_, j) in view.sides" :key="j" scope="col">{{ j + 1 }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, i) in view.table" :key="i">
              <th scope="row">{{ i + 1 }}</th>
              <td
                v-for="(turn, j) in row"
                :key="j"
                :class="{ holds: turn === 0 }"
                :title="`Side ${i + 1} against side ${j + 1}: ${turnWords(turn)}`"
              >
                {{ turnSign(turn) }}
              </td>
            </tr>
          </tbody>
        </table>
        <p v-for="s in view.says" :key="s" class="soft small" data-test="module-says">{{ s }}</p>
        <p v-if="byMagnets" class="soft small">
          Two sides pull about {{ fixed(view.pull_n, 1) }} N, an estimate; the heaviest module weighs
          {{ view.weight_n?.toFixed(1) }} N printed full.
        </p>
      </template>
      <div class="chips">
        <button class="chip" data-test="remove-modules" @click="remove">Remove</button>
      </div>
      <p v-if="told" class="good small" aria-live="polite" data-test="same-told">{{ told }}</p>
      <FindingList v-if="findings.length" :findings="findings" />
    </template>
    <template v-else>
      <p class="soft small">
        Tiles of a field, segments of a ring: upright sides with magnets, tails and grooves, keys, snap hooks
        or pegs, such that any two meet.
      </p>
      <div class="chips">
        <button class="chip" data-test="add-modules" @click="add">Make them modules</button>
        <button v-for="p in others" :key="p.id" class="chip" data-test="same-modules" @click="same(p.id)">
          With the sides of {{ nameOf(p.id) }}
        </button>
      </div>
    </template>
  </div>
</template>

<style scoped>
.small {
  font-size: 12px;
  margin: 4px 0;
}
.name {
  margin: 0 0 4px;
}
.tight {
  margin: 0;
  gap: 5px;
}
.pairs {
  border-collapse: collapse;
  margin: 6px 0;
  font-variant-numeric: tabular-nums;
}
.pairs caption {
  caption-side: bottom;
  text-align: left;
  font-size: 11.5px;
  color: var(--ink-soft);
  padding-top: 3px;
}
.pairs th {
  font-weight: 400;
  color: var(--ink-soft);
  font-size: 11.5px;
  padding: 1px 8px;
}
.pairs td {
  border: 1px solid var(--line-strong);
  min-width: 30px;
  padding: 2px 6px;
  text-align: center;
}
.pairs td.holds {
  color: var(--cedar);
}
</style>
