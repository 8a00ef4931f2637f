<script setup lang="ts">
/** The partings in order, ways to add one, and the chosen one. */
import { computed, onMounted, ref, watch } from 'vue'
import { type Parting, type Schemas } from '@/api/client'
import { mm } from '@/api/format'
import { run } from '@/api/operations'
import { useDividing } from '@/stores/dividing'
import { useSelection } from '@/stores/selection'
import { useTools, type Spot } from '@/stores/tools'
import { useProject } from '@/stores/project'
import OrderTools from '@/ui/OrderTools.vue'
import { kindOf, kindsOf } from '@/ui/schema'
import {
  newEven,
  newFlat,
  newHatch,
  newLap,
  newLumps,
  newOf,
  newProfile,
  newWedges,
  nextId,
} from './partings'
import PartingForm from './PartingForm.vue'
import TogetherBlock from './TogetherBlock.vue'
import RuledNumber from '@/ui/RuledNumber.vue'
import KindPicture from '@/ui/KindPicture.vue'

const project = useProject()
const selection = useSelection()
const dividing = useDividing()
const tools = useTools()
const partings = computed(() => project.plan?.partings ?? [])
const chosen = computed(() => partings.value.find((p) => p.id === selection.parting) ?? null)
const open = computed(() => project.build?.state === 'open')
const cannot = computed(() => project.pieces.length === 0 || open.value)

onMounted(() => {
  if (!chosen.value) selection.parting = partings.value[0]?.id ?? null
})
watch(partings, () => {
  if (selection.parting && !chosen.value) selection.parting = null
})

function label(p: Parting): string {
  if (p.kind === 'flat') {
    const draft = dividing.draft?.partingId === p.id ? dividing.draft.moved : 0
    const tilted = p.tilt_deg?.some((t) => t !== 0) ? ' tilted' : ''
    return `Flat${tilted} · ${p.axis!.toUpperCase()} ${mm(p.at_mm + draft)}`
  }
  const built = project.build?.partings?.find((view) => view.id === p.id)
  const name = kindOf('partings', p.kind).says
  return built && project.upToDate ? built.label : name[0]!.toUpperCase() + name.slice(1)
}

async function add(parting: Parting | null): Promise<void> {
  if (!parting) return
  const kept = await project.edit(`Added ${parting.id.toUpperCase()}`, (plan) => {
    plan.partings = [...(plan.partings ?? []), parting]
  })
  if (kept) selection.parting = parting.id
}

