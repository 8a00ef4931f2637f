<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import type { FaceView, Joint, LidShuts } from '@/api/client'
import { mm } from '@/api/format'
import { run } from '@/api/operations'
import { useSelection } from '@/stores/selection'
import { useProject } from '@/stores/project'
import { kindsOf } from '@/ui/schema'
import FindingList from '@/ui/FindingList.vue'
import FaceList, { type FaceRow } from './FaceList.vue'
import FitsBlock from './FitsBlock.vue'
import MarksBlock from './MarksBlock.vue'
import ModulesBlock from './ModulesBlock.vue'
import WaysBlock from './WaysBlock.vue'
import JointForm from './JointForm.vue'
import { idOf, infoOf, withChosen, withTyped, type JointKind, type SuitKind } from './joints'
import WhatIs from '@/ui/WhatIs.vue'
import KindPicture from '@/ui/KindPicture.vue'

const kinds = kindsOf('joints')
const project = useProject()
const selection = useSelection()
const busy = ref('')
const everywhere = ref<SuitKind>('auto')
const face = computed(() => project.faces.find((f) => f.id === selection.face) ?? null)
const jointsOf = (f: FaceView): Joint[] => (project.plan?.joints ?? []).filter((j) => idOf(j) === f.id)
const joints = computed(() => (face.value ? jointsOf(face.value) : []))
const bare = computed(() => project.faces.filter((f) => !jointsOf(f).length && !f.modules && !f.apart_mm))
const placedOf = (joint: Joint) => project.joints.find((j) => j.id === joint.id)
const tiny = (f: FaceView) => f.room_radius_mm < 0.75
const stateOf = (f: FaceView): { text: string; tone: string } => {
  const placed = project.joints.filter((j) => j.face === f.id)
  const found = project.findings.filter((x) => x.station === 'join' && x.face === f.label && !x.accepted)
  if (found.some((x) => x.severity === 'must-fix')) return { text: 'must fix', tone: 'bad' }
  if (placed.length === 0 && f.modules) return { text: 'modules', tone: '' }
  if (placed.length === 0 && f.lap) return { text: 'overlaps', tone: '' }
  if (placed.length === 0 && f.apart_mm) return { text: `${mm(f.apart_mm)} mm apart`, tone: '' }
  if (placed.length === 0) return { text: tiny(f) ? 'small' : 'needs one', tone: 'look' }
  if (found.some((x) => x.severity === 'look-at')) return { text: 'look at', tone: 'look' }
  return { text: placed[0]!.kind === 'butt' ? '' : placed[0]!.fit, tone: '' }
}
/** the faces as they are listed: what is on each, and how it stands */
const rows = computed<FaceRow[]>(() =>
  project.faces.map((f) => {
    const labels = jointsOf(f).map((j) => placedOf(j)?.label ?? j.kind)
    const other = f.lap || (f.modules ? 'magnets in its sides' : '') || 'no joint yet'
    return { face: f, joints: jointsOf(f), has: labels.join(', ') || other, ...stateOf(f) }
  }),
)
const waiting = computed(() =>
  project.upToDate && project.build?.state === 'whole'
    ? (project.plan?.joints ?? []).filter((j) => !project.faces.some((f) => f.id === idOf(j)))
    : [],
)
const findings = computed(() => {
  const label = face.value?.label
  return project.findings.filter(
    (f) => f.station === 'join' && (f.face === label || f.code === 'joint-unplaced'),
  )
})

onMounted(() => {
  if (!face.value) selection.face = project.faces[0]?.id ?? null
})
watch(
  () => project.faces,
  (now) => {
    if (!now.some((f) => f.id === selection.face)) selection.face = now[0]?.id ?? null
  },
)

