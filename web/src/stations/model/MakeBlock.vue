<script setup lang="ts">
/** A part that Hinoki makes for the open one: which kind, where it goes, its figures; then it is made. */
import { computed, onBeforeUnmount, ref, shallowRef } from 'vue'
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
      @change="(changes) => (maker = { ...maker, ...changes } as Maker)"
      @pick="pickCorner"
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
