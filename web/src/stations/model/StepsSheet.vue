<script setup lang="ts">
/** The prepare steps: a list in order, each editable, switchable and removable, with points picked in the view. */
import { computed, ref, watch } from 'vue'
import { type PrepareStep } from '@/api/client'
import { cm3, count, fixed } from '@/api/format'
import { run } from '@/api/operations'
import { facingOf, pointOf, useTools, type Spot } from '@/stores/tools'
import { useViewport } from '@/stores/viewport'
import { useParts } from '@/stores/parts'
import { useProject } from '@/stores/project'
import FindingList from '@/ui/FindingList.vue'
import OrderTools from '@/ui/OrderTools.vue'
import { kindOf, shownFields } from '@/ui/schema'
import KindMenu from '@/ui/KindMenu.vue'
import SchemaForm from '@/ui/SchemaForm.vue'
import BearingForm from './BearingForm.vue'
import OnFaceForm from './OnFaceForm.vue'
import StepPrints from './StepPrints.vue'
import StandForm from './StandForm.vue'
import { groups, newStep, stepName, type StepKind } from './steps'

const project = useProject()
const parts = useParts()
const tools = useTools()
const viewport = useViewport()
const steps = computed(() => project.plan?.prepare ?? [])
const chosenId = ref<string | null>(steps.value.at(-1)?.id ?? null)
const chosen = computed(() => steps.value.find((s) => s.id === chosenId.value) ?? null)
const built = (id: string) => project.build?.prepare?.find((s) => s.id === id) ?? null
const done = computed(() => (chosenId.value ? built(chosenId.value) : null))
const findings = computed(() => project.findings.filter((f) => f.step))
const busy = ref(false)

watch(chosenId, () => {
  tools.stop()
  viewport.otherMesh = null
})

async function add(kind: StepKind): Promise<void> {
  const step = newStep(kind, project.plan!, project.build)
  const kept = await project.edit(`Added ${kindOf('prepare', kind).name}`, (plan) => {
    plan.prepare = [...(plan.prepare ?? []), step]
  })
  if (kept) chosenId.value = step.id
}
function change(next: PrepareStep, label: string): Promise<boolean> {
  return project.edit(label, (plan) => {
    plan.prepare = plan.prepare?.map((s) => (s.id === next.id ? next : s))
  })
}
function set(field: string, value: unknown, title: string): void {
  const now = chosen.value
  if (!now) return
  const next = { ...now, [field]: value } as PrepareStep
  // an opening begins inside the wall of its side
  if (next.kind === 'hollow' && field === 'open_side' && next.open_side !== 'closed')
    next.open_at_mm = openAt(next)
  void change(next, `${title} of ${stepName(now)}`)
}
function openAt(step: Extract<PrepareStep, { kind: 'hollow' }>): number {
  const axis = 'xyz'.indexOf(step.open_side![0]!)
  const one = built(step.id)
  const low = (one?.before_low_mm ?? project.build?.model?.low_mm ?? [0, 0, 0])[axis]!
  const high = (one?.before_high_mm ?? project.build?.model?.high_mm ?? [0, 0, 0])[axis]!
  const inwards = 2 * (step.wall_mm ?? 3)
  return Math.round((step.open_side![1] === '-' ? low + inwards : high - inwards) * 10) / 10
}
function setOn(step: PrepareStep, on: boolean): void {
  void change({ ...step, on }, `${on ? 'Switched on' : 'Switched off'} ${stepName(step)}`)
}
function remove(step: PrepareStep): void {
  void project.edit(`Took out ${stepName(step)}`, (plan) => {
    plan.prepare = plan.prepare?.filter((s) => s.id !== step.id)
  })
}
function shift(step: PrepareStep, by: number): void {
  void project.edit(`Moved ${stepName(step)} in the order`, (plan) => {
    const list = [...(plan.prepare ?? [])]
    const at = list.findIndex((s) => s.id === step.id)
    const [one] = list.splice(at, 1)
    list.splice(Math.max(0, at + by), 0, one!)
    plan.prepare = list
  })
}

