<script setup lang="ts">
/** How the model stands and hangs: mass, centre, tip angles, ballast, points to hang it by, doors and modules. */
import { computed } from 'vue'
import { fixed, mm } from '@/api/format'
import { useAssembly } from '@/stores/assembly'
import { useTools } from '@/stores/tools'
import { useViewport } from '@/stores/viewport'
import { useProject } from '@/stores/project'
import SchemaForm from '@/ui/SchemaForm.vue'
import FootDrawing from './FootDrawing.vue'

const assembly = useAssembly()
const viewport = useViewport()
const tools = useTools()
const project = useProject()
const balance = computed(() => assembly.view?.balance ?? null)
const grams = (g: number) => (g >= 1000 ? `${fixed(g / 1000, 2)} kg` : `${fixed(g, 0)} g`)
const standing = computed(() => assembly.view?.attitude === 'standing')
type Ballast = NonNullable<typeof assembly.wish>['ballast']
type Hang = NonNullable<typeof balance.value>['hangs'][number]

function setBallast(field: string, value: unknown): void {
  const ballast = { ...assembly.wish?.ballast, [field]: value ?? 0 } as Ballast
  void assembly.edit('Ballast', { ballast })
}
function takeBallast(filling: string, upTo: number): void {
  const ballast = { filling, up_to_mm: upTo } as Ballast
  void assembly.edit(`Ballast: ${filling}`, { ballast })
}
function show(points: readonly (readonly number[])[]): void {
  viewport.marks = points.map((p) => ({
    line: [],
    at: [...p] as [number, number, number],
    tone: 'note' as const,
  }))
}
function hangAt(hang: Hang): void {
  show(hang.points)
  void assembly.edit(`Hangs at ${hang.what}`, { hangs_at: [...hang.points] as never })
}
async function pick(): Promise<void> {
  const spots = await tools.pick(['Click the first point to hang it by.', 'Click the second.'])
  if (spots) await assembly.edit('Hangs at two points', { hangs_at: spots.map((s) => s.at) as never })
}
</script>

<template>
  <template v-if="balance">
    <div class="block">
      <h2>Balance <small>assembled</small></h2>
      <div class="figures">
        <FootDrawing :balance="balance" />
        <table class="plain-table" data-test="balance">
          <tbody>
            <tr>
              <th>weighs</th>
              <td class="num">{{ grams(balance.mass_g) }}</td>
            </tr>
            <tr>
              <th>printed</th>
              <td class="num">{{ grams(balance.printed_g) }}</td>
            </tr>
            <tr>
              <th>bought</th>
              <td class="num">{{ grams(balance.bought_g) }}</td>
            </tr>
            <tr v-if="balance.ballast_g">
              <th>ballast</th>
              <td class="num">{{ grams(balance.ballast_g) }}</td>
            </tr>
            <tr>
              <th>tips at</th>
              <td class="num" :class="{ bad: balance.tip_deg < 10 }" data-test="tip">
                {{ fixed(balance.tip_deg, 1) }}°
              </td>
            </tr>
            <tr>
              <th>base for 10°</th>
              <td class="num">ø {{ mm(balance.least_base_mm) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p class="soft small">
        Centre of mass {{ mm(balance.centre_mm[2] - balance.floor_mm) }} mm above the foot, at
        {{ mm(balance.centre_mm[0]) }}, {{ mm(balance.centre_mm[1]) }}. The blue line is how far it may be
        tipped each way{{ standing ? '' : ', if it stood' }}.
        <button class="chip" @click="show([balance.centre_mm])">Show the centre</button>
      </p>
    </div>
    <div class="block">
      <h2>
        Ballast <small>{{ fixed(balance.hollow_cm3, 0) }} cm³ of hollow</small>
      </h2>
      <template v-if="balance.hollow_cm3 > 0">
        <SchemaForm
          v-if="assembly.wish"
          schema="Ballast"
          :value="assembly.wish.ballast"
          @change="setBallast"
        />
        <p v-if="balance.open_below" class="look small">
          The hollow is open below: ballast wants a floor glued in first.
        </p>
        <table v-if="balance.ballasts.length" class="plain-table" data-test="ballasts">
          <thead>
            <tr>
              <th>filling</th>
              <th class="num">up to</th>
              <th class="num">weighs</th>
              <th class="num">tips at</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="b in balance.ballasts" :key="`${b.filling} ${b.up_to_mm}`">
              <td>{{ b.name }}</td>
              <td class="num">{{ fixed(b.up_to_mm, 0) }}</td>
              <td class="num">{{ grams(b.mass_g) }}</td>
              <td class="num">{{ fixed(b.tip_deg, 1) }}°</td>
              <td>
                <button class="chip" data-test="take-ballast" @click="takeBallast(b.filling, b.up_to_mm)">
                  Take
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </template>
      <p v-else class="soft small">There is no hollow worth filling.</p>
    </div>
    <div class="block">
      <h2>Hung up <small>by one or two points</small></h2>
      <p v-for="h in balance.hangs" :key="h.what" class="small" data-test="hang">
        <b>{{ h.what }}</b>:
        {{ h.leans_deg < 0.5 ? 'hangs straight' : `leans by ${fixed(h.leans_deg, 1)}°` }},
        {{ h.shares_g.map(grams).join(' and ') }}
        <button class="chip" @click="show(h.points)">Show</button>
        <button v-if="!h.chosen" class="chip" @click="hangAt(h)">Take</button>
      </p>
      <button class="chip" data-test="pick-hang" :disabled="!project.upToDate" @click="pick">
        Choose two points
      </button>
      <button
        v-if="assembly.wish?.hangs_at.length"
        class="chip"
        @click="assembly.edit('No points to hang it by', { hangs_at: [] })"
      >
        None
      </button>
    </div>
    <div v-if="assembly.view?.opens?.length" class="block">
      <h2>Doors and modules</h2>
      <p
        v-for="o in assembly.view.opens"
        :key="o.unit"
        class="small"
        :class="{ look: o.stays_shut === false }"
        data-test="opens"
      >
        {{ o.says }}
      </p>
    </div>
  </template>
  <div v-else class="block soft">The balance comes with the pieces.</div>
</template>

<style scoped>
.figures {
  display: flex;
  gap: 8px;
  align-items: center;
}
p {
  margin: 0 0 6px;
}
.small {
  font-size: 12px;
}
table {
  margin-bottom: 6px;
}
p .chip {
  margin-left: 4px;
}
</style>
