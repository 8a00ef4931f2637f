<script setup lang="ts">
/** The line of a profile: from where it is seen, its points typed one by one, or drawn on the view anew. */
import { computed } from 'vue'
import type { Parting, Vec3 } from '@/api/client'
import { useTools } from '@/stores/tools'
import RuledNumber from '@/ui/RuledNumber.vue'

type Profile = Extract<Parting, { kind: 'profile' }>
const props = defineProps<{ parting: Profile }>()
const emit = defineEmits<{ change: [what: string, next: Parting] }>()
const tools = useTools()
const VIEWS: { name: string; eye: Vec3 }[] = [
  { name: 'Front', eye: [0, -1, 0] },
  { name: 'Side', eye: [1, 0, 0] },
  { name: 'Top', eye: [0, 0, 1] },
]
const points = computed(() => props.parting.points)

function set(at: number, field: 'x_mm' | 'y_mm' | 'smooth', value: number | boolean | null): void {
  if (value === null) return
  const next = points.value.map((p, k) => (k === at ? { ...p, [field]: value } : p))
  emit('change', 'Point', { ...props.parting, points: next })
}
/** Another point in the middle of the piece of line before one. */
function insert(at: number): void {
  const [a, b] = [points.value[at - 1]!, points.value[at]!]
  const half = (x: number, y: number) => Math.round((x + y) * 50) / 100
  const point = { x_mm: half(a.x_mm, b.x_mm), y_mm: half(a.y_mm, b.y_mm), smooth: false }
  const next = [...points.value.slice(0, at), point, ...points.value.slice(at)]
  emit('change', 'Another point', { ...props.parting, points: next })
}
function takeOut(at: number): void {
  emit('change', 'One point fewer', {
    ...props.parting,
    points: points.value.filter((_, k) => k !== at),
  })
}
async function draw(eye: Vec3): Promise<void> {
  const parting = props.parting
  const drawn = await tools.draw({ origin: [0, 0, 0], eye, turn: 0, closed: false, points: [] })
  if (drawn) emit('change', 'Drawn line', { ...parting, eye, points: drawn })
}
</script>

<template>
  <div class="row">
    <span class="label">Draw on</span>
    <span class="chips">
      <button
        v-for="view in VIEWS"
        :key="view.name"
        class="chip"
        :data-test="`draw-${view.name.toLowerCase()}`"
        @click="draw(view.eye)"
      >
        {{ view.name }}
      </button>
    </span>
  </div>
  <table class="plain-table" data-test="line-points">
    <thead>
      <tr>
        <th></th>
        <th>Right</th>
        <th>Up</th>
        <th>Smooth</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(p, k) in points" :key="k">
        <td class="soft">{{ k + 1 }}</td>
        <td>
          <RuledNumber
            :model-value="p.x_mm"
            :label="`Point ${k + 1} right`"
            :digits="2"
            unit=""
            :data-test="`point-${k}-x`"
            @update:model-value="set(k, 'x_mm', $event)"
          />
        </td>
        <td>
          <RuledNumber
            :model-value="p.y_mm"
            :label="`Point ${k + 1} up`"
            :digits="2"
            unit=""
            :data-test="`point-${k}-y`"
            @update:model-value="set(k, 'y_mm', $event)"
          />
        </td>
        <td>
          <input
            v-if="k > 0 && k < points.length - 1"
            type="checkbox"
            :checked="p.smooth"
            :aria-label="`Point ${k + 1} smooth`"
            @change="set(k, 'smooth', ($event.target as HTMLInputElement).checked)"
          />
        </td>
        <td class="num">
          <button v-if="k > 0" class="plain" :aria-label="`Another point before ${k + 1}`" @click="insert(k)">
            +
          </button>
          <button
            v-if="points.length > 2"
            class="plain"
            :aria-label="`Take out point ${k + 1}`"
            @click="takeOut(k)"
          >
            ×
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
td :deep(.ruled-number) {
  width: 70px;
}
.num .plain {
  padding: 0 4px;
}
</style>
