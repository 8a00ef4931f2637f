<script setup lang="ts">
/** The state of the surface: what is wrong, where, and making it right. */
import { computed, ref, shallowRef, watch } from 'vue'
import type { Finding, IssueView } from '@/api/client'
import { count } from '@/api/format'
import { useViewport } from '@/stores/viewport'
import { aboutParts } from '@/stores/parts'
import { useProject } from '@/stores/project'
import RepairTrial from './RepairTrial.vue'
import NothingYet from '@/ui/NothingYet.vue'

const project = useProject()
const viewport = useViewport()
const model = computed(() => project.build?.model ?? null)
const survey = computed(() => (project.survey?.mesh === model.value?.mesh ? project.survey : null))
const busy = ref(false)
const trying = ref(false)
const chosen = shallowRef<{ code: string; at: number } | null>(null)
const WORDS = { 'must-fix': 'must fix', 'look-at': 'look at', note: 'note' } as const

type Row = Pick<IssueView, 'code' | 'severity' | 'message'> & {
  places: IssueView['places']
  at: Finding['at_mm']
}
const rows = computed<Row[]>(() => {
  if (survey.value) return survey.value.issues.map((i) => ({ ...i, at: i.places[0]?.at_mm ?? null }))
  return project.findings
    .filter((f) => f.station === 'model' && !f.step && !aboutParts(f))
    .map((f) => ({ code: f.code, severity: f.severity, message: f.message, places: [], at: f.at_mm }))
})
const wrong = computed(() => rows.value.some((r) => r.severity === 'must-fix') || !model.value?.closed)

async function lookClosely(): Promise<void> {
  busy.value = true
  try {
    await project.lookClosely()
  } catch (error) {
    await project.refused(error)
  } finally {
    busy.value = false
  }
}

/** Fly to a place of a row, the next one each time. */
async function go(row: Row): Promise<void> {
  if (row.places.length === 0 && row.at && !survey.value) await lookClosely()
  const now = rows.value.find((r) => r.code === row.code) ?? row
  const places = now.places
  const at = chosen.value?.code === row.code && places.length ? (chosen.value.at + 1) % places.length : 0
  chosen.value = { code: row.code, at }
  viewport.otherMesh = null
  viewport.marks = places.map((p) => ({ line: p.line, at: p.at_mm, tone: row.severity }))
  const place = places[at]
  if (place) viewport.flyTo = { at: place.at_mm, reach: Math.max(place.reach_mm, 1) }
  else if (row.at) viewport.flyTo = { at: row.at, reach: 5 }
}

watch(model, () => {
  viewport.marks = []
  chosen.value = null
})
</script>

<template>
  <div class="block">
    <h2>
      State of the surface <small>{{ model ? rows.length || 'nothing found' : '' }}</small>
    </h2>
    <NothingYet v-if="!model" empty="Bring in a model first." />
    <p v-else-if="rows.length === 0" class="good">
      Closed and in order{{ survey ? ', walls included' : '' }}.
    </p>
    <ul class="findings below">
      <li v-for="row in rows" :key="row.code" :class="row.severity" data-test="issue">
        <button class="plain" :title="row.at ? 'Show where' : undefined" @click="go(row)">
          <b>{{ WORDS[row.severity] }}</b> {{ row.message }}
          <span v-if="chosen?.code === row.code && row.places.length" class="soft">
            {{ chosen.at + 1 }} of {{ count(row.places.length) }} places<template
              v-if="row.places[chosen.at]?.text"
              >: {{ row.places[chosen.at]!.text }}</template
            >
          </span>
        </button>
      </li>
    </ul>
    <div v-if="model" class="chips">
      <button class="chip" :disabled="busy || survey !== null" data-test="look-closely" @click="lookClosely">
        {{ survey ? 'Looked closely' : busy ? 'Looking …' : 'Look closely' }}
      </button>
      <button
        v-if="model.raw_mesh !== model.mesh"
        class="chip"
        :aria-pressed="viewport.otherMesh === model.raw_mesh"
        data-test="as-it-came"
        @click="viewport.otherMesh = viewport.otherMesh === model.raw_mesh ? null : model.raw_mesh"
      >
        {{ viewport.otherMesh === model.raw_mesh ? 'As prepared' : 'As it came' }}
      </button>
    </div>
    <p v-if="!survey && model" class="soft small">
      Looking closely also finds faces through one another, thin walls and details too fine to print.
    </p>
  </div>
  <div v-if="model" class="block">
    <h2>Repair</h2>
    <button class="wide" :disabled="trying" data-test="repair" @click="trying = true">
      {{ wrong ? 'Do what is recommended' : 'Try the recommended repair' }}
    </button>
    <p class="soft small">
      You see before and after side by side first. The file as it came is kept; a repair is a step that can be
      changed, switched off or taken out under Prepare.
    </p>
  </div>
  <RepairTrial v-if="trying" @close="trying = false" />
</template>

<style scoped>
.small {
  font-size: 12px;
}
</style>