/** Points of a step belong to the model as the steps before leave it, so that is what is shown while picking. */
function showBefore(): void {
  viewport.otherMesh = done.value?.before_mesh ?? null
}
/** Points picked on the model as it is before the chosen step; none where something else is begun. */
async function before(words: string[]): Promise<Spot[] | null> {
  showBefore()
  const spots = await tools.pick(words)
  if (spots) viewport.otherMesh = null
  return spots
}
async function pick(field: string): Promise<void> {
  const now = chosen.value
  if (!now) return
  const both = field === 'from_mm' && 'to_mm' in now
  const spots = await before(
    both ? ['Click the first point.', 'Click the second point.'] : ['Click the point.'],
  )
  if (!spots) return
  const changes = both
    ? { from_mm: pointOf(spots[0]!), to_mm: pointOf(spots[1]!) }
    : { [field]: pointOf(spots[0]!), ...('facing' in now ? { facing: facingOf(spots[0]!) } : {}) }
  await change({ ...now, ...changes } as PrepareStep, `Points of ${stepName(now)}`)
}
async function pickDown(): Promise<void> {
  const now = chosen.value
  if (now?.kind !== 'stand') return
  const spots = await before(['Click the face it should stand on.'])
  if (!spots) return
  await change({ ...now, down: facingOf(spots[0]!) }, 'Stood on a picked face')
}

async function pickDrain(): Promise<void> {
  const now = chosen.value
  if (now?.kind !== 'hollow') return
  const spots = await before(['Click where the drain hole should be.'])
  if (!spots) return
  const drain = {
    at_mm: pointOf(spots[0]!),
    inwards: spots[0]!.normal.map((v) => Math.round(-v * 1e6) / 1e6) as [number, number, number],
    diameter_mm: Math.max(2.5, now.wall_mm ?? 3),
  }
  await change({ ...now, drains: [...(now.drains ?? []), drain] }, 'Drain hole')
}
async function suggestDrains(): Promise<void> {
  const now = chosen.value
  const id = project.revision?.project_id
  if (now?.kind !== 'hollow' || !id) return
  busy.value = true
  try {
    const found = await run('drains', id, { step: now.id })
    await change({ ...now, drains: found.drains }, 'Suggested drain holes')
  } catch (error) {
    await project.refused(error)
  } finally {
    busy.value = false
  }
}
function setDrain(at: number, diameter: number | null): void {
  const now = chosen.value
  if (now?.kind !== 'hollow') return
  const drains = (now.drains ?? []).flatMap((d, k) =>
    k !== at ? [d] : diameter === null ? [] : [{ ...d, diameter_mm: diameter }],
  )
  void change({ ...now, drains }, diameter === null ? 'Took out a drain hole' : 'Diameter of a drain hole')
}

const kind = computed(() => (chosen.value ? kindOf('prepare', chosen.value.kind) : null))
const fields = computed(() => (kind.value && chosen.value ? shownFields(kind.value, chosen.value) : []))
</script>

