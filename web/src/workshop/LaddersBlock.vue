<script setup lang="ts">
/** Printed fit ladders: how every rung went together, what that tells, and those answered before. */
import { fixed } from '@/api/format'
import { computed, onMounted, ref, watch } from 'vue'
import { api, got, type Material, type Printer, type Schemas } from '@/api/client'
import { useProject } from '@/stores/project'
import { FITS, useWorkshop, type FitName } from '@/stores/workshop'
import RuledNumber from '@/ui/RuledNumber.vue'
import LadderMaker from './LadderMaker.vue'

type Answer = Schemas['Answers']['answers'][number]
const props = defineProps<{ printer: Printer; material: Material }>()
const project = useProject()
const workshop = useWorkshop()
const WORDS: Record<Answer, string> = {
  no: 'does not go in',
  force: 'goes in with force',
  hand: 'goes in by hand',
  slides: 'slides',
  rattles: 'rattles',
}
const joint = ref('2 pins ø6 × 7')
const low = ref(0.05)
const high = ref(0.3)
const rungs = ref(6)
/** empty where a rung has not been tried yet */
const answers = ref<(Answer | '')[]>([])
const answered = computed(() => answers.value.every((a) => a !== ''))
const told = ref<Schemas['Learned'][]>([])
const kept = ref<Schemas['LadderEntry'][]>([])
const steps = computed(() =>
  Array.from(
    { length: rungs.value },
    (_, k) => Math.round((low.value + ((high.value - low.value) * k) / (rungs.value - 1)) * 1e4) / 1e4,
  ),
)
const own = computed(() =>
  kept.value.filter((l) => l.printer_id === props.printer.id && l.material_id === props.material.id),
)
const body = () => ({ clearances_mm: steps.value, answers: answers.value as Answer[] })

async function tried(action: () => Promise<void>): Promise<void> {
  try {
    await action()
  } catch (error) {
    await project.refused(error)
  }
}
onMounted(() =>
  tried(async () => {
    kept.value = got(await api.GET('/api/workshop/ladders'))
  }),
)
watch(rungs, (many) => (answers.value = Array.from({ length: many }, (_, k) => answers.value[k] ?? '')), {
  immediate: true,
})
/** What was printed last is what is answered next. */
function printed(label: string, from: number, to: number, many: number): void {
  joint.value = label
  low.value = from
  high.value = to
  rungs.value = many
  answers.value = Array.from({ length: many }, () => '')
}
const ask = () =>
  tried(async () => {
    told.value = got(await api.POST('/api/workshop/ladders/told', { body: body() }))
  })
const keep = () =>
  tried(async () => {
    const entry = {
      printer_id: props.printer.id!,
      material_id: props.material.id!,
      layer_mm: props.printer.layers_mm?.[1] ?? 0.2,
      joint: joint.value,
      answers: body(),
    }
    kept.value = got(await api.POST('/api/workshop/ladders', { body: entry as Schemas['LadderEntry'] }))
    told.value = []
  })
const takeOver = (from: Schemas['LadderEntry']) =>
  tried(async () => {
    const found = (from.learned ?? []).filter((l) => l.clearance_mm !== null)
    got(
      await api.POST('/api/workshop/ladders/fits', {
        body: {
          printer_id: from.printer_id,
          material_id: from.material_id,
          clearances_mm: Object.fromEntries(found.map((l) => [l.fit, l.clearance_mm!])),
          note: from.joint,
        },
      }),
    )
    await workshop.load()
  })
const drop = (id: number) =>
  tried(async () => {
    kept.value = got(await api.DELETE('/api/workshop/ladders/{number}', { params: { path: { number: id } } }))
  })
const valueOf = (entry: Schemas['LadderEntry'], fit: FitName) =>
  entry.learned?.find((l) => l.fit === fit)?.clearance_mm?.toFixed(3) ?? '–'
</script>

<template>
  <LadderMaker :printer="printer" :material="material" @made="printed" />
  <div data-test="ladders">
    <h2>Fit ladders <small>what printed rungs were like</small></h2>
    <div class="row">
      <span class="label">Joint</span>
      <input v-model="joint" class="ruled" aria-label="Joint of the ladder" maxlength="120" />
    </div>
    <div class="row">
      <span class="label">From, to</span>
      <span class="pair">
        <RuledNumber
          v-model="low"
          label="Smallest clearance"
          unit="mm"
          :digits="2"
          :min="-0.5"
          :max="2"
          :step="0.05"
        />
        <RuledNumber
          v-model="high"
          label="Largest clearance"
          unit="mm"
          :digits="2"
          :min="0"
          :max="2"
          :step="0.05"
        />
        <RuledNumber v-model="rungs" label="Rungs" unit="rungs" :digits="0" :min="3" :max="9" :step="1" />
      </span>
    </div>
    <div v-for="(step, k) in steps" :key="k" class="row">
      <span class="label">{{ k + 1 }}: {{ fixed(step, 3) }}</span>
      <select
        v-model="answers[k]"
        class="ruled"
        :aria-label="`How rung ${k + 1} went together`"
        :data-test="`rung-${k + 1}`"
      >
        <option value="" disabled>how was it?</option>
        <option v-for="(words, answer) in WORDS" :key="answer" :value="answer">{{ words }}</option>
      </select>
    </div>
    <div class="chips">
      <button class="chip" :disabled="!answered" data-test="ladder-told" @click="ask">
        What does it tell?
      </button>
      <button class="chip" :disabled="!answered" data-test="ladder-keep" @click="keep">Keep it</button>
    </div>
    <ul v-if="told.length" class="told" data-test="told">
      <li v-for="one in told" :key="one.fit">
        {{ one.fit }}: {{ one.clearance_mm === null ? 'not told' : `${one.clearance_mm} mm each side` }},
        <span class="soft">{{ one.why }}</span>
      </li>
    </ul>
    <table v-if="own.length" data-test="kept-ladders">
      <thead>
        <tr>
          <th>day, joint</th>
          <th v-for="fit in FITS" :key="fit">{{ fit }}</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="entry in own" :key="entry.id">
          <td>{{ entry.made_at?.slice(0, 10) }}, {{ entry.joint }}, layers of {{ entry.layer_mm }}</td>
          <td v-for="fit in FITS" :key="fit">{{ valueOf(entry, fit) }}</td>
          <td>
            <button
              v-if="!entry.joint.startsWith('hole ')"
              class="chip"
              data-test="ladder-take"
              @click="takeOver(entry)"
            >
              Take over
            </button>
            <button class="chip" aria-label="Take this ladder out" @click="drop(entry.id ?? 0)">×</button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 66px 66px 76px;
  gap: 10px;
}
[data-test='ladders'] {
  margin-bottom: 16px;
}
.told {
  margin: 6px 0;
  padding-left: 18px;
  font-size: 12.5px;
}
table {
  width: 100%;
  margin-top: 8px;
  font-size: 12.5px;
  border-collapse: collapse;
}
th {
  font-weight: 400;
  color: var(--ink-soft);
  text-align: left;
}
td {
  border-top: 1px solid var(--line);
  padding: 3px 4px 3px 0;
}
</style>
