<script setup lang="ts">
/** Batches: what prints together, on which bed, for how long and at what cost; estimates. */
import { computed, watch } from 'vue'
import { duration } from '@/api/format'
import { useProject } from '@/stores/project'
import { useWorkshop } from '@/stores/workshop'
import RuledNumber from '@/ui/RuledNumber.vue'
import SchemaForm from '@/ui/SchemaForm.vue'
import BedDrawing from './BedDrawing.vue'
import { useBatches, type Batch } from './useBatches'

const project = useProject()
const workshop = useWorkshop()
const { gap, hours, busy, batches, old, lay, stop } = useBatches()
const money = computed(() => workshop.all?.settings?.currency ?? '€')
const settings = computed(() => project.plan?.printing as unknown as Record<string, unknown> | undefined)
const resin = computed(() => project.plan?.material?.process === 'resin')
const fields = computed(() =>
  resin.value
    ? ['layers', 'support_percent', 'resin_loss_percent']
    : ['layers', 'walls', 'skins', 'infill_percent', 'support_percent', 'brim_mm'],
)
function set(field: string, value: unknown, title: string): void {
  if (value === null) return
  void project.edit(`Printing: ${title.toLowerCase()}`, (plan) => {
    plan.printing = { ...plan.printing!, [field]: value }
  })
}
const between = (b: Batch): string => `${duration(b.minutes_low)} to ${duration(b.minutes_high)}`
watch(
  () => project.upToDate && project.build?.state === 'whole',
  (ready) => {
    if (ready) void lay()
  },
  { immediate: true },
)
</script>

<template>
  <div class="block">
    <h2>Batches <small>what prints together</small></h2>
    <div class="row">
      <span class="label">Gap</span>
      <RuledNumber
        v-model="gap"
        label="Gap between pieces"
        unit="mm"
        :digits="1"
        :step="0.5"
        :min="0"
        :max="100"
      />
    </div>
    <div class="row">
      <span class="label">At most</span>
      <RuledNumber
        v-model="hours"
        label="Longest a batch may print"
        unit="h"
        :digits="1"
        :step="1"
        :min="0.5"
        :max="1000"
        data-test="most-hours"
      />
    </div>
    <div class="chips">
      <button class="chip" :disabled="busy" data-test="lay-out" @click="lay">Lay out</button>
      <button v-if="busy" class="chip" @click="stop">Stop</button>
      <span v-if="busy" class="soft" role="status">laying out …</span>
      <span v-else-if="old" class="look">of the plan as it was</span>
    </div>
    <details class="own">
      <summary>How it prints</summary>
      <SchemaForm v-if="settings" schema="PrintSettings" :fields="fields" :value="settings" @change="set" />
    </details>
  </div>
  <div v-if="batches" class="block" data-test="batches">
    <p data-test="batch-sum">
      {{ batches.batches.length }} {{ batches.batches.length === 1 ? 'batch' : 'batches' }},
      {{ Math.round(batches.mass_g) }} g, about {{ duration(batches.minutes) }}, {{ money }}
      {{ batches.cost.toFixed(2) }}. Estimates, from layers.
    </p>
    <p v-for="s in batches.said" :key="s" class="look small">{{ s }}</p>
    <section v-for="b in batches.batches" :key="b.number" class="batch" data-test="batch">
      <h3>
        Batch {{ b.number }} <small>{{ b.printer }}</small>
      </h3>
      <BedDrawing :batch="b" />
      <p class="soft small">
        {{ between(b) }}, {{ Math.round(b.mass_g) }} g<template v-if="b.support_g >= 1">
          with {{ Math.round(b.support_g) }} g of support</template
        >, {{ b.filament_m ? `${b.filament_m.toFixed(0)} m of filament, ` : '' }}{{ money }}
        {{ b.cost.toFixed(2) }}; {{ b.height_mm.toFixed(0) }} mm high.
      </p>
    </section>
  </div>
</template>

<style scoped>
p {
  margin: 0 0 6px;
}
.small {
  font-size: 12px;
}
.own summary {
  cursor: pointer;
  font-size: 12px;
  color: var(--ink-soft);
  margin: 4px 0;
}
.batch {
  margin-bottom: 14px;
}
h3 {
  font-size: 13px;
  font-weight: 600;
  margin: 6px 0 4px;
}
h3 small {
  font-weight: 400;
  color: var(--ink-soft);
}
</style>
