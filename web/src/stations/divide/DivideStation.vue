<script setup lang="ts">
import { computed, onMounted, watch } from 'vue'
import type { Parting } from '@/api/client'
import { mm, overBy, size } from '@/api/format'
import { useLooking } from '@/stores/looking'
import { useProject } from '@/stores/project'
import FindingList from '@/ui/FindingList.vue'
import RuledNumber from '@/ui/RuledNumber.vue'
import OrderTools from '@/ui/OrderTools.vue'
import SchemaForm from '@/ui/SchemaForm.vue'
import SectionDrawing from '@/ui/SectionDrawing.vue'
import FitTable from '../model/FitTable.vue'
import { OTHERS } from '@/view3d/plane'
import { anglesOf, AXES, keysBefore, newEven, newFlat, newLumps, newWedges, type AxisName } from './partings'

const project = useProject()
const looking = useLooking()
const partings = computed(() => project.plan?.partings ?? [])
const chosen = computed(() => partings.value.find((p) => p.id === looking.parting) ?? null)
const open = computed(() => project.build?.state === 'open')
const findings = computed(() =>
  project.findings.filter((f) => f.station === 'divide' && f.severity !== 'note'),
)
const notes = computed(() => project.findings.filter((f) => f.station === 'divide' && f.severity === 'note'))

onMounted(() => {
  if (!chosen.value) looking.parting = partings.value[0]?.id ?? null
})
watch(partings, () => {
  if (looking.parting && !chosen.value) looking.parting = null
})

const label = (p: Parting): string => {
  if (p.kind === 'flat') {
    const draft = looking.draft?.partingId === p.id ? looking.draft.moved : 0
    const tilted = p.tilt_deg?.some((t) => t !== 0) ? ' tilted' : ''
    return `Flat${tilted} · ${p.axis!.toUpperCase()} ${mm(p.at_mm + draft)}`
  }
  if (p.kind === 'wedges')
    return `Wedges · ${anglesOf(p).length} around ${p.axis!.toUpperCase()}${p.hub_mm ? `, hub ${mm(p.hub_mm)}` : ''}`
  if (p.kind === 'lumps') return 'Lumps'
  return `Even · ${p.axis!.toUpperCase()} ${p.parts ? `in ${p.parts}` : `at most ${mm(p.greatest_mm!)}`}`
}

async function add(parting: Parting | null): Promise<void> {
  if (!parting) return
  const kept = await project.edit(`Added ${parting.id.toUpperCase()}`, (plan) => {
    plan.partings = [...(plan.partings ?? []), parting]
  })
  if (kept) looking.parting = parting.id
}
const addFlat = () => add(newFlat(project.plan!, project.pieces, project.room))
const addWedges = () => add(newWedges(project.plan!, project.pieces, project.room))
const addLumps = () => add(newLumps(project.plan!))
const addEven = () => add(newEven(project.plan!, project.pieces, project.room))

