<script setup lang="ts">
/** How each piece lies while it prints: candidates to compare, picked, pointed at or typed. */
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { Matrix4, Vector3 } from 'three'
import type { Joint, Vec3 } from '@/api/client'
import { fixed, mm2, size } from '@/api/format'
import { noted, sharedOf } from '@/api/notes'
import { useSelection } from '@/stores/selection'
import { useTools } from '@/stores/tools'
import { useViewport } from '@/stores/viewport'
import { useProject } from '@/stores/project'
import RuledNumber from '@/ui/RuledNumber.vue'
import { rowMajor } from '@/view3d/bodies'
import LayerPlot from './LayerPlot.vue'
import PrintsBlock from './PrintsBlock.vue'
import RestCards from './RestCards.vue'
import { PRESETS, useOrienting, type Weights } from './useOrienting'
import WeightSliders from './WeightSliders.vue'
import WhatIs from '@/ui/WhatIs.vue'

const project = useProject()
const selection = useSelection()
const tools = useTools()
const viewport = useViewport()
const piece = computed(() => project.pieces.find((p) => p.number === selection.piece) ?? null)
const { preset, weights, busy, slot, answer, candidates, ask, stop } = useOrienting(piece)

const first = () => {
  if (!piece.value) selection.piece = project.pieces[0]?.number ?? null
}
onMounted(first)
watch(() => project.pieces, first)
const noteOf = (key: string) => project.plan?.pieces?.[key]

function lay(down: Vec3 | null, what: string): void {
  const p = piece.value
  if (!p) return
  const also = withMates.value ? mates.value : []
  const numbers = [p.number, ...also.map((m) => m.number)]
  void project.edit(
    `${numbers.length > 1 ? 'Pieces' : 'Piece'} ${numbers.join(', ')}: ${what}`.slice(0, 120),
    (plan) => {
      noted(plan, p.key, { down })
      for (const mate of also) noted(plan, mate.key, { down: down && turned(mate.turn, down) })
    },
  )
}
function lock(on: boolean): void {
  const p = piece.value
  if (!p) return
  const down = on ? p.rest.down : noteOf(p.key)?.down
  void project.edit(`Piece ${p.number}: ${on ? 'locked' : 'not locked'}`, (plan) => {
    noted(plan, p.key, { down, locked: on })
  })
}
/** The best way for every piece that is not locked, as one edit. */
async function orientAll(): Promise<void> {
  const best = await ask(null)
  if (!best?.pieces.length) return
  const sides = best.sides ?? {}
  await project.edit('Oriented all pieces', (plan) => {
    for (const one of best.pieces) noted(plan, one.key, { down: one.candidates[0]!.rest.down })
    plan.joints = plan.joints?.map((j) => (sides[j.id] ? ({ ...j, on: sides[j.id] } as Joint) : j))
  })
  if (Object.keys(sides).length)
    project.say('Pins or rims were put on the other piece where one would have fallen over.')
}
/** A face of the piece on the bed that is pointed at looks down next. */
async function pick(): Promise<void> {
  if (!piece.value) return
  const spots = await tools.pick(['Click the face it is to lie on.'])
  if (spots) await lay(inModel(spots[0]!.normal), 'lies on a face pointed at')
}
/** A direction on the bed as it is in the model. */
function inModel(way: Vec3): Vec3 {
  const turn = new Matrix4().extractRotation(rowMajor(piece.value!.rest.matrix)).transpose()
  const v = new Vector3(...way).applyMatrix4(turn).normalize()
  return [v.x, v.y, v.z].map((c) => Math.round(c * 1e6) / 1e6) as Vec3
}
/** Turned by so many degrees about the bed's X or Y. */
function turn(axis: 'x' | 'y', degrees: number): void {
  const about = axis === 'x' ? new Vector3(1, 0, 0) : new Vector3(0, 1, 0)
  const down = new Vector3(0, 0, -1).applyAxisAngle(about, (-degrees * Math.PI) / 180)
  lay(inModel([down.x, down.y, down.z]), `turned by ${degrees}° about ${axis.toUpperCase()}`)
}
const by = ref<number | null>(15)
const printers = computed(() =>
  project.printer ? [project.printer, ...(project.plan?.more_printers ?? [])] : [],
)
function setPrinter(id: string): void {
  const p = piece.value
  if (!p) return
  void project.edit(`Piece ${p.number}: printer`, (plan) => {
    noted(plan, p.key, { printer_id: id === sharedOf(plan, p.key).printer_id ? null : id })
  })
}
const LEAST: Weights = { support: 5, scars: 5, steps: 2, hold: 4, strength: 2, time: 2 }