/** Ask the server for the parting that was picked, and add it. */
async function picked(what: Schemas['Picked']['what'], spots: Spot[]): Promise<void> {
  const now = project.revision
  if (!now || !project.plan) return
  try {
    const body = {
      what,
      at_mm: spots.map((s) => s.at),
      offset_mm: what === 'face' ? offset.value : 0,
    } as Schemas['Picked']
    const found = await run('pick', now.project_id, body)
    await add({ ...found.parting, id: nextId(project.plan) })
    if (found.said?.length) project.message = found.said[0]!
  } catch (error) {
    await project.refused(error)
  }
}
/** how far outwards from a picked face the plane lies; a plane in the model's own face would cut nothing */
const offset = ref(-5)
const PICKS = [
  {
    what: 'points',
    name: 'Through three points',
    words: ['Click the first point.', 'Click the second point.', 'Click the third point.'],
  },
  { what: 'face', name: 'On a flat face', words: ['Click a flat face.'] },
  { what: 'loop', name: 'Through an edge loop', words: ['Click close to an edge of the loop.'] },
] as const
const menuOpen = ref(false)
async function pickFlat(pick: (typeof PICKS)[number]): Promise<void> {
  menuOpen.value = false
  const spots = await tools.pick(pick.words)
  if (spots) await picked(pick.what, spots)
}
async function pickFeature(): Promise<void> {
  const spots = await tools.pick(['Click the feature that is to come off.'])
  if (spots) await picked('feature', spots)
}
async function pickHatch(): Promise<void> {
  const spots = await tools.pick(['Click where the middle of the hatch is to be.'])
  if (!spots) return
  const piece = project.pieces.find((p) => p.number === spots[0]!.piece)
  const key = project.pieces.length > 1 && piece ? piece.key : null
  await add(newHatch(project.plan!, spots[0]!, key))
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
/** how a new one comes about, by kind; the others begin as their schema says */
const BEGIN: Record<string, () => void> = {
  flat: () => add(newFlat(project.plan!, project.pieces, project.room)),
  even: () => add(newEven(project.plan!, project.pieces, project.room)),
  wedges: () => add(newWedges(project.plan!, project.pieces, project.room)),
  profile: () => add(newProfile(project.plan!, project.pieces, project.room)),
  lap: () => add(newLap(project.plan!, project.pieces, project.room)),
  hatch: pickHatch,
  detach: pickFeature,
}
/** lumps are parted below, where all is that was loose from the beginning */
const kinds = kindsOf('partings').filter((k) => k.kind !== 'lumps')
const begin = (kind: (typeof kinds)[number]) =>
  (BEGIN[kind.kind] ?? (() => add(newOf(project.plan!, kind))))()
</script>

<template>
  <div class="block">
    <ul class="list">
      <li
        v-for="(p, i) in partings"
        :key="p.id"
        :class="{ on: p.id === selection.parting, off: !p.on }"
        data-test="parting"
        @click="selection.parting = p.id"
      >
        <button class="plain tag" :aria-label="`Choose ${p.id.toUpperCase()}`">
          {{ p.id.toUpperCase() }}
        </button>
        <span class="grow">{{ label(p) }}</span>
        <span v-if="p.id !== selection.parting" class="end">{{ p.on ? p.name : 'off' }}</span>
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
      No partings yet: the model is one piece. Add one, or let Hinoki
      <button class="plain link" @click="dividing.page = 'propose'">propose a division</button>.
    </p>
    <div class="chips">
      <button
        v-for="kind in kinds"
        :key="kind.kind"
        class="chip"
        :disabled="cannot"
        :data-test="`add-${kind.kind}`"
        @click="begin(kind)"
      >
        <KindPicture :kind="kind.kind" />+ {{ kind.name }}
      </button>
      <button
        v-if="(project.build?.model?.lumps ?? 0) > 1"
        class="chip"
        :disabled="open"
        data-test="add-lumps"
        @click="add(newLumps(project.plan!))"
      >
        <KindPicture kind="lumps" />+ Lumps
      </button>
      <v-menu v-model="menuOpen" location="bottom" :close-on-content-click="false">
        <template #activator="{ props: menu }">
          <button v-bind="menu" class="chip" :disabled="cannot" data-test="pick-flat">
            Flat by picking ▾
          </button>
        </template>
        <div class="menu">
          <button
            v-for="pick in PICKS"
            :key="pick.what"
            class="plain"
            :data-test="`flat-${pick.what}`"
            @click="pickFlat(pick)"
          >
            {{ pick.name }}
          </button>
          <span class="offset" @click.stop @keydown.stop>
            face offset
            <RuledNumber v-model="offset" label="Offset from the face" :step="0.5" data-test="face-offset" />
          </span>
        </div>
      </v-menu>
    </div>
    <p v-if="open" class="bad">The surface is open: it cannot be parted until it is closed.</p>
  </div>
  <PartingForm v-if="chosen" :key="chosen.id" :parting="chosen" @add="add" />
  <TogetherBlock v-if="!open && project.pieces.length" />
</template>

<style scoped>
.offset {
  display: flex;
  gap: 8px;
  color: var(--ink-soft);
}
.offset :deep(.ruled-number) {
  width: 70px;
}
.list {
  margin-bottom: 8px;
}
.link {
  color: var(--cedar);
  text-decoration: underline;
}
p {
  margin: 0 0 8px;
  font-size: 12.5px;
}
</style>
