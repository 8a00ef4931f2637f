<script setup lang="ts">
/** One joint: its kind, its measures with a sketch, its fit, where it goes. */
import { computed, ref } from 'vue'
import type { FaceView, Joint, Schemas } from '@/api/client'
import { fixed, mm } from '@/api/format'
import { useViewport } from '@/stores/viewport'
import { useProject } from '@/stores/project'
import { FITS } from '@/stores/workshop'
import RuledNumber from '@/ui/RuledNumber.vue'
import SchemaForm from '@/ui/SchemaForm.vue'
import { kindsOf, shownFields } from '@/ui/schema'
import SizeChoice from '@/ui/SizeChoice.vue'
import JointSketch from './JointSketch.vue'
import LadderBlock from './LadderBlock.vue'
import VersionsBlock from './VersionsBlock.vue'
import { flankOf, headFor, infoOf, type JointKind } from './joints'

const props = defineProps<{ joint: Joint; face: FaceView }>()
const emit = defineEmits<{
  change: [what: string, next: Joint]
  turn: [kind: JointKind]
  'give-back': [field: string, title: string]
  copy: []
  remove: []
}>()
const project = useProject()
const viewport = useViewport()
const sketch = ref(false)
const laddering = ref(false)
const versioning = ref(false)
/** versions that are kept of it */
const versions = computed(
  () => (project.plan?.joint_tries ?? []).filter((t) => t.joint.id === props.joint.id).length,
)
const kinds = kindsOf('joints')
const info = computed(() => infoOf(props.joint.kind))
const placed = computed(() => project.joints.find((j) => j.id === props.joint.id))
const dovetail = computed(() => (props.joint.kind === 'dovetail' ? props.joint : null))
const flank = computed(() => {
  const d = dovetail.value
  return d ? flankOf(d.neck_mm ?? 5, d.head_mm ?? 10, d.height_mm ?? 3) : 0
})
const fields = computed(() => shownFields(info.value, props.joint))
/** sizes on sale of its kind, and the one it has */
const sizes = computed(() => project.sizes[props.joint.kind] ?? [])
function take(size: Schemas['SizeView']): void {
  emit('change', size.name, { ...props.joint, ...size.values } as Joint)
}
/** which pole of the first piece's magnet looks out is turned over at one place */
function turnPole(index: number): void {
  const poles = placed.value?.poles ?? []
  const next = poles.map((p, k) => (k === index ? (p === 'n' ? 's' : 'n') : p))
  emit('change', `Pole of ${placed.value!.letters[index]}`, { ...props.joint, poles: next } as Joint)
}
/** in which of its positions the door is shown */
const openNow = computed(() => (viewport.opened?.joint === props.joint.id ? viewport.opened.position : 0))
const openBy = computed(() => {
  const opening = placed.value?.opening
  return opening ? `${fixed(opening.by[openNow.value] ?? 0, 0)}${opening.unit === 'deg' ? '°' : ' mm'}` : ''
})
function openTo(position: number): void {
  viewport.cutPlane = viewport.only = null
  viewport.spread = 0
  const opening = placed.value?.opening
  if (position && !viewport.opened && opening) {
    viewport.flyTo = { at: opening.at, reach: opening.unit === 'deg' ? 90 : 90 + Math.max(...opening.by) }
  }
  viewport.opened = position ? { joint: props.joint.id, position } : null
}
const fitFields = computed(() => {
  if (props.joint.kind === 'butt') return []
  const kept = props.joint.cut_as_printed_mm !== null && props.joint.cut_as_printed_mm !== undefined
  return ['fit', 'clearance_mm', ...(kept ? ['cut_as_printed_mm'] : [])]
})
const clearance = (fit: string) => (project.plan?.fits as Record<string, number> | undefined)?.[fit] ?? 0
const numberOf = (key: string) => project.pieces.find((p) => p.key === key)?.number ?? '?'
const words = computed(() => ({
  fit: Object.fromEntries(
    FITS.map((f) => [f, `${f[0]!.toUpperCase()}${f.slice(1)}, ${fixed(clearance(f), 2)} each side`]),
  ),
  ...info.value.words,
  on: {
    a: `piece ${numberOf(props.joint.face.a)}`,
    b: `piece ${numberOf(props.joint.face.b)}`,
    auto: 'where it points up',
  },
}))

