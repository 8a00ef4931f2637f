<script setup lang="ts">
import { computed, onMounted, watch } from 'vue'
import type { FaceView, Joint } from '@/api/client'
import { mm } from '@/api/format'
import { useLooking } from '@/stores/looking'
import { useProject } from '@/stores/project'
import FindingList from '@/ui/FindingList.vue'
import RuledNumber from '@/ui/RuledNumber.vue'
import SchemaForm from '@/ui/SchemaForm.vue'
import { idOf, newJoint, turnedInto, type PegKind } from './joints'

const project = useProject()
const looking = useLooking()
const face = computed(() => project.faces.find((f) => f.id === looking.face) ?? null)
const jointsOf = (f: FaceView): Joint[] => (project.plan?.joints ?? []).filter((j) => idOf(j) === f.id)
const joints = computed(() => (face.value ? jointsOf(face.value) : []))
const bare = computed(() => project.faces.filter((f) => jointsOf(f).length === 0))
const placedOf = (joint: Joint) => project.joints.find((j) => j.id === joint.id)
const stateOf = (f: FaceView): { text: string; tone: string } => {
  const placed = project.joints.filter((j) => j.face === f.id)
  const found = placed.flatMap((j) => j.findings)
  if (found.some((x) => x.severity === 'must-fix')) return { text: 'must fix', tone: 'bad' }
  if (found.length) return { text: 'look at', tone: 'look' }
  if (placed.length === 0)
    return f.pin || f.dowel ? { text: 'needs one', tone: 'look' } : { text: 'no room', tone: 'look' }
  return { text: placed[0]!.fit, tone: '' }
}
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
  if (!face.value) looking.face = project.faces[0]?.id ?? null
})
watch(
  () => project.faces,
  (now) => {
    if (!now.some((f) => f.id === looking.face)) looking.face = now[0]?.id ?? null
  },
)

function add(kind: PegKind): void {
  const at = face.value
  if (!at) return
  void project.edit(`Added ${kind}s on ${at.label}`, (plan) => {
    plan.joints = [...(plan.joints ?? []), newJoint(plan, at, kind)]
  })
}
function addEverywhere(kind: PegKind): void {
  const faces = bare.value.filter((f) => f[kind])
  void project.edit(`${kind === 'pin' ? 'Pins' : 'Dowels'} on all faces`, (plan) => {
    for (const f of faces) plan.joints = [...(plan.joints ?? []), newJoint(plan, f, kind)]
  })
}
function change(what: string, next: Joint): void {
  void project.edit(`${what} on ${face.value?.label}`, (plan) => {
    plan.joints = plan.joints?.map((j) => (j.id === next.id ? next : j))
  })
}
function set(joint: Joint, field: string, value: unknown, title: string): void {
  // a new count is spread anew; places set by hand would not match it
  const places = field === 'count' ? null : joint.places
  change(title, { ...joint, [field]: value, places } as Joint)
}
function remove(joint: Joint): void {
  void project.edit(`Removed ${joint.kind}s`, (plan) => {
    plan.joints = plan.joints?.filter((j) => j.id !== joint.id)
  })
}
const clearance = (fit: string) => (project.plan?.fits as Record<string, number> | undefined)?.[fit] ?? 0
const fitWords = computed(() =>
  Object.fromEntries(
    ['press', 'snug', 'sliding', 'loose'].map((f) => [
      f,
      `${f[0]!.toUpperCase()}${f.slice(1)}, ${clearance(f).toFixed(2)} each side`,
    ]),
  ),
)
const numberOf = (key: string) => project.pieces.find((p) => p.key === key)?.number ?? '?'
const words = (joint: Joint) => ({
  fit: fitWords.value,
  shape: { round: 'Round', square: 'Square' },
  on: { a: `piece ${numberOf(joint.face.a)}`, b: `piece ${numberOf(joint.face.b)}` },
})
const SCHEMA = { pin: 'PinJoint', dowel: 'DowelJoint' } as const
const FIELDS = {
  pin: ['count', 'shape', 'diameter_mm', 'length_mm', 'on', 'fit'],
  dowel: ['count', 'shape', 'diameter_mm', 'length_mm', 'fit'],
} as const
function setClearance(fit: string, value: number | null): void {
  if (value === null) return
  void project.edit(`Clearance of ${fit}`, (plan) => {
    plan.fits = { ...plan.fits!, [fit]: value }
  })
}
</script>