function change(what: string, next: Parting): Promise<boolean> {
  return project.edit(`${what} of ${next.id.toUpperCase()}`, (plan) => {
    plan.partings = plan.partings?.map((p) => (p.id === next.id ? next : p))
  })
}
function set(field: string, value: unknown, title: string): void {
  const now = chosen.value
  if (!now) return
  const next = { ...now, [field]: value } as Parting
  if (next.kind === 'flat' && field === 'axis') Object.assign(next, middleOf(next.axis ?? 'z'))
  // even spacing goes by one of the two
  if (next.kind === 'even' && field === 'parts')
    next.greatest_mm = value === null ? (now as typeof next).greatest_mm : null
  if (next.kind === 'even' && field === 'greatest_mm')
    next.parts = value === null ? ((now as typeof next).parts ?? 2) : null
  if (next.kind === 'even' && next.parts == null && next.greatest_mm == null) next.parts = 2
  void change(title, next)
}
/** A plane square to `axis` in the middle of the model: a place along one axis means nothing along another. */
function middleOf(axis: AxisName): { at_mm: number; pivot_mm: [number, number]; tilt_deg: [number, number] } {
  const model = project.build?.model
  const centre = (a: AxisName) => {
    const k = AXES.indexOf(a)
    return model ? Math.round(model.low_mm[k]! + model.high_mm[k]!) / 2 : 0
  }
  const [first, second] = OTHERS[axis]
  return { at_mm: centre(axis), pivot_mm: [centre(first), centre(second)], tilt_deg: [0, 0] }
}
function setOn(parting: Parting, on: boolean): void {
  void project.edit(`${on ? 'Switched on' : 'Switched off'} ${parting.id.toUpperCase()}`, (plan) => {
    plan.partings = plan.partings?.map((p) => (p.id === parting.id ? { ...p, on } : p))
  })
}
function remove(parting: Parting): void {
  void project.edit(`Removed ${parting.id.toUpperCase()}`, (plan) => {
    plan.partings = plan.partings?.filter((p) => p.id !== parting.id)
  })
}
function shift(parting: Parting, by: number): void {
  void project.edit(`Moved ${parting.id.toUpperCase()} in the order`, (plan) => {
    const list = [...(plan.partings ?? [])]
    const at = list.findIndex((p) => p.id === parting.id)
    const [one] = list.splice(at, 1)
    list.splice(Math.max(0, at + by), 0, one!)
    plan.partings = list
  })
}

const before = computed(() =>
  chosen.value && project.plan ? keysBefore(project.plan, chosen.value.id, project.pieces) : [],
)
const choices = computed(() => {
  const there = before.value
  const gone = (chosen.value?.only ?? []).filter((k) => !there.some((b) => b.key === k))
  return [...there, ...gone.map((key) => ({ key, numbers: [] as number[] }))]
})
const cutsWhat = computed(() => {
  const only = chosen.value?.only
  if (!only) return 'everything'
  const numbers = choices.value.filter((c) => only.includes(c.key)).flatMap((c) => c.numbers)
  return only.length === 0 ? 'nothing' : `only ${numbers.sort((a, b) => a - b).join(', ') || 'what is gone'}`
})
function setOnly(key: string, on: boolean): void {
  const now = chosen.value
  if (!now) return
  const all = before.value.map((b) => b.key)
  const only = new Set(now.only ?? all)
  if (on) only.add(key)
  else only.delete(key)
  const everything = all.every((k) => only.has(k)) && [...only].every((k) => all.includes(k))
  void change('Pieces', { ...now, only: everything ? null : [...only].sort() })
}

const sides = computed(() => {
  const live = looking.live
  if (!live) return []
  return (
    [
      ['Above', live.above],
      ['Below', live.below],
    ] as const
  ).flatMap(([name, box]) => (box ? [{ name, size: size(box), over: overBy(box, project.room) }] : []))
})
const built = computed(() => project.build?.partings?.find((p) => p.id === looking.parting))
const drawing = computed(() => {
  if (chosen.value?.kind === 'flat' && looking.live)
    return { rings: looking.live.rings, area: looking.live.area, wall: looking.live.leastWall }
  const first = built.value?.sections[0]
  return first
    ? {
        rings: first.outline.flat() as [number, number][][],
        area: first.area_mm2,
        wall: first.least_wall_mm ?? null,
      }
    : null
})
const SCHEMA = {
  flat: 'FlatParting',
  even: 'EvenParting',
  wedges: 'WedgesParting',
  lumps: 'LumpsParting',
} as const
const FIELDS = {
  flat: ['axis', 'at_mm', 'tilt_deg'],
  even: ['axis', 'parts', 'greatest_mm'],
  wedges: ['axis', 'through_mm', 'count', 'start_deg', 'hub_mm'],
  lumps: [],
} as const
const KIND_NAMES = { flat: 'flat parting', even: 'even spacing', wedges: 'wedges', lumps: 'lumps' } as const
const fields = computed<string[]>(() => {
  const now = chosen.value
  if (!now) return []
  const one = now.kind === 'wedges' && now.angles_deg != null
  return FIELDS[now.kind].filter((f) => !(one && (f === 'count' || f === 'start_deg')))
})