/** Have joints that suit put on faces, or one in place of another; says where there is no room. */
async function suited(
  kind: SuitKind,
  faces: FaceView[],
  instead: string | null = null,
  anew = false,
): Promise<void> {
  if (busy.value) return
  busy.value = kind
  const ids = faces.map((f) => f.id)
  const wish = { kind, faces: ids, one_way: false, instead_of: instead, anew }
  const found = await project.command('add-joints', wish)
  busy.value = ''
  if (!found) return
  const without = project.faces.filter((f) => found.without?.includes(f.id))
  const why = [...new Set(without.flatMap((f) => found.why?.[f.id] ?? []))]
  const crowded = without.filter((f) => !found.why?.[f.id]).map((f) => f.label)
  const said = crowded.length ? [noRoom(kind, crowded), ...why] : why
  if (found.laid?.length) said.push(laidOtherwise(found.laid))
  if (said.length) project.say(said.join(' '))
}
function laidOtherwise(pieces: number[]): string {
  const [which, lay, would] =
    pieces.length === 1
      ? [`Piece ${pieces[0]} lies`, 'it lay', 'it would']
      : [`Pieces ${pieces.join(', ')} lie`, 'they lay', 'they would']
  return `${which} otherwise on the bed now: as ${lay}, ${would} not fit with the joints.`
}
function noRoom(kind: SuitKind, labels: string[]): string {
  const what = kind === 'auto' ? 'any joint' : infoOf(kind).name.toLowerCase()
  const wall = mm(project.plan?.least_wall_mm ?? 0)
  return `No room for ${what} on ${labels.join(', ')} with a wall of ${wall} mm. Use glue, a smaller least wall, or move the parting.`
}
function add(kind: JointKind): void {
  if (face.value) void suited(kind, [face.value])
}
/** How a lid opens and shuts. */
const LIDS: { value: LidShuts; title: string }[] = [
  { value: 'suits', title: 'what suits' },
  { value: 'hinge and magnets', title: 'hinge and magnets' },
  { value: 'hinge and bump', title: 'hinge and a bump' },
  { value: 'hinge and latch', title: 'hinge and a latch' },
  { value: 'clicks', title: 'comes off, clicks' },
  { value: 'hooks', title: 'comes off, snap hooks' },
  { value: 'magnets', title: 'comes off, magnets' },
  { value: 'bayonet', title: 'comes off by a turn' },
]
const shuts = ref<LidShuts>('suits')
/** What a lid needs on the face, so that what lies on it becomes one; says what had no room. */
async function makeLid(): Promise<void> {
  if (busy.value || !face.value) return
  busy.value = 'auto'
  const { id, label } = face.value
  const found = await project.command('make-lid', { face: id, shuts: shuts.value })
  busy.value = ''
  if (!found) return
  const names = (found.left_out ?? []).map((k) => infoOf(k as JointKind).name.toLowerCase())
  const noRoomFor = `No room for ${names.join(' and ')} on ${label}`
  const said: string[] = []
  if (found.without?.length)
    said.push(
      found.why?.[id] ??
        `${noRoomFor}. Choose another way to shut it, move the parting, or use a smaller least wall.`,
    )
  else if (names.length) said.push(found.why?.[id] ?? `${noRoomFor}: the rest is there.`)
  else if (!found.changed) said.push(`${label} has all that such a lid needs already.`)
  if (found.laid?.length) said.push(laidOtherwise(found.laid))
  if (said.length) project.say(said.join(' '))
}
function addEverywhere(): void {
  void suited(everywhere.value, bare.value)
}
function change(what: string, next: Joint): void {
  void project.edit(`${what} on ${face.value?.label}`, (plan) => {
    plan.joints = plan.joints?.map((j) => (j.id === next.id ? withTyped(j, next) : j))
  })
}
/** A measure that was typed is chosen by Hinoki again, to suit the face. */
async function giveBack(joint: Joint, field: string, title: string): Promise<void> {
  const wish = { kind: joint.kind, fit: joint.fit, faces: [idOf(joint)], one_way: false }
  let chosen: Joint | undefined
  try {
    chosen = (await run('suggest-joints', project.revision!.project_id, wish)).joints[0]
  } catch (error) {
    return project.refused(error)
  }
  if (!chosen) {
    project.say(
      `Nothing of this kind suits ${face.value?.label} by itself: ${title.toLowerCase()} stays as you typed it.`,
    )
    return
  }
  await project.edit(`${title} on ${face.value?.label} as it suits`, (plan) => {
    plan.joints = plan.joints?.map((j) => (j.id === joint.id ? withChosen(j, field, chosen!) : j))
  })
}
/** Another kind in the same place: with the measures that suit it, and the places where both have some. */
function turn(joint: Joint, kind: JointKind): void {
  if (face.value && kind !== joint.kind) void suited(kind, [face.value], joint.id)
}
async function copy(joint: Joint): Promise<void> {
  const found = await project.command('copy-joint', { joint: joint.id })
  if (found?.laid?.length) project.say(laidOtherwise(found.laid))
  if (found && !found.changed)
    project.say(
      `All faces of ${joint.face.parting.toUpperCase()} have ${infoOf(joint.kind).name.toLowerCase()} already.`,
    )
}
function remove(joint: Joint): void {
  void project.edit(`Removed ${infoOf(joint.kind).name.toLowerCase()}`, (plan) => {
    plan.joints = plan.joints?.filter((j) => j.id !== joint.id)
  })
}
</script>

