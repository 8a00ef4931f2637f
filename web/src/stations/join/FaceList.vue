<script lang="ts">
/** The mating faces: found by a word, chosen one by one, or several at once to be given other joints, another fit, or none. */
import type { FaceView, Joint } from '@/api/client'

export interface FaceRow {
  face: FaceView
  joints: Joint[]
  /** what is on it */
  has: string
  /** how it stands */
  text: string
  tone: string
}
</script>

<script setup lang="ts">
import { computed, ref } from 'vue'
import { useProject } from '@/stores/project'
import { useSelection } from '@/stores/selection'
import { FITS } from '@/stores/workshop'
import ListSearch from '@/ui/ListSearch.vue'
import { holds } from '@/ui/search'
import { kindsOf } from '@/ui/schema'
import type { SuitKind } from './joints'

const props = defineProps<{ rows: FaceRow[]; busy: boolean }>()
const emit = defineEmits<{ renew: [kind: SuitKind, faces: FaceView[]] }>()
const project = useProject()
const selection = useSelection()
const looked = ref('')
/** the ids of several faces; null while one is chosen at a time */
const several = ref<string[] | null>(null)
const kind = ref<SuitKind>('auto')
const kinds = kindsOf('joints')
const shown = computed(() =>
  props.rows.filter((r) =>
    holds(
      [r.face.label, r.has, r.text, project.pieceName(r.face.a), project.pieceName(r.face.b)],
      looked.value,
    ),
  ),
)
const chosen = computed(() => props.rows.filter((r) => several.value?.includes(r.face.id)))
const joints = computed(() => chosen.value.flatMap((r) => r.joints))
const all = computed(() => shown.value.every((r) => several.value?.includes(r.face.id)))
const count = (n: number, one: string, more: string) => `${n} ${n === 1 ? one : more}`

function pick(id: string): void {
  if (!several.value) selection.face = id
  else
    several.value = several.value.includes(id)
      ? several.value.filter((one) => one !== id)
      : [...several.value, id]
}
function pickAll(): void {
  several.value = all.value ? [] : shown.value.map((r) => r.face.id)
}
function setFit(fit: string): void {
  const ids = joints.value.map((j) => j.id)
  void project.edit(`Fit of ${count(ids.length, 'joint', 'joints')}: ${fit}`, (plan) => {
    plan.joints = plan.joints?.map((j) => (ids.includes(j.id) ? ({ ...j, fit } as Joint) : j))
  })
}
function remove(): void {
  const ids = joints.value.map((j) => j.id)
  void project.edit(`Removed ${count(ids.length, 'joint', 'joints')}`, (plan) => {
    plan.joints = plan.joints?.filter((j) => !ids.includes(j.id))
  })
}
</script>

<template>
  <ListSearch v-model="looked" :count="rows.length" :shown="shown.length" of="faces" />
  <ul class="list scroll">
    <li
      v-for="r in shown"
      :key="r.face.id"
      :class="{ on: several ? several.includes(r.face.id) : r.face.id === selection.face }"
      data-test="face"
      @click="pick(r.face.id)"
    >
      <input
        v-if="several"
        type="checkbox"
        :checked="several.includes(r.face.id)"
        :aria-label="`Face ${r.face.label}`"
        @click.stop
        @change="pick(r.face.id)"
      />
      <button v-else class="plain tag" :aria-label="`Choose face ${r.face.label}`">{{ r.face.label }}</button>
      <span v-if="several" class="tag">{{ r.face.label }}</span>
      <span class="grow" :class="{ soft: !r.joints.length }">{{ r.has }}</span>
      <span class="end" :class="r.tone">{{ r.text }}</span>
    </li>
  </ul>
  <button v-if="!several && rows.length > 1" class="chip" data-test="several" @click="several = []">
    Choose several
  </button>
  <div v-if="several" class="slip" data-test="several-slip">
    <span class="chips">
      <b>{{ count(chosen.length, 'face', 'faces') }}</b>
      <button class="chip" @click="pickAll">{{ all ? 'None' : 'All that are listed' }}</button>
      <button class="chip" @click="several = null">Done</button>
    </span>
    <label>
      Joint
      <select v-model="kind" class="ruled" data-test="several-kind">
        <option value="auto">what suits each</option>
        <option v-for="k in kinds" :key="k.kind" :value="k.kind">{{ k.says }}</option>
      </select>
    </label>
    <button
      class="chip"
      :disabled="busy || !chosen.length"
      data-test="several-renew"
      @click="
        emit(
          'renew',
          kind,
          chosen.map((r) => r.face),
        )
      "
    >
      {{ joints.length ? 'Put it there instead' : 'Put it there' }}
    </button>
    <label>
      Fit
      <select
        class="ruled"
        value=""
        :disabled="!joints.length"
        data-test="several-fit"
        @change="setFit(($event.target as HTMLSelectElement).value)"
      >
        <option value="" disabled>as each has it</option>
        <option v-for="fit in FITS" :key="fit" :value="fit">{{ fit }}</option>
      </select>
    </label>
    <button class="chip" :disabled="!joints.length" data-test="several-remove" @click="remove">
      Take {{ count(joints.length, 'joint', 'joints') }} away
    </button>
  </div>
</template>

<style scoped>
.scroll {
  max-height: 208px;
  overflow: auto;
}
</style>
