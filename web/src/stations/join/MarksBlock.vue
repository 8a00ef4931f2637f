<script setup lang="ts">
/** Mating marks: letters on the faces, for all at once, and which faces go without. */
import { computed } from 'vue'
import type { FaceView } from '@/api/client'
import { useProject } from '@/stores/project'
import SchemaForm from '@/ui/SchemaForm.vue'
import WhatIs from '@/ui/WhatIs.vue'

const props = defineProps<{ face: FaceView | null }>()
const project = useProject()
const wish = computed(() => project.plan?.mating_marks)
const fields = computed(() => (wish.value?.on ? ['on', 'says', 'size_mm', 'depth_mm', 'raised'] : ['on']))
const WORDS = {
  says: {
    letter: 'Letter of the face',
    'letter and number': 'Letter and piece number',
    number: 'Piece number',
  },
}
const here = computed(() => project.build?.mating_marks?.filter((m) => m.face === props.face?.id) ?? [])
const without = computed(() => !!props.face && !!wish.value?.without?.includes(props.face.id))

function set(field: string, value: unknown, title: string): void {
  void project.edit(title, (plan) => {
    plan.mating_marks = { ...plan.mating_marks!, [field]: value }
  })
}
function flip(): void {
  const id = props.face?.id
  if (!id) return
  void project.edit(
    without.value ? `Mark ${props.face!.label}` : `No mark on ${props.face!.label}`,
    (plan) => {
      const now = plan.mating_marks!
      const others = (now.without ?? []).filter((f) => f !== id)
      plan.mating_marks = { ...now, without: without.value ? others : [...others, id] }
    },
  )
}
</script>

<template>
  <div v-if="wish" class="block" data-test="mating-marks">
    <h2>Mating marks <small>letters on the faces</small> <WhatIs word="mating marks" /></h2>
    <SchemaForm schema="MatingMarks" :fields="fields" :value="wish" :words="WORDS" @change="set" />
    <div v-if="wish.on && face" class="here">
      <span class="soft">
        {{ face.label }}:
        {{
          here.length
            ? here.map((m) => `${m.text}, ${m.size_mm} mm`).join(' and ')
            : without
              ? 'left out'
              : 'no room'
        }}
      </span>
      <button class="chip" data-test="mark-face" @click="flip">
        {{ without ? 'Mark it' : 'Leave it out' }}
      </button>
    </div>
  </div>
</template>

<style scoped>
.here {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  font-size: 12px;
  margin-top: 4px;
}
</style>
