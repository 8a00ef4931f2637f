<script setup lang="ts">
/** A part that Hinoki makes for the open one: which kind, where it goes, its figures; then it is made. */
import { computed, onBeforeUnmount, ref, shallowRef } from 'vue'
import type { Vec3 } from '@/api/client'
import { run } from '@/api/operations'
import { useProject } from '@/stores/project'
import { placeOf, pointOf, useTools, type Spot } from '@/stores/tools'
import { kindOf } from '@/ui/schema'
import MakerForm from './MakerForm.vue'
import { goesBy, newMaker, type Maker } from './makers'

const props = defineProps<{ kind: string }>()
const emit = defineEmits<{ done: [said: string]; leave: [] }>()
const project = useProject()
const tools = useTools()
const maker = shallowRef<Maker>(newMaker(props.kind))
const places = shallowRef<Spot[]>([])
const busy = ref(false)
const info = computed(() => kindOf('makers', props.kind))
const onFaces = computed(() => goesBy(props.kind) === 'places')
const part = computed(() => project.plan?.part_id ?? 'q1')
onBeforeUnmount(() => tools.stop())

async function place(): Promise<void> {
  const found = await tools.pick([`Click where the ${info.value.name.toLowerCase()} goes.`])
  if (found) places.value = [...places.value, ...found]
}
/** The bore that an axle runs in: its diameter and length, and its end next to where it was clicked. */
async function pickBore(): Promise<void> {
  const found = await tools.pick(['Click the wall of the bore.'])
  const now = project.revision
  if (!found || !now) return
  const at = pointOf(found[0]!)
  try {
    const bore = await run('axis-at', now.project_id, { at_mm: at, part: part.value })
    const inwards = bore.along.reduce((sum, c, k) => sum + c * (at[k]! - bore.at_mm[k]!), 0) < 0 ? 1 : -1
    const out = bore.along.map((c) => -inwards * c) as Vec3
    const end = bore.at_mm.map((c, k) => c + (out[k]! * bore.long_mm) / 2) as Vec3
    maker.value = { ...maker.value, bore_mm: bore.diameter_mm, through_mm: bore.long_mm } as Maker
    places.value = [{ at: end, normal: out, piece: null }]
  } catch (error) {
    await project.refused(error)
  }
}
const pick = (field: string): Promise<void> => (field === 'bore_mm' ? pickBore() : pickCorner())
async function pickCorner(): Promise<void> {
  const found = await tools.pick(['Click near the inner corner.'])
  if (found) maker.value = { ...maker.value, at_mm: pointOf(found[0]!) } as Maker
}
async function make(): Promise<void> {
  busy.value = true
  const found = await project.command('make-part', {
    maker: maker.value,
    places: places.value.map(placeOf),
  })
  busy.value = false
  if (found) emit('done', found.said ?? '')
}
</script>

<template>
  <div class="block" data-test="make-form">
    <h2>
      {{ info.name }} <small>{{ info.says }}</small>
    </h2>
    <div v-if="onFaces" class="row">
      <span class="label">Goes to</span>
      <span>
        <span data-test="places-picked">
          {{ places.length ? `${places.length} ${places.length === 1 ? 'place' : 'places'}` : 'beside it' }}
        </span>
        <button class="chip" data-test="pick-place" @click="place">Pick a place</button>
        <button v-if="places.length" class="chip" @click="places = places.slice(0, -1)">Take back</button>
      </span>
    </div>
    <MakerForm
      :maker="maker"
      :part="part"
      :picks="project.begun ? info.picks : []"
      @change="(changes) => (maker = { ...maker, ...changes } as Maker)"
      @pick="pick"
    />
    <div class="two">
      <button class="wide" :disabled="busy" data-test="make-it" @click="make">
        {{ busy ? 'Making it …' : 'Make it' }}
      </button>
      <button class="chip" @click="emit('leave')">Leave</button>
    </div>
  </div>
</template>

<style scoped>
.two {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 8px;
}
</style>