function oneByOne(on: boolean): void {
  const now = chosen.value
  if (now?.kind !== 'wedges') return
  void change(on ? 'Angles one by one' : 'Even angles', { ...now, angles_deg: on ? anglesOf(now) : null })
}
function setAngle(at: number, value: number | null): void {
  const now = chosen.value
  if (now?.kind !== 'wedges' || !now.angles_deg) return
  const angles = now.angles_deg.flatMap((a, k) => (k !== at ? [a] : value === null ? [] : [value]))
  void change('Angle', { ...now, angles_deg: angles })
}
function addAngle(): void {
  const now = chosen.value
  if (now?.kind !== 'wedges' || !now.angles_deg) return
  // in the middle of the widest wedge
  const all = [...now.angles_deg].sort((a, b) => a - b)
  const gaps = all.map((a, k) => (all[(k + 1) % all.length]! - a + 360) % 360 || 360)
  const k = gaps.indexOf(Math.max(...gaps))
  const angle = Math.round(((all[k]! + gaps[k]! / 2) % 360) * 10) / 10
  void change('Another angle', { ...now, angles_deg: [...all, angle].sort((a, b) => a - b) })
}
</script>

<template>
  <div class="block">
    <h2>Does it fit?</h2>
    <FitTable />
  </div>
  <div class="block">
    <h2>
      Partings <small>{{ partings.length }}</small>
    </h2>
    <ul class="list">
      <li
        v-for="(p, i) in partings"
        :key="p.id"
        :class="{ on: p.id === looking.parting, off: !p.on }"
        data-test="parting"
        @click="looking.parting = p.id"
      >
        <button class="plain tag" :aria-label="`Choose ${p.id.toUpperCase()}`">
          {{ p.id.toUpperCase() }}
        </button>
        <span class="grow">{{ label(p) }}</span>
        <span v-if="p.id !== looking.parting" class="end">{{ p.on ? p.name : 'off' }}</span>
        <OrderTools
          v-else
          :first="i === 0"
          :last="i === partings.length - 1"
          :on="p.on ?? true"
          on-word="Cuts"
          out-word="Remove"
          test="parting"
          @shift="shift(p, $event)"
          @on="setOn(p, $event)"
          @out="remove(p)"
        />
      </li>
    </ul>
    <p v-if="partings.length === 0 && project.pieces.length" class="soft">
      No partings yet: the model is one piece.
    </p>
    <div class="chips">
      <button
        class="chip"
        :disabled="project.pieces.length === 0 || open"
        data-test="add-flat"
        @click="addFlat"
      >
        + Flat
      </button>
      <button
        class="chip"
        :disabled="project.pieces.length === 0 || open"
        data-test="add-even"
        @click="addEven"
      >
        + Even spacing
      </button>
      <button
        class="chip"
        :disabled="project.pieces.length === 0 || open"
        data-test="add-wedges"
        @click="addWedges"
      >
        + Wedges
      </button>
      <button
        v-if="(project.build?.model?.lumps ?? 0) > 1"
        class="chip"
        :disabled="open"
        data-test="add-lumps"
        @click="addLumps"
      >
        + Lumps
      </button>
    </div>
    <p v-if="open" class="bad">The surface is open: it cannot be parted until it is closed.</p>
  </div>
  <div v-if="chosen" class="block">
    <h2>
      {{ chosen.id.toUpperCase() }}
      <small>{{ KIND_NAMES[chosen.kind] }}</small>
      <input
        class="ruled named"
        maxlength="80"
        aria-label="Name of the parting"
        placeholder="name it"
        :value="chosen.name"
        @change="set('name', ($event.target as HTMLInputElement).value, 'Name')"
      />
    </h2>
    <SchemaForm
      :schema="SCHEMA[chosen.kind]"
      :fields="fields"
      :value="{
        ...chosen,
        ...(looking.draft && chosen.kind === 'flat' ? { at_mm: chosen.at_mm + looking.draft.moved } : {}),
      }"
      :words="{ axis: { x: 'X, across', y: 'Y, front to back', z: 'Z, height' } }"
      @change="set"
    />
    <div v-if="chosen.kind === 'wedges'" class="row angles">
      <span class="label">Angles</span>
      <span v-if="chosen.angles_deg" class="chips">
        <span v-for="(angle, k) in chosen.angles_deg" :key="k" class="angle">
          <RuledNumber
            :model-value="angle"
            :label="`Wedge ${k + 1} begins at`"
            unit="°"
            :min="0"
            :max="359.9"
            data-test="angle"
            @update:model-value="setAngle(k, $event)"
          />
          <button
            v-if="chosen.angles_deg.length > 2"
            class="plain"
            :aria-label="`Take out angle ${k + 1}`"
            @click="setAngle(k, null)"
          >
            ×
          </button>
        </span>
        <button class="chip" data-test="add-angle" @click="addAngle">+ Angle</button>
        <button class="chip" data-test="even-angles" @click="oneByOne(false)">Even again</button>
      </span>
      <button v-else class="chip fit" data-test="one-by-one" @click="oneByOne(true)">One by one</button>
    </div>
    <div class="row">
      <span class="label">Cuts</span>
      <v-menu :close-on-content-click="false" location="top">
        <template #activator="{ props: menu }">
          <button v-bind="menu" class="ruled-button" data-test="cuts-only">{{ cutsWhat }} ▾</button>
        </template>
        <div class="menu">
          <label v-for="c in choices" :key="c.key">
            <input
              type="checkbox"
              :checked="!chosen.only || chosen.only.includes(c.key)"
              @change="setOnly(c.key, ($event.target as HTMLInputElement).checked)"
            />
            {{
              c.numbers.length
                ? `${c.numbers.length === 1 ? 'piece' : 'pieces'} ${c.numbers.join(', ')}`
                : `${c.key}: not there now`
            }}
          </label>
        </div>
      </v-menu>
    </div>
    <SectionDrawing
      v-if="drawing && chosen.on"
      :rings="drawing.rings"
      :area="drawing.area"
      :wall="drawing.wall"
    />
    <table v-if="sides.length && chosen.on" class="plain-table" data-test="sides">
      <tbody>
        <tr v-for="side in sides" :key="side.name">
          <th>{{ side.name }}</th>
          <td>{{ side.size }}</td>
          <td :class="side.over > 0.05 ? 'bad' : 'good'" class="num">
            {{ side.over > 0.05 ? `over by ${mm(side.over)}` : 'fits' }}
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="built && chosen.kind !== 'flat' && built.sections.length > 1" class="soft">
      {{ built.sections.length }} planes; the first is drawn.
    </p>
  </div>
  <div v-if="findings.length || notes.length" class="block">
    <FindingList :findings="[...findings, ...notes]" />
  </div>
</template>

<style scoped>
.list {
  margin-bottom: 8px;
}
.off .grow {
  text-decoration: line-through;
  color: var(--ink-soft);
}
.named {
  flex: 1;
  min-width: 0;
  border-color: var(--line-strong);
  font-weight: 400;
  font-size: 12.5px;
}
.ruled-button {
  background: none;
  border: 0;
  border-bottom: 1px solid var(--line-strong);
  text-align: left;
  padding: 3px 4px;
  cursor: pointer;
  width: fit-content;
}
.menu {
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  padding: 8px 12px;
  display: flex;
  flex-direction: column;
  gap: 4px;
  max-height: 300px;
  overflow: auto;
}
.angle {
  display: inline-flex;
  gap: 3px;
}
.angle :deep(.ruled-number) {
  width: 60px;
}
.fit {
  width: fit-content;
}
p {
  margin: 8px 0 0;
  font-size: 12.5px;
}
</style>
