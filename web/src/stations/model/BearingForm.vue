<script setup lang="ts">
/** A bearing's seat: the face it is cut into, and the bearings on sale. */
import type { PrepareStep } from '@/api/client'
import { useProject } from '@/stores/project'
import SizeChoice from '@/ui/SizeChoice.vue'
import FaceRow from './FaceRow.vue'

type Seat = Extract<PrepareStep, { kind: 'bearing-seat' }>
const props = defineProps<{ step: Seat }>()
const emit = defineEmits<{ change: [next: PrepareStep, label: string]; pick: [] }>()
const project = useProject()
</script>

<template>
  <FaceRow :at="step.at_mm ?? [0, 0, 0]" :facing="step.facing ?? [0, 0, 1]" @pick="emit('pick')" />
  <SizeChoice
    :sizes="project.sizes['bearing'] ?? []"
    :value="{ ...step }"
    label="Bearing"
    title="Bearing"
    data-test="bearing"
    @take="(size) => emit('change', { ...props.step, ...size.values } as PrepareStep, `Bearing ${size.name}`)"
  />
</template>