function set(field: string, next: unknown, title: string): void {
  // with a new count, or one way only, places are sought anew: those set by hand would not match
  const anew = field === 'count' || field === 'one_way'
  const places = anew ? null : props.joint.places
  const poles = anew && props.joint.kind === 'magnet' ? { poles: null } : {}
  emit('change', title, { ...props.joint, [field]: next, places, ...poles } as Joint)
}
function lean(degrees: number | null): void {
  const d = dovetail.value
  if (!d || degrees === null) return
  const head = headFor(d.neck_mm ?? 5, d.height_mm ?? 3, degrees)
  emit('change', 'Flank', { ...d, head_mm: Math.round(head * 100) / 100 })
}
/** Ask for another kind; until it is there, and where there is no room for it, the choice says what is. */
function turn(choice: HTMLSelectElement): void {
  emit('turn', choice.value as JointKind)
  choice.value = props.joint.kind
}
const SLOPES = [5, 6, 8]
function place(index: number, axis: 0 | 1, to: number | null): void {
  const now = placed.value?.places
  if (!now || to === null) return
  const places = now.map((p, k) => (k === index ? (axis === 0 ? [to, p[1]] : [p[0], to]) : p)) as [
    number,
    number,
  ][]
  emit('change', `Place of ${placed.value!.letters[index]}`, { ...props.joint, places })
}
</script>

