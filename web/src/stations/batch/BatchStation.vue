<script setup lang="ts">
/** Batch: what prints together, on which bed, for how long and at what cost; estimates; what goes out. */
import { computed, onBeforeUnmount, type Component } from 'vue'
import { duration, fixed } from '@/api/format'
import { useBatching, type BatchPage } from '@/stores/batching'
import { askEachRevision } from '@/stores/eachRevision'
import { useWorkshop } from '@/stores/workshop'
import PageTabs from '@/ui/PageTabs.vue'
import BedsPage from './BedsPage.vue'
import EstimatesPage from './EstimatesPage.vue'
import FilesPage from './FilesPage.vue'
import WhatIs from '@/ui/WhatIs.vue'

const workshop = useWorkshop()
const batching = useBatching()
const PAGES: Record<BatchPage, { name: string; page: Component }> = {
  beds: { name: 'Beds', page: BedsPage },
  estimates: { name: 'Estimates', page: EstimatesPage },
  files: { name: 'Files out', page: FilesPage },
}
/** what the estimates rest on, each told once */
const rests = computed(() => [...new Set(batching.batches?.batches.map((b) => b.rests_on).filter(Boolean))])
const money = computed(() => workshop.currency)
askEachRevision(
  () => batching.batches !== null && !batching.old,
  () => batching.busy,
  batching.lay,
)
onBeforeUnmount(() => (batching.inSpace = null))
</script>

<template>
  <div class="block">
    <h2>Batches <small>what prints together</small> <WhatIs word="batch" /></h2>
    <p v-if="batching.batches" data-test="batch-sum">
      {{ batching.batches.batches.length }}
      {{ batching.batches.batches.length === 1 ? 'batch' : 'batches' }},
      {{ Math.round(batching.batches.took.mass_g) }} g, {{ duration(batching.batches.took.minutes_low) }} to
      {{ duration(batching.batches.took.minutes_high) }}, {{ money }} {{ fixed(batching.batches.took.cost, 2)
      }}<template v-if="batching.batches.took.filament_m"
        >; {{ fixed(batching.batches.took.filament_m, 0) }} m of filament,
        {{ fixed(batching.batches.took.kwh, 1) }} kWh</template
      >.
    </p>
    <p v-for="r in rests" :key="r" class="soft small" data-test="estimate-rests">{{ r }}</p>
    <p v-for="s in batching.batches?.said" :key="s" class="look small" data-test="batch-said">{{ s }}</p>
    <div class="chips">
      <button class="chip" :disabled="batching.busy" data-test="lay-out" @click="batching.layAnew()">
        Lay out anew
      </button>
      <button v-if="batching.busy" class="chip" data-test="lay-stop" @click="batching.stop()">Stop</button>
      <span v-if="batching.busy" class="soft" role="status">laying out …</span>
      <span v-else-if="batching.old" class="look">of the plan as it was</span>
    </div>
  </div>
  <PageTabs
    :pages="PAGES"
    :at="batching.page"
    label="Pages of Batch"
    @turn="((batching.page = $event), (batching.inSpace = null))"
  />
  <component :is="PAGES[batching.page].page" />
</template>

<style scoped>
p {
  margin: 0 0 6px;
}
.small {
  font-size: 12px;
}
</style>