const now = computed(() => answer.value?.now ?? null)
/** support, overhang and contact of the piece as it lies now */
watch(
  now,
  (c) =>
    (viewport.printing = c && {
      support: c.support_mesh ?? '',
      overhang: c.overhang_mesh ?? '',
      contact: c.contact ?? [],
      vents: (c.vents ?? []).map((v) => v.on_bed),
    }),
  { immediate: true },
)
onUnmounted(() => (viewport.printing = null))
/** pieces of the same shape that are laid with this one */
const withMates = ref(true)
const mates = computed(() => (answer.value?.mates ?? []).filter((m) => !noteOf(m.key)?.locked))
const mateWords = computed(() => {
  const numbers = mates.value.map((m) => m.number)
  const mirrored = mates.value.some((m) => m.mirrored)
  const some = numbers.length === 1 ? `piece ${numbers[0]}` : `pieces ${numbers.join(', ')}`
  return `${some}, ${mirrored ? (numbers.length === 1 ? 'its mirror image' : 'mirror images too') : 'the same shape'}`
})
const turned = (m: readonly number[], [x, y, z]: Vec3): Vec3 =>
  [0, 3, 6].map((r) => Math.round((m[r]! * x + m[r + 1]! * y + m[r + 2]! * z) * 1e6) / 1e6) as Vec3
// a piece that was never looked at is looked at when it is chosen; what was stopped is not begun again by itself
let asked = ''
watch(
  [slot, () => project.upToDate, busy],
  ([now, ready, searching]) => {
    if (!piece.value || !ready || searching || candidates.value || now === asked) return
    asked = now
    void ask(piece.value.key)
  },
  { immediate: true },
)
</script>

