<script setup lang="ts">
/** A fit ladder of any kind of joint, or of a hole for something that is there, made for a printer of the workshop. */
import { fixed } from '@/api/format'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, type Material, type Printer, type Schemas } from '@/api/client'
import { useLadder } from '@/api/useLadder'
import { defaultsOf, holeForm, kindOf, kindsOf, shownFields } from '@/ui/schema'
import RuledNumber from '@/ui/RuledNumber.vue'
import SchemaForm from '@/ui/SchemaForm.vue'

const props = defineProps<{ printer: Printer; material: Material }>()
const emit = defineEmits<{ made: [label: string, from: number, to: number, rungs: number] }>()
const kind = ref('pin')
const kinds = kindsOf('joints').filter((k) => k.kind !== 'butt')
const form = computed(() => (kind.value === 'hole' ? holeForm() : kindOf('joints', kind.value)))
const schema = computed(() => form.value.model)
const value = shallowRef<Record<string, unknown>>({})
/** places, counts and what lies beside the fit do not matter to a test piece */
const fields = computed(() =>
  shownFields(form.value, value.value).filter((f) => !form.value.beside_fit.includes(f)),
)
const holes = computed(() => ['hole', 'magnet', 'screw'].includes(kind.value))
const low = ref(0.05)
const high = ref(0.3)
const rungs = ref(6)
watch(
  kind,
  (now) => {
    value.value = {
      ...defaultsOf(schema.value),
      ...(now === 'hole' ? {} : { id: 'j1', face: ANYWHERE }),
      kind: now,
    }
    low.value = holes.value ? -0.1 : 0.05
    high.value = holes.value ? 0.2 : 0.3
  },
  { immediate: true },
)
const { busy, name, made, make: makeOf } = useLadder()

function set(field: string, next: unknown): void {
  value.value = { ...value.value, [field]: next }
}
async function make(): Promise<void> {
  if (!busy.value) made.value = null
  const view = await makeOf(() =>
    api.POST('/api/workshop/ladders/make', {
      body: {
        of: value.value as unknown as Schemas['Hole'],
        printer_id: props.printer.id!,
        material_id: props.material.id!,
        from_mm: low.value,
        to_mm: high.value,
        rungs: rungs.value,
      },
    }),
  )
  if (view) emit('made', view.label, low.value, high.value, rungs.value)
}
</script>

<script lang="ts">
const ANYWHERE = { parting: 'p1', member: 0, a: 'a', b: 'b' }
</script>

<template>
  <div data-test="ladder-maker">
    <h2>Print a fit ladder <small>of any joint, or for a thing</small></h2>
    <div class="row">
      <span class="label">Of</span>
      <select v-model="kind" class="ruled" aria-label="What the ladder tries" data-test="maker-kind">
        <option v-for="k in kinds" :key="k.kind" :value="k.kind">{{ k.says }}</option>
        <option value="hole">Hole for something that is there</option>
      </select>
    </div>
    <SchemaForm
      :key="kind"
      :schema="schema"
      :fields="fields"
      :value="value"
      :words="form.words"
      @change="set"
    />
    <div class="row">
      <span class="label">From, to</span>
      <span class="pair">
        <RuledNumber
          v-model="low"
          label="Smallest clearance, each side"
          unit="mm"
          :digits="2"
          :step="0.05"
          :min="holes ? -0.5 : 0"
          :max="2"
        />
        <RuledNumber
          v-model="high"
          label="Largest clearance, each side"
          unit="mm"
          :digits="2"
          :step="0.05"
          :min="0"
          :max="2"
        />
        <RuledNumber
          v-model="rungs"
          label="Rungs to print"
          unit="rungs"
          :digits="0"
          :step="1"
          :min="3"
          :max="9"
        />
      </span>
    </div>
    <div class="chips">
      <button class="chip" :disabled="busy" data-test="maker-make" @click="make">Make the ladder</button>
    </div>
    <p v-if="made" class="small" data-test="maker-made">
      {{ made.label }}: {{ made.pieces.length }} {{ made.pieces.length === 1 ? 'piece' : 'pieces' }}, about
      {{ fixed(made.mass_g, 0) }} g and {{ made.minutes }} min, an estimate.
      <a :href="`/api/ladders/${name}/3mf`" download data-test="maker-3mf">3MF</a>,
      <a :href="`/api/ladders/${name}/stl`" download>STL</a>
    </p>
  </div>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 66px 66px 76px;
  gap: 10px;
}
.small {
  font-size: 12px;
}
a {
  color: var(--indigo);
}
[data-test='ladder-maker'] {
  margin-bottom: 12px;
}
</style>