<template>
  <div class="block faces">
    <h2>
      Mating faces <small>{{ project.faces.length }}</small> <WhatIs word="mating face" />
    </h2>
    <FaceList :rows="rows" :busy="!!busy" @renew="(kind, faces) => suited(kind, faces, null, true)" />
    <p v-if="project.faces.length === 0" class="soft">
      No mating faces yet. They come with the partings at Divide.
    </p>
    <div v-if="bare.length" class="all">
      <select
        v-model="everywhere"
        class="ruled"
        aria-label="Kind for all bare faces"
        data-test="everywhere-kind"
      >
        <option value="auto">what suits each</option>
        <option v-for="k in kinds" :key="k.kind" :value="k.kind">{{ k.says }}</option>
      </select>
      <button class="chip" :disabled="!!busy" data-test="everywhere" @click="addEverywhere">
        On {{ bare.length }} bare {{ bare.length === 1 ? 'face' : 'faces' }}
      </button>
    </div>
  </div>
  <template v-if="face">
    <JointForm
      v-for="joint in joints"
      :key="joint.id"
      :joint="joint"
      :face="face"
      @change="change"
      @turn="turn(joint, $event)"
      @give-back="(field, title) => void giveBack(joint, field, title)"
      @copy="copy(joint)"
      @remove="remove(joint)"
    />
    <div class="block">
      <h2>{{ joints.length ? 'Another joint' : 'Joint' }} on {{ face.label }}</h2>
      <div class="chips">
        <button
          v-for="k in kinds"
          :key="k.kind"
          class="chip"
          :disabled="!!busy"
          :title="k.when"
          :data-test="`add-${k.kind}`"
          @click="add(k.kind as JointKind)"
        >
          <KindPicture :kind="k.kind" />+ {{ k.name }}
        </button>
      </div>
      <div class="all">
        <button
          class="chip"
          :disabled="!!busy"
          title="All that a lid needs, each where it works beside the others"
          data-test="make-lid"
          @click="makeLid"
        >
          Make it a lid that shuts
        </button>
        <select v-model="shuts" class="ruled" aria-label="How the lid shuts" data-test="lid-shuts">
          <option v-for="way in LIDS" :key="way.value" :value="way.value">{{ way.title }}</option>
        </select>
      </div>
      <p v-if="tiny(face) && !joints.length" class="look small">
        This face is slim: with a wall of {{ mm(project.plan?.least_wall_mm ?? 0) }} mm around them
        {{
          face.room_radius_mm > 0.05
            ? `pegs of ø${mm(2 * face.room_radius_mm)} mm have room`
            : 'no pegs have room'
        }}. A lip or fingers follow the wall, a collar inside it takes pegs, splice plates bridge it; else
        glue it, or move the parting.
      </p>
    </div>
  </template>
  <div v-if="waiting.length" class="block">
    <h2>
      Waiting for their face <small>{{ waiting.length }}</small>
    </h2>
    <div v-for="joint in waiting" :key="joint.id" class="row waiting">
      <span>{{ infoOf(joint.kind).name }} on {{ joint.face.a }} | {{ joint.face.b }}</span>
      <button class="chip" data-test="remove-waiting" @click="remove(joint)">Remove</button>
    </div>
  </div>
  <div v-if="findings.length" class="block">
    <FindingList :findings="findings" />
  </div>
  <WaysBlock />
  <ModulesBlock />
  <MarksBlock :face="face" />
  <FitsBlock />
</template>

<style scoped>
.all > .chip {
  flex: none;
}
.all {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 10px;
  margin-top: 8px;
}
.small {
  font-size: 12px;
  margin: 6px 0 0;
}
.waiting {
  grid-template-columns: 1fr auto;
  font-size: 12px;
}
</style>
