<script setup lang="ts">
/** What stands on a picked face: the kind of joint, which side of it, its measures; the face itself. */
import { computed, ref } from 'vue'
import type { PrepareStep, Schemas } from '@/api/client'
import { useParts } from '@/stores/parts'
import { useProject } from '@/stores/project'
import { kindOf, onFaceKinds, shownFields } from '@/ui/schema'
import SchemaForm from '@/ui/SchemaForm.vue'
import SizeChoice from '@/ui/SizeChoice.vue'
import FaceRow from './FaceRow.vue'
import { halfJoint, type HalfJoint, type OnFaceStep } from './steps'

const props = defineProps<{ step: OnFaceStep }>()
const emit = defineEmits<{ change: [next: PrepareStep, label: string]; pick: [] }>()
/** what is told by the pattern, or only makes sense with both pieces */
const HIDDEN = [
  'count',
  'on',
  'one_way',
  'collar_mm',
  'collar_runs',
  'boss_mm',
  'spares',
  'surface',
  'jig',
  'lines_up',
]
const project = useProject()
const parts = useParts()
const kinds = onFaceKinds()
const others = computed(() => parts.parts.filter((p) => !p.open))
/** parts that have its other side already */
const meets = computed(() =>
  (project.plan?.parts ?? [])
    .filter((p) =>
      p.prepare?.some(
        (s) => s.kind === 'meets' && s.part === project.plan?.part_id && s.step === props.step.id,
      ),
    )
    .map((p) => p.id),
)
const told = ref('')
async function meet(event: Event): Promise<void> {
  const choice = event.target as HTMLSelectElement
  const part = choice.value
  choice.value = ''
  const found = await project.command('meet-on-face', { step: props.step.id, part })
  if (found) told.value = found.said ?? ''
}
const joint = computed(() => props.step.joint ?? halfJoint('screw'))
const info = computed(() => kindOf('joints', joint.value.kind))
const fields = computed(() => [
  ...shownFields(info.value, joint.value).filter((f) => !HIDDEN.includes(f)),
  'fit',
  'clearance_mm',
])
const sizes = computed(() => project.sizes[joint.value.kind] ?? [])

function keep(changes: object, label: string): void {
  emit('change', { ...props.step, joint: { ...joint.value, ...changes } } as PrepareStep, label)
}
function turn(event: Event): void {
  const next = halfJoint((event.target as HTMLSelectElement).value) as HalfJoint
  emit('change', { ...props.step, joint: next }, kindOf('joints', next.kind).name)
}
function set(field: string, value: unknown, title: string): void {
  keep({ [field]: value }, `${title} of ${info.value.name}`)
}
const patterns = computed(() => project.sizes['pattern'] ?? [])
const takePattern = (size: Schemas['SizeView']): void =>
  emit('change', { ...props.step, ...size.values } as PrepareStep, size.name)
const take = (size: Schemas['SizeView']): void => keep(size.values, size.name)
function setHalf(event: Event): void {
  const half = (event.target as HTMLSelectElement).value as OnFaceStep['half']
  emit('change', { ...props.step, half }, 'Side of a joint')
}
</script>

<template>
  <FaceRow :at="step.at_mm ?? [0, 0, 0]" :facing="step.facing ?? [0, 0, 1]" @pick="emit('pick')" />
  <div class="row">
    <label for="half-of">Joint</label>
    <select id="half-of" class="ruled" data-test="half-of" :value="joint.kind" @change="turn">
      <option v-for="k in kinds" :key="k.kind" :value="k.kind">{{ k.says }}</option>
    </select>
  </div>
  <div v-if="joint.kind !== 'key'" class="row">
    <label for="half">This has</label>
    <select id="half" class="ruled" data-test="half" :value="step.half ?? 'takes'" @change="setHalf">
      <option v-for="(words, half) in kindOf('prepare', 'on-face').words['half']" :key="half" :value="half">
        {{ words }}
      </option>
    </select>
  </div>
  <div v-if="others.length" class="row">
    <label for="meet">Other side</label>
    <select id="meet" class="ruled" data-test="meet" value="" @change="meet">
      <option value="">
        {{
          meets.length
            ? `in ${others
                .filter((p) => meets.includes(p.id))
                .map((p) => p.name)
                .join(', ')}`
            : 'in no part yet'
        }}
      </option>
      <option v-for="p in others.filter((one) => !meets.includes(one.id))" :key="p.id" :value="p.id">
        also in {{ p.name }}
      </option>
    </select>
  </div>
  <p v-if="told" class="good small" aria-live="polite" data-test="meet-told">{{ told }}</p>
  <SizeChoice
    :sizes="patterns"
    :value="{ ...step }"
    label="Holes of bought things"
    title="Bought thing"
    data-test="hole-pattern"
    @take="takePattern"
  />
  <SizeChoice :sizes="sizes" :value="joint" label="On sale" data-test="half-size" @take="take" />
  <SchemaForm :schema="info.model" :fields="fields" :value="joint" :words="info.words" @change="set" />
</template>
