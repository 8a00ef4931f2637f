<script setup lang="ts">
/** The thing that is chosen on a bed: moved to another one, typed to a place, turned, pinned, copied. */
import { computed } from 'vue'
import { duration, fixed } from '@/api/format'
import { noted, sharedOf } from '@/api/notes'
import { kindOf, useBatching } from '@/stores/batching'
import { useParts } from '@/stores/parts'
import { useProject } from '@/stores/project'
import RuledNumber from '@/ui/RuledNumber.vue'
import OwnSettings from './OwnSettings.vue'

const batching = useBatching()
const project = useProject()
const parts = useParts()
const found = computed(() => batching.thing)
/** the beds it can lie on, and a new one */
const beds = computed(() => {
  const own = batching.batches?.batches.filter((b) => b.group === found.value?.batch.group) ?? []
  return own.map((b) => ({ bed: b.bed, text: `Batch ${b.number}` }))
})
const fresh = computed(() => Math.max(0, ...beds.value.map((b) => b.bed)) + 1)
const kind = computed(() => kindOf(found.value?.thing.key ?? ''))
const copies = computed(() => batching.wish?.copies?.[kind.value] ?? 1)
const loose = computed(() => found.value?.thing.pieces.length === 0)
/** what is needed more than once is told by how many more are printed */
const often = computed(() => loose.value || (parts.of(found.value?.thing.key ?? '')?.count ?? 1) > 1)
/** whether it is of the part that is worked on */
const own = computed(() => project.pieces.some((p) => found.value?.thing.pieces.includes(p.number)))
const materials = computed(() =>
  project.plan?.material ? [project.plan.material, ...(project.plan.more_materials ?? [])] : [],
)
function place(x: number, y: number, turn: number): void {
  const now = found.value
  if (now) void batching.move(now.thing.key, now.batch.bed, { x, y }, ((turn % 360) + 360) % 360)
}
function toBed(bed: number): void {
  const now = found.value
  if (now) void batching.move(now.thing.key, bed, null, now.thing.turn_deg)
}
function setMaterial(id: string): void {
  void project.edit('Material of a piece', (plan) => {
    for (const key of keys.value)
      noted(plan, key, { material_id: id === sharedOf(plan, key).material_id ? null : id })
  })
}
/** keys of its pieces, of the part that is worked on */
const keys = computed(() =>
  project.pieces.filter((p) => found.value?.thing.pieces.includes(p.number)).map((p) => p.key),
)
const materialOf = computed(() => {
  const key = project.pieces.find((p) => found.value?.thing.pieces.includes(p.number))?.key ?? ''
  return project.plan?.pieces?.[key]?.material_id ?? sharedOf(project.plan, key).material_id
})
</script>

<template>
  <div v-if="found" class="block" data-test="chosen-thing">
    <h2>{{ found.thing.name }}</h2>
    <p class="soft small">
      {{ Math.round(found.thing.took.mass_g) }} g, {{ duration(found.thing.took.minutes) }} by itself,
      {{ fixed(found.thing.height_mm, 0) }} mm high<span v-if="found.thing.otherwise" data-test="otherwise"
        >, printed with {{ found.thing.otherwise }}</span
      >.
    </p>
    <div class="row">
      <label for="on-bed">Lies in</label>
      <select
        id="on-bed"
        class="ruled"
        data-test="to-bed"
        :value="found.batch.bed"
        @change="toBed(Number(($event.target as HTMLSelectElement).value))"
      >
        <option v-for="b in beds" :key="b.bed" :value="b.bed">{{ b.text }}</option>
        <option :value="fresh">a batch of its own</option>
      </select>
    </div>
    <div class="row">
      <span class="label">Middle at</span>
      <span class="pair">
        <RuledNumber
          :model-value="found.thing.x_mm"
          label="Middle along X"
          data-test="at-x"
          :step="1"
          @update:model-value="place($event ?? 0, found.thing.y_mm, found.thing.turn_deg)"
        />
        <RuledNumber
          :model-value="found.thing.y_mm"
          label="Middle along Y"
          data-test="at-y"
          :step="1"
          @update:model-value="place(found.thing.x_mm, $event ?? 0, found.thing.turn_deg)"
        />
      </span>
    </div>
    <div class="row">
      <span class="label">Turned</span>
      <RuledNumber
        :model-value="found.thing.turn_deg"
        label="Turned by"
        unit="°"
        :min="-360"
        :max="360"
        :step="5"
        data-test="at-turn"
        @update:model-value="place(found.thing.x_mm, found.thing.y_mm, $event ?? 0)"
      />
    </div>
    <div class="row">
      <span class="label">{{ often ? 'More' : 'Copies' }}</span>
      <RuledNumber
        :model-value="often ? copies - 1 : copies"
        label="Copies"
        unit=""
        :digits="0"
        :min="often ? 0 : 1"
        :max="1000"
        data-test="copies"
        @update:model-value="batching.setCopies(kind, (often ? 1 : 0) + ($event ?? 1), found.thing.name)"
      />
    </div>
    <div v-if="own && materials.length > 1" class="row">
      <label for="its-material">Material</label>
      <select
        id="its-material"
        class="ruled"
        data-test="its-material"
        :value="materialOf"
        @change="setMaterial(($event.target as HTMLSelectElement).value)"
      >
        <option v-for="m in materials" :key="m.id" :value="m.id">{{ m.name }}</option>
      </select>
    </div>
    <OwnSettings v-if="own" :key="found.thing.key" :keys="keys" :name="found.thing.name" />
    <div class="chips">
      <button
        class="chip"
        :aria-pressed="found.thing.pinned"
        data-test="pin-thing"
        @click="batching.pin(found.thing.key, !found.thing.pinned)"
      >
        {{ found.thing.pinned ? 'Pinned down' : 'Pin down' }}
      </button>
      <button
        class="chip"
        data-test="turn-thing"
        @click="place(found.thing.x_mm, found.thing.y_mm, found.thing.turn_deg + 45)"
      >
        Turn 45°
      </button>
    </div>
  </div>
</template>

<style scoped>
.small {
  font-size: 12px;
  margin: 0 0 4px;
}
.pair {
  display: flex;
  gap: 8px;
}
.chips {
  margin-top: 6px;
}
</style>