<template>
  <div class="block" data-test="joint">
    <h2>
      {{ info.name }} on {{ face.label }}
      <button class="plain help" :aria-expanded="sketch" data-test="sketch" @click="sketch = !sketch">
        {{ sketch ? 'Hide the drawing' : 'What is what?' }}
      </button>
    </h2>
    <template v-if="sketch">
      <JointSketch :kind="joint.kind" />
      <p class="soft small">{{ info.when }}</p>
    </template>
    <div class="row">
      <span class="label">Kind</span>
      <select
        class="ruled"
        aria-label="Kind of joint"
        :value="joint.kind"
        @change="turn($event.target as HTMLSelectElement)"
      >
        <option v-for="k in kinds" :key="k.kind" :value="k.kind">{{ k.says }}</option>
      </select>
    </div>
    <SizeChoice :sizes="sizes" :value="joint" label="Sizes on sale" data-test="size" @take="take" />
    <SchemaForm
      :schema="info.model"
      :fields="fields"
      :first="6"
      :value="joint"
      :words="words"
      :typed="joint.typed"
      @change="(field, next, title) => set(field, next, title)"
      @give-back="(field, title) => emit('give-back', field, title)"
    />
    <div
      v-if="dovetail"
      class="row"
      title="Angle between a flank and the face; joiners cut slopes of 1 : 5 to 1 : 8"
    >
      <span class="label">Flank</span>
      <span class="slopes">
        <RuledNumber
          :model-value="Math.round(flank * 10) / 10"
          label="Flank, degrees to the face"
          unit="°"
          :min="20"
          :max="89"
          :step="1"
          data-test="flank"
          @update:model-value="lean"
        />
        <button v-for="s in SLOPES" :key="s" class="chip" @click="lean((Math.atan(s) * 180) / Math.PI)">
          1 : {{ s }}
        </button>
      </span>
    </div>
    <SchemaForm
      v-if="fitFields.length"
      :schema="info.model"
      :fields="fitFields"
      :value="joint"
      :words="words"
      @change="(field, next, title) => set(field, next, title)"
    />
    <p v-if="placed?.deep_mm" class="soft small">
      {{ fixed(placed.clearance_mm, 2) }} mm each side, {{ mm(placed.deep_mm) }} mm deep.
      <template v-if="placed.holds_n && !placed.pull_n">
        Holds about {{ fixed(placed.holds_n, 0) }} N, an estimate: {{ placed.holds_how }}.
      </template>
      <template v-if="placed.closes_n">
        About {{ fixed(placed.closes_n, 0) }} N press it together<template v-if="placed.strain_percent"
          >; it is strained by {{ fixed(placed.strain_percent, 2) }} % then</template
        >.
      </template>
      <template v-if="placed.pull_n"
        >They pull about {{ fixed(placed.pull_n, 1) }} N in all, an estimate.</template
      >
    </p>
    <div v-if="placed?.opening" class="row open">
      <span class="label">Open</span>
      <input
        type="range"
        min="0"
        :max="placed.opening.by.length - 1"
        step="1"
        :value="openNow"
        :aria-valuetext="openBy"
        aria-label="Show the door opened"
        data-test="open"
        @input="openTo(Number(($event.target as HTMLInputElement).value))"
      />
      <span class="soft">{{ openBy }}</span>
    </div>
    <details v-if="placed?.places.length" class="places">
      <summary>Places {{ joint.places ? 'set by hand' : 'spread by Hinoki' }}</summary>
      <div v-for="(p, k) in placed.places" :key="k" class="place">
        <b>{{ placed.letters[k] }}</b>
        <RuledNumber
          v-for="axis in [0, 1] as const"
          :key="axis"
          :model-value="p[axis]!"
          :label="`${placed.letters[k]} ${axis ? 'up' : 'right'}`"
          unit="mm"
          :digits="2"
          :step="0.5"
          :min="-5000"
          :max="5000"
          :data-test="`place-${k}-${axis}`"
          @update:model-value="place(k, axis, $event)"
        />
        <button
          v-if="placed.poles?.[k]"
          class="chip"
          :aria-label="`Pole of ${placed.letters[k]} that looks out of piece ${numberOf(joint.face.a)}: ${placed.poles[k]}. Turn it over`"
          data-test="pole"
          @click="turnPole(k)"
        >
          {{ placed.poles[k] === 'n' ? 'N' : 'S' }}
        </button>
      </div>
    </details>
    <div class="chips end">
      <button
        v-if="placed?.places.length"
        class="chip"
        :disabled="joint.places === null"
        data-test="spread-evenly"
        @click="emit('change', 'Spread evenly', { ...joint, places: null })"
      >
        Spread anew
      </button>
      <button
        v-if="joint.kind !== 'butt' && !(joint.kind === 'screw' && joint.into !== 'insert')"
        class="chip"
        :aria-pressed="laddering"
        data-test="ladder-open"
        @click="laddering = !laddering"
      >
        Fit ladder
      </button>
      <button
        class="chip"
        :aria-pressed="versioning"
        data-test="versions-open"
        @click="versioning = !versioning"
      >
        Versions{{ versions ? ` (${versions})` : '' }}
      </button>
      <button class="chip" data-test="copy-joint" @click="emit('copy')">Copy to like faces</button>
      <button class="chip" data-test="remove-joint" @click="emit('remove')">Remove</button>
    </div>
    <LadderBlock v-if="laddering" :joint="joint" />
    <VersionsBlock v-if="versioning" :joint="joint" @change="(what, next) => emit('change', what, next)" />
  </div>
</template>

<style scoped>
.small {
  font-size: 12px;
  margin: 4px 0 6px;
}
.help {
  margin-left: auto;
  font-size: 11.5px;
  font-weight: 400;
  color: var(--indigo);
}
.slopes {
  display: flex;
  gap: 5px;
  align-items: center;
}
.slopes :deep(.ruled-number) {
  width: 60px;
}
.slopes .chip {
  padding: 2px 5px;
}
.places summary {
  cursor: pointer;
  color: var(--ink-soft);
  font-size: 12px;
}
.open {
  grid-template-columns: 82px 1fr 40px;
}
.place {
  display: grid;
  grid-template-columns: 24px 84px 84px 30px;
  gap: 8px;
  align-items: center;
}
.end {
  margin-top: 7px;
}
</style>
