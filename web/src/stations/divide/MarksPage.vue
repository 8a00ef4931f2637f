<script setup lang="ts">
/** Marks on the model: what stays whole, where seams show, where they hide. Painted with a brush, or boxed. */
import { computed, ref, watch } from 'vue'
import { type Plan, type Schemas, type Vec3 } from '@/api/client'
import { mm2 } from '@/api/format'
import { run } from '@/api/operations'
import { useTools } from '@/stores/tools'
import { useProject } from '@/stores/project'
import RuledNumber from '@/ui/RuledNumber.vue'
import { MARK_COLOURS } from '@/view3d/bodies'
import RuledText from '@/ui/RuledText.vue'

type Mark = Schemas['Mark']
type Kind = Mark['kind']
const project = useProject()
const tools = useTools()
const marks = computed(() => project.plan?.marks ?? [])
const chosenId = ref<string | null>(null)
const chosen = computed(() => marks.value.find((m) => m.id === chosenId.value) ?? null)
const radius = ref(8)
const erase = ref(false)
const KINDS: { kind: Kind; name: string; says: string }[] = [
  { kind: 'keep', name: 'Keep whole', says: 'no parting should cross it' },
  { kind: 'show', name: 'Show face', says: 'seams and supports hurt here' },
  { kind: 'hidden', name: 'Hidden', says: 'seams are welcome here' },
]
const nameOf = (kind: Kind) => KINDS.find((k) => k.kind === kind)!.name
const viewOf = (id: string) => project.build?.marks?.find((m) => m.id === id)

watch([radius, erase, chosenId], () => {
  if (tools.brush !== null) paint()
})

const freeId = (plan: Plan): string =>
  `k${Math.max(0, ...(plan.marks ?? []).map((m) => Number(m.id.slice(1)))) + 1}`

/** Take the brush in hand; the first stroke of a new mark makes it. */
let wanted: Kind = 'keep'
function begin(kind: Kind): void {
  wanted = kind
  chosenId.value = null
  erase.value = false
  paint()
}
const paint = (): void => tools.paint(radius.value)
watch(
  () => tools.stroke,
  (one) => one && tools.brush !== null && void stroke(one.at, one.normals),
)
async function stroke(at: Vec3[], normals: Vec3[]): Promise<void> {
  const now = project.revision
  if (!now || !project.plan) return
  const mark = chosen.value?.painted ? chosen.value.id : null
  const body = { mark, erase: erase.value, radius_mm: radius.value, at_mm: at, normals }
  try {
    const { painted } = await run('paint', now.project_id, body)
    if (mark) await repaint(mark, painted ?? null)
    else if (painted) await keep({ id: freeId(project.plan), kind: wanted, name: '', on: true, painted })
  } catch (error) {
    await project.refused(error)
  }
}
async function repaint(id: string, painted: Mark['painted']): Promise<void> {
  await project.edit(`Painted ${id.toUpperCase()}`, (plan) => {
    plan.marks = (plan.marks ?? []).flatMap((m) => (m.id !== id ? [m] : painted ? [{ ...m, painted }] : []))
  })
}
async function keep(mark: Mark): Promise<void> {
  const kept = await project.edit(`Marked: ${nameOf(mark.kind)}`, (plan) => {
    plan.marks = [...(plan.marks ?? []), mark]
  })
  if (kept) chosenId.value = mark.id
}
/** A box of 20 mm about a picked point. */
async function pickBox(kind: Kind): Promise<void> {
  const spots = await tools.pick(['Click in the middle of what the box is to hold.'])
  if (!spots) return
  const [low, high] = [-10, 10].map((by) => spots[0]!.at.map((v) => Math.round((v + by) * 10) / 10))
  const box = { low_mm: low as Vec3, high_mm: high as Vec3 }
  await keep({ id: freeId(project.plan!), kind, name: '', on: true, box })
}
function change(what: string, next: Mark): void {
  void project.edit(`${what} of ${next.id.toUpperCase()}`, (plan) => {
    plan.marks = plan.marks?.map((m) => (m.id === next.id ? next : m))
  })
}
function setBox(corner: 'low_mm' | 'high_mm', at: number, value: number | null): void {
  const now = chosen.value
  if (!now?.box || value === null) return
  const next = now.box[corner].map((v, k) => (k === at ? value : v)) as Vec3
  change('Box', { ...now, box: { ...now.box, [corner]: next } })
}
function remove(mark: Mark): void {
  void project.edit(`Took out ${mark.id.toUpperCase()}`, (plan) => {
    plan.marks = plan.marks?.filter((m) => m.id !== mark.id)
  })
}
</script>