<template>
  <div class="block faces">
    <h2>
      Mating faces <small>{{ project.faces.length }}</small>
    </h2>
    <ul class="list scroll">
      <li
        v-for="f in project.faces"
        :key="f.id"
        :class="{ on: f.id === looking.face }"
        data-test="face"
        @click="looking.face = f.id"
      >
        <button class="plain tag" :aria-label="`Choose face ${f.label}`">{{ f.label }}</button>
        <span class="grow" :class="{ soft: jointsOf(f).length === 0 }">
          {{
            jointsOf(f)
              .map((j) => placedOf(j)?.label ?? j.kind)
              .join(', ') || 'no joint yet'
          }}
        </span>
        <span class="end" :class="stateOf(f).tone">{{ stateOf(f).text }}</span>
      </li>
    </ul>
    <p v-if="project.faces.length === 0" class="soft">
      No mating faces yet. They come with the partings at Divide.
    </p>
    <div v-if="bare.length" class="chips all">
      <button
        class="chip"
        :disabled="!bare.some((f) => f.pin)"
        data-test="pins-everywhere"
        @click="addEverywhere('pin')"
      >
        Pins on all faces
      </button>
      <button
        class="chip"
        :disabled="!bare.some((f) => f.dowel)"
        data-test="dowels-everywhere"
        @click="addEverywhere('dowel')"
      >
        Dowels on all faces
      </button>
    </div>
  </div>
  <div v-for="joint in joints" :key="joint.id" class="block">
    <h2>{{ joint.kind === 'pin' ? 'Pins' : 'Dowels' }} on {{ face?.label }}</h2>
    <div class="row">
      <span class="label">Kind</span>
      <select
        class="ruled"
        aria-label="Kind of joint"
        :value="joint.kind"
        @change="
          change('Kind of joint', turnedInto(joint, ($event.target as HTMLSelectElement).value as PegKind))
        "
      >
        <option value="pin">Pins, part of a piece</option>
        <option value="dowel">Dowels, loose</option>
      </select>
    </div>
    <SchemaForm
      :schema="SCHEMA[joint.kind]"
      :fields="[...FIELDS[joint.kind]]"
      :value="joint as unknown as Record<string, unknown>"
      :words="words(joint)"
      @change="(field, value, title) => set(joint, field, value, title)"
    />
    <p class="soft small">
      {{
        joint.kind === 'pin'
          ? 'Length: how far it stands out.'
          : 'Length: the whole dowel, half in each piece.'
      }}
      <template v-if="placedOf(joint)">
        Bore ø{{ placedOf(joint)!.bore_mm[0].toFixed(2) }} × {{ mm(placedOf(joint)!.bore_mm[1]) }} deep.
      </template>
    </p>
    <div class="chips">
      <button
        class="chip"
        :disabled="joint.places === null"
        data-test="spread-evenly"
        @click="change('Spread evenly', { ...joint, places: null })"
      >
        Spread evenly
      </button>
      <button class="chip" data-test="remove-joint" @click="remove(joint)">Remove</button>
    </div>
  </div>
  <div v-if="face && joints.length === 0" class="block">
    <h2>Joint on {{ face.label }}</h2>
    <div class="chips">
      <button class="chip" data-test="add-pin" @click="add('pin')">+ Pins</button>
      <button class="chip" data-test="add-dowel" @click="add('dowel')">+ Dowels</button>
    </div>
    <p v-if="!face.pin && !face.dowel" class="look">
      No room was found for pegs with a wall of {{ mm(project.plan?.least_wall_mm ?? 0) }} mm. Glue, or move
      the parting.
    </p>
  </div>
  <div v-if="waiting.length" class="block">
    <h2>
      Waiting for their face <small>{{ waiting.length }}</small>
    </h2>
    <div v-for="joint in waiting" :key="joint.id" class="row waiting">
      <span>{{ joint.count }} {{ joint.kind }}s on {{ joint.face.a }} | {{ joint.face.b }}</span>
      <button class="chip" data-test="remove-waiting" @click="remove(joint)">Remove</button>
    </div>
  </div>
  <div v-if="findings.length" class="block">
    <FindingList :findings="findings" />
  </div>
  <div class="block">
    <h2>Fits <small>clearance on each side</small></h2>
    <div
      v-for="(title, fit) in { press: 'Press', snug: 'Snug', sliding: 'Sliding', loose: 'Loose' }"
      :key="fit"
      class="row"
    >
      <span class="label">{{ title }}</span>
      <RuledNumber
        :model-value="clearance(fit)"
        :label="`Clearance of ${fit}, each side`"
        :step="0.05"
        :min="0"
        :max="2"
        :digits="2"
        :data-test="`fit-${fit}`"
        @update:model-value="setClearance(fit, $event)"
      />
    </div>
    <div class="row">
      <span class="label">Least wall</span>
      <RuledNumber
        :model-value="project.plan?.least_wall_mm ?? 1.6"
        label="Least wall around a joint"
        :step="0.1"
        :min="0.2"
        :max="50"
        @update:model-value="
          (v) => v !== null && project.edit('Least wall', (plan) => void (plan.least_wall_mm = v))
        "
      />
    </div>
  </div>
</template>

<style scoped>
.scroll {
  max-height: 208px;
  overflow: auto;
}
.all {
  margin-top: 10px;
}
.small {
  font-size: 12px;
  margin: 6px 0 8px;
}
.waiting {
  grid-template-columns: 1fr auto;
  font-size: 12px;
}
</style>
