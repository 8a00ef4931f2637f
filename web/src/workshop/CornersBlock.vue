<script setup lang="ts">
/** Corners of a printer's bed where nothing may lie: a clip, a purge bin. */
import type { Printer, Schemas } from '@/api/client'
import RuledNumber from '@/ui/RuledNumber.vue'

type Kept = Schemas['KeptFree']
const props = defineProps<{ printer: Printer }>()
const emit = defineEmits<{ change: [corners: Kept[]] }>()
const CORNERS: Kept['corner'][] = ['front left', 'front right', 'back left', 'back right']
const all = (): Kept[] => [...(props.printer.kept_free ?? [])]
function set(k: number, change: Partial<Kept>): void {
  emit(
    'change',
    all().map((c, at) => (at === k ? { ...c, ...change } : c)),
  )
}
function add(): void {
  const used = all().map((c) => c.corner)
  const free = CORNERS.find((c) => !used.includes(c)) ?? 'front left'
  emit('change', [...all(), { corner: free, size_mm: [20, 20] }])
}
function side(k: number, axis: 0 | 1, value: number | null): void {
  const size: [number, number] = [...props.printer.kept_free![k]!.size_mm]
  size[axis] = value ?? 1
  set(k, { size_mm: size })
}
</script>

<template>
  <div class="corners">
    <div v-for="(c, k) in printer.kept_free ?? []" :key="k" class="corner" data-test="kept-free">
      <select
        class="ruled"
        aria-label="Corner kept free"
        :value="c.corner"
        @change="set(k, { corner: ($event.target as HTMLSelectElement).value as Kept['corner'] })"
      >
        <option v-for="name in CORNERS" :key="name" :value="name">{{ name }}</option>
      </select>
      <RuledNumber
        :model-value="c.size_mm[0]"
        label="Kept free along X"
        :min="1"
        :max="5000"
        :digits="0"
        @update:model-value="side(k, 0, $event)"
      />
      <RuledNumber
        :model-value="c.size_mm[1]"
        label="Kept free along Y"
        :min="1"
        :max="5000"
        :digits="0"
        @update:model-value="side(k, 1, $event)"
      />
      <button
        class="plain"
        :aria-label="`Use the ${c.corner} corner again`"
        @click="
          emit(
            'change',
            all().filter((_, at) => at !== k),
          )
        "
      >
        ×
      </button>
    </div>
    <button class="chip" :disabled="(printer.kept_free ?? []).length >= 8" data-test="keep-free" @click="add">
      Keep a corner free
    </button>
  </div>
</template>

<style scoped>
.corners {
  margin: 6px 0;
}
.corner {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 4px;
}
.corner :deep(.ruled-number) {
  width: 70px;
}
</style>
