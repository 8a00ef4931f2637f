<script setup lang="ts">
/** A repair tried out: before and after side by side, what changed, and the choice to keep it. */
import { Matrix4 } from 'three'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef } from 'vue'
import { type PrepareStep, type TrialView } from '@/api/client'
import { cm3, count, fixed } from '@/api/format'
import { run } from '@/api/operations'
import { useProject } from '@/stores/project'
import { kindOf } from '@/ui/schema'
import SchemaForm from '@/ui/SchemaForm.vue'
import { Stage } from '@/view3d/stage'

const emit = defineEmits<{ close: [] }>()
const project = useProject()
const trial = shallowRef<TrialView | null>(null)
const step = shallowRef<TrialView['step']>(null)
const busy = ref(false)
const own = ref(false)
const left = useTemplateRef<HTMLCanvasElement>('left')
const right = useTemplateRef<HTMLCanvasElement>('right')
let stages: Stage[] = []

async function tryOut(wish: TrialView['step']): Promise<void> {
  const id = project.revision?.project_id
  if (!id) return
  busy.value = true
  try {
    trial.value = await run('repair-trial', id, { step: wish })
    step.value = trial.value.step
    await nextTick()
    await draw()
  } catch (error) {
    await project.refused(error)
    if (!trial.value) emit('close')
  } finally {
    busy.value = false
  }
}

async function draw(): Promise<void> {
  const now = trial.value
  if (!now?.after_mesh || !left.value || !right.value) return
  if (stages.length === 0) {
    stages = [new Stage(left.value), new Stage(right.value)]
    const [a, b] = stages as [Stage, Stage]
    a.controls.addEventListener('change', () => follow(a, b))
    b.controls.addEventListener('change', () => follow(b, a))
  }
  const bodies = [now.before_mesh, now.after_mesh].map((mesh, k) => ({
    id: 'model',
    number: null,
    mesh,
    colour: k ? '#8fa37e' : '#c9a36b',
    solidity: 1,
    chosen: false,
    matrix: new Matrix4(),
  }))
  for (const [k, stage] of stages.entries()) {
    const canvas = k ? right.value : left.value
    stage.resize(canvas.clientWidth, canvas.clientHeight)
    await stage.show([bodies[k]!])
    stage.look('corner')
  }
}

/** Both are seen from the same side. */
let following = false
function follow(from: Stage, to: Stage): void {
  if (following) return
  following = true
  to.camera.position.copy(from.camera.position)
  to.controls.target.copy(from.controls.target)
  to.controls.update()
  following = false
}

const FACTS = [
  ['triangles', 'Triangles'],
  ['lumps', 'Lumps'],
  ['holes', 'Holes'],
  ['open_edges', 'Open edges'],
  ['crowded_edges', 'Crowded edges'],
  ['turned_edges', 'Turned edges'],
] as const
const rows = computed(() => {
  const both = trial.value?.comparison
  if (!both) return []
  const counts = FACTS.map(([key, name]) => [name, count(both.before[key]), count(both.after[key])])
  return [
    ...counts,
    ['Closed', both.before.closed ? 'yes' : 'no', both.after.closed ? 'yes' : 'no'],
    ['Volume', cm3(both.before.volume_mm3), cm3(both.after.volume_mm3)],
  ]
})

function set(field: string, value: unknown): void {
  if (step.value) step.value = { ...step.value, [field]: value } as TrialView['step']
  own.value = true
}

async function keep(): Promise<void> {
  const how = step.value
  if (!how) return
  const kept = await project.edit('Repaired the surface', (plan) => {
    const list = plan.prepare ?? []
    const id = `s${Math.max(0, ...list.map((s) => Number(s.id.slice(1)))) + 1}`
    plan.prepare = [...list, { ...how, id } as PrepareStep]
  })
  if (kept) emit('close')
}

onMounted(() => tryOut(null))
onBeforeUnmount(() => stages.forEach((s) => s.end()))
</script>

<template>
  <v-dialog :model-value="true" max-width="1120" persistent @keydown.esc="emit('close')">
    <div class="trial" data-test="trial">
      <header>
        <h2>Before and after</h2>
        <span v-if="busy" class="soft">Trying the repair …</span>
        <span v-else-if="trial && !trial.step" class="good"
          >Nothing to repair: the surface is closed and in order.</span
        >
        <span v-else-if="trial" class="soft">{{ trial.said.join(' · ') || 'nothing changed' }}</span>
      </header>
      <div v-show="trial?.after_mesh" class="two">
        <figure>
          <canvas ref="left" aria-label="Before"></canvas>
          <figcaption>Before</figcaption>
        </figure>
        <figure>
          <canvas ref="right" aria-label="After"></canvas>
          <figcaption>After</figcaption>
        </figure>
        <aside>
          <table class="plain-table" data-test="trial-facts">
            <thead>
              <tr>
                <th></th>
                <th class="num">Before</th>
                <th class="num">After</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="[name, one, two] in rows" :key="name">
                <td>{{ name }}</td>
                <td class="num">{{ one }}</td>
                <td class="num" :class="{ changed: one !== two }">{{ two }}</td>
              </tr>
            </tbody>
          </table>
          <p v-if="trial?.comparison">
            Largest deviation <b>{{ fixed(trial.comparison.deviation_mm, 2) }} mm</b>
          </p>
          <template v-if="step">
            <h2>How</h2>
            <SchemaForm
              schema="RepairStep"
              :fields="kindOf('prepare', 'repair').fields"
              :value="step"
              @change="set"
            />
            <button class="chip" :disabled="busy || !own" data-test="try-again" @click="tryOut(step)">
              Try it so
            </button>
          </template>
        </aside>
      </div>
      <footer>
        <v-btn variant="text" data-test="trial-leave" @click="emit('close')">Leave it</v-btn>
        <v-btn color="primary" :disabled="busy || !trial?.step" data-test="trial-keep" @click="keep"
          >Keep the repair</v-btn
        >
      </footer>
    </div>
  </v-dialog>
</template>

<style scoped>
.trial {
  background: var(--sheet);
  border: 1px solid var(--ink);
  padding: 14px 18px;
}
header {
  display: flex;
  gap: 14px;
  align-items: baseline;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr 290px;
  gap: 12px;
}
figure {
  margin: 0;
  position: relative;
  border: 1px solid var(--line-strong);
  background: var(--view);
  height: 470px;
}
canvas {
  width: 100%;
  height: 100%;
  display: block;
}
figcaption {
  position: absolute;
  left: 10px;
  bottom: 8px;
  font-weight: 600;
}
aside {
  max-height: 470px;
  overflow: auto;
}
aside :deep(.row) {
  grid-template-columns: 120px 1fr;
}
.changed {
  color: var(--moss);
  font-weight: 600;
}
footer {
  display: flex;
  justify-content: flex-end;
  gap: 10px;
  margin-top: 12px;
}
</style>
