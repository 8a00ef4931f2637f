<script setup lang="ts">
/** The figures of one movement: what it moves, its axis or way, what it rides on, what drives it. */
import { computed } from 'vue'
import type { Vec3 } from '@/api/client'
import { useMoving, type Movement } from '@/stores/moving'
import RuledText from '@/ui/RuledText.vue'
import RuledTriple from '@/ui/RuledTriple.vue'
import SchemaForm from '@/ui/SchemaForm.vue'
import { fieldsOf, kindOf, shownFields } from '@/ui/schema'

const props = defineProps<{ movement: Movement }>()
const moving = useMoving()
/** fields that name another movement */
const NAMES = ['on', 'by', 'begins_on', 'ends_on']
const info = computed(() => kindOf('movements', props.movement.kind))
const shown = computed(() => shownFields(info.value, props.movement))
const fields = computed(() => shown.value.filter((f) => f !== 'through'))
const AXES: Record<string, Vec3> = { X: [1, 0, 0], Y: [0, 1, 0], Z: [0, 0, 1] }
const others = computed(() => moving.movements.filter((m) => m.id !== props.movement.id))
const title = (field: string) => fieldsOf(info.value.model)[field]?.title ?? field
const named = (field: string) => (props.movement as unknown as Record<string, string | null>)[field] ?? ''
const movable = computed(() => moving.view?.movable ?? [])
/** what is not there any more is shown by the name the plan has for it */
const own = computed(() =>
  (props.movement.moves ?? []).map((id) => movable.value.find((m) => m.id === id) ?? { id, name: id }),
)
const rest = computed(() => movable.value.filter((m) => !props.movement.moves?.includes(m.id)))
function alsoMove(choice: HTMLSelectElement): void {
  const thing = movable.value.find((m) => m.id === choice.value)
  choice.value = ''
  if (thing) moving.toggle(thing.id, thing.name)
}
const through = computed(() => (props.movement.kind === 'rail' ? (props.movement.through ?? []) : []))
const isTurn = computed(() => props.movement.kind === 'turn')
const degrees = computed(() =>
  isTurn.value ? 'degrees, against the clock seen against its axis' : 'mm along its way',
)

function set(field: string, value: unknown, name: string): void {
  // what drives it is chosen at once, where there is only one
  const only = field === 'driven' && value !== 'itself' && others.value.length === 1
  moving.set({ [field]: value, ...(only ? { by: others.value[0]!.id } : {}) }, name)
}
function setPoint(k: number, point: Vec3): void {
  moving.set({ through: through.value.map((p, i) => (i === k ? point : p)) }, 'Point of the rail')
}
function addPoint(): void {
  const [x, y, z] = through.value.at(-1) ?? [0, 0, 0]
  moving.set({ through: [...through.value, [x + 20, y, z]] }, 'Added a point of the rail')
}
function dropPoint(k: number): void {
  moving.set({ through: through.value.filter((_, i) => i !== k) }, 'Took a point of the rail out')
}
</script>

<template>
  <div class="row">
    <span class="label">Name</span>
    <RuledText
      :model-value="movement.name ?? ''"
      label="Name of the movement"
      :placeholder="moving.labelOf(movement.id)"
      data-test="movement-name"
      @update:model-value="moving.set({ name: $event }, 'Named a movement')"
    />
  </div>
  <div class="row top">
    <span class="label">Moves</span>
    <span>
      <span v-if="own.length" class="chips tight" role="group" aria-label="What it moves">
        <button
          v-for="thing in own"
          :key="thing.id"
          class="chip"
          :aria-label="`${thing.name}: take out`"
          data-test="moves"
          @click="moving.toggle(thing.id, thing.name)"
        >
          {{ thing.name }} ×
        </button>
      </span>
      <select
        class="ruled"
        aria-label="Also moves"
        data-test="also-moves"
        value=""
        @change="alsoMove($event.target as HTMLSelectElement)"
      >
        <option value="">{{ own.length ? 'and …' : 'choose what moves' }}</option>
        <option v-for="thing in rest" :key="thing.id" :value="thing.id">{{ thing.name }}</option>
      </select>
    </span>
  </div>
  <template v-for="field in fields" :key="field">
    <div v-if="NAMES.includes(field)" class="row">
      <label :for="`movement-${field}`">{{ title(field) }}</label>
      <select
        :id="`movement-${field}`"
        class="ruled"
        :data-test="`movement-${field}`"
        :value="named(field)"
        @change="set(field, ($event.target as HTMLSelectElement).value || null, title(field))"
      >
        <option value="">{{ field === 'by' ? 'choose it' : 'nothing: it stands' }}</option>
        <option v-for="m in others" :key="m.id" :value="m.id">{{ moving.labelOf(m.id) }}</option>
      </select>
    </div>
    <SchemaForm
      v-else
      :schema="info.model"
      :fields="[field]"
      :picks="info.picks"
      :value="movement"
      :words="info.words"
      @change="set"
      @pick="(at) => moving.pickPoint(at, title(at))"
    />
    <div v-if="field === 'along'" class="row">
      <span class="label"></span>
      <span class="chips tight">
        <button
          v-for="(way, axis) in AXES"
          :key="axis"
          class="chip"
          :aria-label="`Along ${axis}`"
          :data-test="`along-${axis}`"
          @click="moving.set({ along: way }, `Along ${axis}`)"
        >
          {{ axis }}
        </button>
        <button v-if="isTurn" class="chip" data-test="pick-axis" @click="moving.pickAxis()">
          Axis of a bore …
        </button>
      </span>
    </div>
    <p v-if="field === 'end'" class="soft small">In {{ degrees }}; at rest it is at 0.</p>
  </template>
  <div v-for="(point, k) in through" :key="k" class="row">
    <span class="label">Point {{ k + 1 }}</span>
    <span class="point">
      <RuledTriple
        :model-value="point"
        :label="`Point ${k + 1}`"
        unit=""
        :test="`rail-${k}`"
        @update:model-value="setPoint(k, $event)"
      />
      <button
        v-if="through.length > 2"
        class="chip"
        :aria-label="`Take point ${k + 1} out`"
        @click="dropPoint(k)"
      >
        ×
      </button>
    </span>
  </div>
  <div v-if="movement.kind === 'rail'" class="chips">
    <button class="chip" data-test="add-rail-point" @click="addPoint">+ Point</button>
    <button class="chip" data-test="pick-rail-point" @click="moving.pickRailPoint()">Pick the next …</button>
  </div>
</template>

<style scoped>
.small {
  font-size: 12px;
  margin: 2px 0;
}
.top {
  align-items: start;
}
.tight {
  margin: 0;
  gap: 5px;
}
.point {
  display: flex;
  gap: 5px;
  align-items: center;
}
</style>