<template>
  <div class="block">
    <h2>
      Steps <small>{{ steps.length || 'none: the model is used as it came' }}</small>
    </h2>
    <ul class="list">
      <li
        v-for="(s, i) in steps"
        :key="s.id"
        :class="{ on: s.id === chosenId, off: !s.on }"
        data-test="prepare-step"
        @click="chosenId = s.id"
      >
        <button class="plain tag" :aria-label="`Choose step ${i + 1}`">{{ i + 1 }}</button>
        <span class="grow" :class="{ bad: built(s.id)?.refused }">{{
          s.name || built(s.id)?.label || stepName(s)
        }}</span>
        <span v-if="s.id !== chosenId" class="end">{{ s.on ? '' : 'off' }}</span>
        <OrderTools
          v-else
          :first="i === 0"
          :last="i === steps.length - 1"
          :on="s.on ?? true"
          on-word="Done"
          out-word="Take out"
          test="step"
          @shift="shift(s, $event)"
          @on="setOn(s, $event)"
          @out="remove(s)"
        />
      </li>
    </ul>
    <KindMenu
      label="+ Step"
      :groups="groups(project.plan)"
      :disabled="!project.begun"
      test="add-step"
      item="add"
      @take="add($event as StepKind)"
    />
  </div>
  <div v-if="chosen && kind" class="block" data-test="step-form">
    <h2>
      {{ kind.name }} <small>{{ kind.says }}</small>
    </h2>
    <StandForm
      v-if="chosen.kind === 'stand'"
      :down="chosen.down ?? [0, 0, -1]"
      @down="set('down', $event, 'Standing')"
      @pick="pickDown"
    />
    <OnFaceForm
      v-if="chosen.kind === 'on-face'"
      :step="chosen"
      @change="(next, label) => change(next, label)"
      @pick="pick('at_mm')"
    />
    <BearingForm
      v-if="chosen.kind === 'bearing-seat'"
      :step="chosen"
      @change="(next, label) => change(next, label)"
      @pick="pick('at_mm')"
    />
    <div v-if="chosen.kind === 'seat'" class="row">
      <label for="goes-in">Goes in</label>
      <select
        id="goes-in"
        class="ruled"
        data-test="seat-part"
        :value="chosen.part"
        @change="set('part', ($event.target as HTMLSelectElement).value, 'Part')"
      >
        <option v-for="p in parts.parts.filter((one) => !one.open)" :key="p.id" :value="p.id">
          {{ p.name }}{{ p.count > 1 ? ` × ${p.count}` : '' }}
        </option>
      </select>
    </div>
    <SchemaForm
      :schema="kind.model"
      :fields="fields"
      :picks="kind.picks"
      :value="chosen"
      :words="kind.words"
      @change="set"
      @pick="pick"
    />
    <div v-if="chosen.kind === 'hollow'" class="drains">
      <h2>
        Drain holes <small>{{ chosen.drains?.length || 'none' }}</small>
      </h2>
      <p v-for="(d, k) in chosen.drains" :key="k" class="drain" data-test="drain">
        {{ d.at_mm.map((v) => fixed(v, 1)).join(', ') }}
        <input
          class="ruled"
          type="number"
          min="0.5"
          max="100"
          step="0.5"
          :aria-label="`Diameter of drain hole ${k + 1}`"
          :value="d.diameter_mm"
          @change="setDrain(k, Number(($event.target as HTMLInputElement).value) || 4)"
        />
        <button class="chip" @click="setDrain(k, null)">Take out</button>
      </p>
      <span class="chips">
        <button class="chip" data-test="pick-drain" @click="pickDrain">Pick a place</button>
        <button class="chip" :disabled="busy" data-test="suggest-drains" @click="suggestDrains">
          {{ busy ? 'Working it out …' : 'Lowest and highest point' }}
        </button>
      </span>
    </div>
    <StepPrints v-if="chosen.kind === 'relief'" :step="chosen.id" />
    <p v-if="done" class="said" data-test="step-said">
      <span v-for="sentence in done.said" :key="sentence">{{ sentence }}<br /></span>
      {{ cm3(done.before_volume_mm3) }} → {{ cm3(done.after_volume_mm3) }},
      {{ count(Math.round(done.before_mass_g)) }} → {{ count(Math.round(done.after_mass_g)) }} g
    </p>
  </div>
  <div v-if="findings.length" class="block"><FindingList :findings="findings" /></div>
</template>

<style scoped>
.list {
  margin-bottom: 8px;
}
.drains {
  margin-top: 8px;
}
.drain {
  display: grid;
  grid-template-columns: 1fr 58px auto;
  gap: 8px;
  align-items: center;
  margin: 0 0 4px;
  font-size: 12px;
}
.said {
  margin: 10px 0 0;
  font-size: 12.5px;
  color: var(--moss);
}
</style>