<template>
  <div class="block">
    <div v-for="k in KINDS" :key="k.kind" class="kind">
      <i :style="{ background: MARK_COLOURS[k.kind] }"></i>
      <span
        ><b>{{ k.name }}</b> <span class="soft">{{ k.says }}</span></span
      >
      <button class="chip" :data-test="`paint-${k.kind}`" @click="begin(k.kind)">Paint</button>
      <button class="chip" :data-test="`box-${k.kind}`" @click="pickBox(k.kind)">Box</button>
    </div>
    <div class="row brush">
      <span class="label">Brush</span>
      <RuledNumber
        v-model="radius"
        label="Brush radius"
        :min="0.5"
        :max="200"
        :step="1"
        data-test="brush-radius"
      />
    </div>
  </div>
  <div class="block">
    <p v-if="marks.length === 0" class="soft">
      Nothing is marked. Proposals heed the marks; partings that cross what stays whole are found.
    </p>
    <ul class="list">
      <li
        v-for="m in marks"
        :key="m.id"
        :class="{ on: m.id === chosenId }"
        data-test="mark"
        @click="chosenId = m.id"
      >
        <i :style="{ background: MARK_COLOURS[m.kind] }"></i>
        <span class="grow">{{ nameOf(m.kind) }}{{ m.name ? ` · ${m.name}` : '' }}</span>
        <span class="end" :class="{ bad: viewOf(m.id)?.crossed_by?.length }">{{
          !m.on
            ? 'off'
            : viewOf(m.id)?.crossed_by?.length
              ? `cut by ${viewOf(m.id)!.crossed_by!.join(', ').toUpperCase()}`
              : viewOf(m.id)
                ? mm2(viewOf(m.id)!.area_mm2)
                : 'nowhere'
        }}</span>
      </li>
    </ul>
    <template v-if="chosen">
      <div class="row">
        <span class="label">Name</span>
        <RuledText
          maxlength="80"
          label="Name of the mark"
          :model-value="chosen.name"
          @update:model-value="change('Name', { ...chosen, name: $event })"
        />
      </div>
      <template v-if="chosen.box">
        <div v-for="corner in ['low_mm', 'high_mm'] as const" :key="corner" class="row">
          <span class="label">{{ corner === 'low_mm' ? 'From' : 'To' }}</span>
          <span class="three">
            <RuledNumber
              v-for="at in 3"
              :key="at"
              :model-value="chosen.box[corner][at - 1]!"
              :label="`${corner === 'low_mm' ? 'From' : 'To'} ${'XYZ'[at - 1]}`"
              unit=""
              @update:model-value="setBox(corner, at - 1, $event)"
            />
          </span>
        </div>
      </template>
      <div class="chips">
        <template v-if="chosen.painted">
          <button class="chip" data-test="paint-on" @click="((erase = false), paint())">Paint on</button>
          <button class="chip" data-test="erase" @click="((erase = true), paint())">Erase</button>
        </template>
        <button class="chip" @click="change('Switching', { ...chosen, on: !chosen.on })">
          {{ chosen.on ? 'Switch off' : 'Switch on' }}
        </button>
        <button class="chip" data-test="mark-remove" @click="remove(chosen)">Take out</button>
      </div>
    </template>
  </div>
</template>

<style scoped>
.kind {
  display: grid;
  grid-template-columns: 12px 1fr auto auto;
  gap: 8px;
  align-items: center;
  font-size: 12.5px;
  padding: 2px 0;
}
i {
  width: 11px;
  height: 11px;
  border-radius: 2px;
  flex: none;
}
.brush {
  margin-top: 6px;
}
.brush :deep(.ruled-number) {
  width: 80px;
}
.three {
  display: flex;
  gap: 6px;
}
.three :deep(.ruled-number) {
  width: 60px;
}
.list {
  margin-bottom: 8px;
}
p {
  margin: 0;
  font-size: 12.5px;
}
.chips {
  margin-top: 8px;
}
</style>
