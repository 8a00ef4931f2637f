<script setup lang="ts">
/** How beds are filled, the thing that is chosen, spares, and when what is done. */
import { fixed } from '@/api/format'
import { computed } from 'vue'
import { useBatching } from '@/stores/batching'
import { useWorkshop } from '@/stores/workshop'
import SchemaForm from '@/ui/SchemaForm.vue'
import ChosenThing from './ChosenThing.vue'
import Timetable from './TimeTable.vue'

const batching = useBatching()
const workshop = useWorkshop()
const money = computed(() => workshop.currency)
const FIELDS = ['aim', 'most_hours', 'gap_mm', 'turn_deg', 'tall_together']
const WORDS = { aim: { fewest: 'as few as can be', even: 'even in time', 'over night': 'over night' } }
function set(field: string, value: unknown, title: string): void {
  if (value === null && field !== 'most_hours') return
  void batching.edit(`Batches: ${title.toLowerCase()}`, { [field]: value })
}
const copiesOf = (key: string) => batching.wish?.copies?.[key] ?? 1
</script>

<template>
  <ChosenThing />
  <div class="block">
    <SchemaForm
      v-if="batching.wish"
      schema="Batching"
      :fields="FIELDS"
      :words="WORDS"
      :value="batching.wish"
      @change="set"
    />
  </div>
  <div v-if="batching.batches?.spares.length" class="block" data-test="spares">
    <h2>Spares <small>better one more of these</small></h2>
    <p v-for="s in batching.batches.spares" :key="s.key" class="spare">
      <span
        >{{ s.name }} <small class="soft">{{ s.why }}</small></span
      >
      <button
        class="chip"
        data-test="one-more"
        @click="batching.setCopies(s.key, copiesOf(s.key) + 1, s.name)"
      >
        One more<template v-if="copiesOf(s.key) > 1"> ({{ s.wanted }})</template>
      </button>
    </p>
  </div>
  <div v-if="batching.batches?.materials.length" class="block" data-test="materials">
    <h2>Material <small>needed, and in stock</small></h2>
    <p v-for="m in batching.batches.materials" :key="m.name" class="material">
      <i :style="{ background: m.colour }"></i>
      <span>{{ m.name }}</span>
      <span :class="{ bad: m.short_g > 0 }">
        {{ Math.round(m.mass_g) }} of {{ Math.round(m.stock_g) }} g<template v-if="m.short_g > 0"
          >, {{ Math.round(m.short_g) }} short</template
        >
      </span>
      <span class="soft">{{ money }} {{ fixed(m.cost, 2) }}</span>
    </p>
  </div>
  <Timetable />
</template>

<style scoped>
.spare,
.material {
  display: flex;
  align-items: center;
  gap: 8px;
  margin: 0 0 5px;
  font-size: 12.5px;
}
.spare span {
  flex: 1;
  min-width: 0;
}
.spare small {
  display: block;
}
.material span:nth-of-type(1) {
  flex: 1;
}
i {
  width: 11px;
  height: 11px;
  border: 1px solid var(--ink);
}
</style>
