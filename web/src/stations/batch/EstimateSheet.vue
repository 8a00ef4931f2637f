<script setup lang="ts">
/** What all takes: by piece as a table and as bars, by material, and options side by side. */
import { computed, defineAsyncComponent, watch } from 'vue'
import { colourOf, duration, fixed } from '@/api/format'
import { useBatching } from '@/stores/batching'
import { useSelection } from '@/stores/selection'
import { useProject } from '@/stores/project'
import { useWhatIf } from '@/stores/whatIf'
import { useWorkshop } from '@/stores/workshop'
import { told } from '@/words/language'

const Bars = defineAsyncComponent(() => import('@/ui/BarChart.vue'))
const batching = useBatching()
const selection = useSelection()
const project = useProject()
const whatIf = useWhatIf()
const workshop = useWorkshop()
const money = computed(() => workshop.currency)
const each = computed(() => batching.batches?.each ?? [])
const names = computed(() => each.value.map((e) => (e.pieces.length ? e.pieces.join('+') : e.name)))
const colours = computed(() => each.value.map((e) => colourOf(e.pieces)))
function short(name: string): string {
  const shown = told(name)
  return shown.length > 22 ? `${shown.slice(0, 21)}…` : shown
}
watch(
  () => project.revision?.project_id,
  () => whatIf.forget(),
)
const base = computed(() => whatIf.lines?.[0]?.took)
const against = (now: number, was: number) => {
  if (!was || now === was) return ''
  const by = Math.round((now / was - 1) * 100)
  return by === 0 ? '' : ` (${by > 0 ? '+' : '−'}${Math.abs(by)} %)`
}
</script>

<template>
  <div class="sheet" data-test="estimates">
    <section v-if="whatIf.lines && base" data-test="what-if-table">
      <h2>What if <small>each thing printed by itself</small></h2>
      <table class="plain-table">
        <thead>
          <tr>
            <th></th>
            <th class="num">mass</th>
            <th class="num">time</th>
            <th class="num">power</th>
            <th class="num">cost</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in whatIf.lines" :key="l.name">
            <td>{{ l.name }}</td>
            <td class="num">{{ Math.round(l.took.mass_g) }} g{{ against(l.took.mass_g, base.mass_g) }}</td>
            <td class="num">{{ duration(l.took.minutes) }}{{ against(l.took.minutes, base.minutes) }}</td>
            <td class="num">{{ fixed(l.took.kwh, 1) }} kWh</td>
            <td class="num">{{ money }} {{ fixed(l.took.cost, 2) }}{{ against(l.took.cost, base.cost) }}</td>
            <td>
              <span v-if="!l.fits" class="bad">does not fit</span>
              <span v-if="l.stock_lacks_g > 0" class="look"> {{ Math.round(l.stock_lacks_g) }} g short</span>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <section>
      <h2>By piece <small>each printed by itself</small></h2>
      <table class="plain-table">
        <thead>
          <tr>
            <th></th>
            <th class="num">how many</th>
            <th class="num">batch</th>
            <th class="num">mass</th>
            <th class="num">filament</th>
            <th class="num">time</th>
            <th class="num">power</th>
            <th class="num">cost</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="e in each"
            :key="e.key"
            :class="{ on: e.pieces.includes(selection.piece ?? -1) }"
            data-test="estimate-line"
            @click="e.pieces.length && (selection.piece = e.pieces[0]!)"
          >
            <td>
              {{ e.name }}
            </td>
            <td class="num">{{ e.copies }}</td>
            <td class="num">{{ e.batches.join(', ') || '–' }}</td>
            <td class="num">{{ fixed(e.took.mass_g, e.took.mass_g < 10 ? 1 : 0) }} g</td>
            <td class="num">{{ e.took.filament_m ? `${fixed(e.took.filament_m, 1)} m` : '–' }}</td>
            <td class="num">{{ duration(e.took.minutes_low) }} to {{ duration(e.took.minutes_high) }}</td>
            <td class="num">{{ fixed(e.took.kwh, 2) }} kWh</td>
            <td class="num">{{ money }} {{ fixed(e.took.cost, 2) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <div v-if="each.length" class="plots">
      <Bars
        title="Mass by piece"
        unit="g"
        :labels="names.map(short)"
        :values="each.map((e) => e.took.mass_g)"
        :colours="colours"
      />
      <Bars
        title="Time by piece"
        unit="h"
        :labels="names.map(short)"
        :values="each.map((e) => e.took.minutes / 60)"
        :colours="colours"
      />
      <Bars
        title="Spend by material"
        :unit="money"
        :labels="(batching.batches?.materials ?? []).map((m) => m.name)"
        :values="(batching.batches?.materials ?? []).map((m) => m.cost)"
        :colours="(batching.batches?.materials ?? []).map((m) => m.colour)"
      />
    </div>
  </div>
</template>

<style scoped>
.sheet {
  position: absolute;
  inset: 0;
  overflow: auto;
  padding: 14px 18px;
  background: var(--sheet);
  display: flex;
  flex-direction: column;
  gap: 18px;
}
table {
  max-width: 780px;
}
tbody tr {
  border-top: 1px solid var(--line);
}
tr.on {
  background: var(--cedar-tint);
}
.plots {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(250px, 1fr));
  gap: 14px;
}
</style>
