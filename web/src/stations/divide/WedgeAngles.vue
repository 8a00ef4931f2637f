<script setup lang="ts">
/** The angles at which wedges begin: even, or one by one. */
import type { Parting } from '@/api/client'
import RuledNumber from '@/ui/RuledNumber.vue'
import { anglesOf } from './partings'

type Wedges = Extract<Parting, { kind: 'wedges' }>
const props = defineProps<{ parting: Wedges }>()
const emit = defineEmits<{ change: [what: string, next: Parting] }>()

function oneByOne(on: boolean): void {
  const angles_deg = on ? anglesOf(props.parting) : null
  emit('change', on ? 'Angles one by one' : 'Even angles', { ...props.parting, angles_deg })
}
function setAngle(at: number, value: number | null): void {
  const angles = (props.parting.angles_deg ?? []).flatMap((a, k) =>
    k !== at ? [a] : value === null ? [] : [value],
  )
  emit('change', 'Angle', { ...props.parting, angles_deg: angles })
}
/** Another wedge, in the middle of the widest one. */
function addAngle(): void {
  const all = [...(props.parting.angles_deg ?? [])].sort((a, b) => a - b)
  const gaps = all.map((a, k) => (all[(k + 1) % all.length]! - a + 360) % 360 || 360)
  const k = gaps.indexOf(Math.max(...gaps))
  const angle = Math.round(((all[k]! + gaps[k]! / 2) % 360) * 10) / 10
  const angles_deg = [...all, angle].sort((a, b) => a - b)
  emit('change', 'Another angle', { ...props.parting, angles_deg })
}
</script>

<template>
  <div class="row">
    <span class="label">Angles</span>
    <span v-if="parting.angles_deg" class="chips">
      <span v-for="(angle, k) in parting.angles_deg" :key="k" class="angle">
        <RuledNumber
          :model-value="angle"
          :label="`Wedge ${k + 1} begins at`"
          unit="°"
          :min="0"
          :max="359.9"
          data-test="angle"
          @update:model-value="setAngle(k, $event)"
        />
        <button
          v-if="parting.angles_deg.length > 2"
          class="plain"
          :aria-label="`Take out angle ${k + 1}`"
          @click="setAngle(k, null)"
        >
          ×
        </button>
      </span>
      <button class="chip" data-test="add-angle" @click="addAngle">+ Angle</button>
      <button class="chip" data-test="even-angles" @click="oneByOne(false)">Even again</button>
    </span>
    <button v-else class="chip fit" data-test="one-by-one" @click="oneByOne(true)">One by one</button>
  </div>
</template>

<style scoped>
.angle {
  display: inline-flex;
  gap: 3px;
}
.angle :deep(.ruled-number) {
  width: 60px;
}
.fit {
  width: fit-content;
}
</style>