<template>
  <div class="block">
    <h2>Resting faces <small>how each piece prints</small> <WhatIs word="resting face" /></h2>
    <div class="row">
      <span class="label">Prefer</span>
      <select
        class="ruled"
        aria-label="What counts"
        data-test="preset"
        :value="weights ? '' : preset"
        @change="((weights = null), (preset = ($event.target as HTMLSelectElement).value as typeof preset))"
      >
        <option v-if="weights" value="" disabled>your own weights</option>
        <option v-for="p in PRESETS" :key="p" :value="p">{{ p }}</option>
      </select>
    </div>
    <details class="own">
      <summary>Weigh it yourself</summary>
      <WeightSliders :value="weights ?? LEAST" @change="weights = $event" />
    </details>
    <ul class="list">
      <li
        v-for="p in project.pieces"
        :key="p.key"
        :class="{ on: p.number === selection.piece }"
        data-test="orient-piece"
        @click="selection.piece = p.number"
      >
        <button class="plain tag">{{ p.number }}</button>
        <span class="grow">{{ p.name }}</span>
        <span class="end" :class="{ bad: !p.rest.fits }">
          {{ p.rest_chosen ? '' : 'proposed: ' }}{{ p.rest.what
          }}{{ noteOf(p.key)?.locked ? ', locked' : '' }}
        </span>
      </li>
    </ul>
    <div class="chips">
      <button class="chip" :disabled="!!busy" data-test="orient-all" @click="orientAll">Orient all</button>
      <button v-if="busy" class="chip" data-test="orient-stop" @click="stop">Stop</button>
      <span v-if="busy" class="soft" role="status">looking in all directions …</span>
    </div>
  </div>
  <div v-if="piece" class="block">
    <div v-if="printers.length > 1" class="row printer">
      <label for="piece-printer">Prints on</label>
      <select
        id="piece-printer"
        class="ruled"
        data-test="piece-printer"
        :value="noteOf(piece.key)?.printer_id ?? sharedOf(project.plan, piece.key).printer_id"
        @change="setPrinter(($event.target as HTMLSelectElement).value)"
      >
        <option v-for="p in printers" :key="p.id" :value="p.id">{{ p.name }}</option>
      </select>
    </div>
    <h2>{{ piece.name }} can lie so</h2>
    <p class="soft small">
      Now: {{ piece.rest.what }}, {{ size(piece.rest.size_mm) }} mm, overhang {{ mm2(piece.rest.overhang_mm2)
      }}<template v-if="now"
        >, support {{ fixed(now.support_mm3 / 1000, 1) }} cm³, tips at
        {{ fixed(now.tip_deg, now.tip_deg < 10 ? 1 : 0) }}°</template
      >.
    </p>
    <p v-for="s in now ? [...now.broken, ...now.said] : []" :key="s" class="look small" data-test="now-said">
      {{ s[0]!.toUpperCase() + s.slice(1) }}.
    </p>
    <p v-for="(v, k) in now?.vents ?? []" :key="`vent${k}`" class="soft small" data-test="vent">
      {{ fixed(v.volume_mm3 / 1000, 1) }} cm³ shut in from {{ fixed(v.on_bed[2], 0) }} mm up: a hole there
      opens it, at {{ v.in_model.map((c) => fixed(c, 0)).join(', ') }} in the model.
    </p>
    <LayerPlot v-if="answer?.layers?.length" :layers="answer.layers" />
    <label v-if="mates.length" class="mates" data-test="mates">
      <input v-model="withMates" type="checkbox" /> With {{ mateWords }}
    </label>
    <RestCards
      v-if="candidates"
      :piece="piece"
      :candidates="candidates"
      @pick="(c) => lay(c.rest.down as Vec3, `laid: ${c.rest.what}`)"
    />
    <p v-else-if="busy" class="soft small">Looking in all directions …</p>
    <button v-else class="chip" data-test="look-again" @click="ask(piece.key)">Look again</button>
    <div class="chips">
      <button class="chip" data-test="rest-pick" @click="pick">Point at a face</button>
      <span class="turns">
        Turn by
        <RuledNumber
          v-model="by"
          label="Turn by"
          unit="°"
          :min="-180"
          :max="180"
          :step="5"
          data-test="turn-by"
        />
        <button class="chip" data-test="turn-x" @click="turn('x', by ?? 0)">about X</button>
        <button class="chip" data-test="turn-y" @click="turn('y', by ?? 0)">about Y</button>
      </span>
      <button
        class="chip"
        :aria-pressed="!!noteOf(piece.key)?.locked"
        data-test="rest-lock"
        @click="lock(!noteOf(piece.key)?.locked)"
      >
        Locked
      </button>
      <button
        v-if="piece.rest_chosen"
        class="chip"
        data-test="rest-auto"
        @click="lay(null, 'resting face by Hinoki')"
      >
        Let Hinoki choose
      </button>
    </div>
  </div>
  <PrintsBlock v-if="piece" :piece="piece" />
</template>

<style scoped>
p {
  margin: 0 0 8px;
}
.small {
  font-size: 12px;
}
.turns {
  display: flex;
  align-items: baseline;
  gap: 7px;
  width: 100%;
}
.turns :deep(.ruled-number) {
  width: 62px;
}
.mates {
  display: flex;
  gap: 7px;
  align-items: center;
  margin: 6px 0 8px;
}
.own summary {
  cursor: pointer;
  font-size: 12px;
  color: var(--ink-soft);
  margin: 4px 0;
}
</style>
