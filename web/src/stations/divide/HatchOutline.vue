<script setup lang="ts">
/** The outline of a hatch: a rectangle, a circle, or corners drawn on the view. */
import { computed } from 'vue'
import type { Parting } from '@/api/client'
import { useTools } from '@/stores/tools'
import SchemaForm from '@/ui/SchemaForm.vue'

type Hatch = Extract<Parting, { kind: 'hatch' }>
type Outline = NonNullable<Hatch['outline']>
const props = defineProps<{ parting: Hatch }>()
const emit = defineEmits<{ change: [what: string, next: Parting] }>()
const tools = useTools()
const outline = computed<Outline>(
  () =>
    props.parting.outline ?? {
      shape: 'rectangle',
      width_mm: 30,
      height_mm: 20,
      corner_mm: 2,
    },
)
const SCHEMAS = { rectangle: 'Rectangle', circle: 'Circle', free: 'Free' } as const
const FIELDS = {
  rectangle: ['width_mm', 'height_mm', 'corner_mm'],
  circle: ['diameter_mm'],
  free: [],
}

const keep = (what: string, next: Outline) => emit('change', what, { ...props.parting, outline: next })
function setShape(shape: Outline['shape']): void {
  if (shape === 'rectangle') keep('Outline', { shape, width_mm: 30, height_mm: 20, corner_mm: 2 })
  else if (shape === 'circle') keep('Outline', { shape, diameter_mm: 30 })
  else void draw()
}
async function draw(): Promise<void> {
  const { at_mm, outward, turn_deg } = props.parting
  const drawn = await tools.draw({
    origin: at_mm ?? [0, 0, 0],
    eye: outward ?? [0, 0, 1],
    turn: turn_deg ?? 0,
    closed: true,
    points: [],
  })
  if (drawn)
    keep('Drawn outline', { shape: 'free', corners: drawn.map(({ x_mm, y_mm }) => ({ x_mm, y_mm })) })
}
const set = (field: string, value: unknown, title: string) =>
  keep(title, { ...outline.value, [field]: value } as Outline)
</script>

<template>
  <div class="row">
    <span class="label">Outline</span>
    <select
      class="ruled"
      aria-label="Outline"
      data-test="outline-shape"
      :value="outline.shape"
      @change="setShape(($event.target as HTMLSelectElement).value as Outline['shape'])"
    >
      <option value="rectangle">Rectangle</option>
      <option value="circle">Circle</option>
      <option value="free">Free, drawn on the view</option>
    </select>
  </div>
  <SchemaForm
    :schema="SCHEMAS[outline.shape]"
    :fields="FIELDS[outline.shape]"
    :value="outline"
    @change="set"
  />
  <div v-if="outline.shape === 'free'" class="row">
    <span class="label">{{ outline.corners.length }} corners</span>
    <button class="chip fit" data-test="draw-outline" @click="draw">Draw anew</button>
  </div>
</template>

<style scoped>
.fit {
  width: fit-content;
}
</style>
