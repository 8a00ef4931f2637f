<script setup lang="ts">
/** A form drawn from a kind's JSON Schema (titles, limits, choices), so that a new kind needs no new form. */
import { computed } from 'vue'
import { useLocalStorage } from '@vueuse/core'
import { fieldsOf, leftTo, type Field } from './schema'
import RuledNumber from './RuledNumber.vue'

const props = defineProps<{
  schema: string
  value: object
  fields?: string[]
  hide?: string[]
  /** words for the choices of a field, by field and choice */
  words?: Record<string, Record<string, string>>
  /** fields whose point can be picked in the view */
  picks?: string[]
  /** the fields of numbers that were typed, of those that Hinoki can choose too; nothing where that is not known */
  typed?: string[] | null
  /** how many fields stand there at first: of the rest those that are as they always are wait under *More* */
  first?: number
}>()
const emit = defineEmits<{
  change: [field: string, value: unknown, title: string]
  pick: [field: string]
  'give-back': [field: string, title: string]
}>()

const values = computed(() => props.value as Record<string, unknown>)
const properties = computed<[string, Field][]>(() => {
  const all = fieldsOf(props.schema)
  const names = props.fields ?? Object.keys(all).filter((name) => !props.hide?.includes(name))
  return names.map((name) => [name, all[name]!])
})

const more = useLocalStorage('hinoki.more-fields', false, { onError: () => undefined })
/** fewer than so many are not put away */
const FEW = 3
const waiting = computed(() => {
  const rest = properties.value
    .slice(props.first ?? Infinity)
    .filter(([name, field]) => same(values.value[name], field.default))
  return new Map(rest.length < FEW ? [] : rest)
})
const same = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null)
const titles = computed(() =>
  [...waiting.value].map(([name, field]) => (field.title ?? name).toLowerCase()).join(', '),
)

const UNITS: Record<string, string> = {
  mm: 'mm',
  deg: '°',
  percent: '%',
  cm3: 'g/cm³',
  g: 'g',
  s: 's',
  watts: 'W',
  mpa: 'N/mm²',
  hours: 'h',
  hour: 'h',
}
const unit = (name: string) => (name.endsWith('mm_s') ? 'mm/s' : (UNITS[name.split('_').at(-1)!] ?? ''))
const inner = (field: Field) => field.anyOf?.find((f) => f.type !== 'null') ?? field
const isTriple = (field: Field) => (inner(field).prefixItems?.length ?? 0) > 2
const isNumber = (field: Field) => ['number', 'integer'].includes(inner(field).type ?? '')
/** As many decimals as the value or the default has, one at least and four at most. */
function digits(field: Field, value?: unknown): number {
  if (inner(field).type === 'integer') return 0
  const most = Math.max(decimals(field.default), decimals(value), 1)
  return Math.min(4, most)
}
const decimals = (value: unknown): number =>
  typeof value === 'number' ? (String(value).split('.')[1]?.length ?? 0) : 0
const least = (field: Field) =>
  inner(field).minimum ?? (inner(field).exclusiveMinimum !== undefined ? 0.01 : -1e5)
const most = (field: Field) => inner(field).maximum ?? 1e5
const step = (field: Field) => (inner(field).type === 'integer' ? 1 : most(field) <= 10 ? 0.1 : 0.5)
/** whether a number is Hinoki's choice, or was typed; null where nothing is known of it, or it may be left empty */
function chosen(name: string, field: Field): boolean | null {
  if (!props.typed || field.anyOf) return null
  return !props.typed.includes(name)
}
/** what a number is where it is left to Hinoki, of one that was typed; empty where it cannot be given back */
const backTo = (name: string, field: Field): string =>
  leftTo(field) || (chosen(name, field) === false ? 'as suits the face' : '')
function giveBack(name: string, field: Field): void {
  if (leftTo(field)) set(name, null, field)
  else emit('give-back', name, field.title ?? name)
}
const plain = (word: string) => word[0]!.toUpperCase() + word.slice(1)

/** Emptied is only what may be none. */
function set(name: string, value: unknown, field: Field): void {
  if (value === null && !field.anyOf?.some((f) => f.type === 'null')) return
  emit('change', name, value, field.title ?? name)
}
function setPart(name: string, at: number, value: number | null, field: Field): void {
  const now = [...(values.value[name] as number[])]
  now[at] = value ?? 0
  set(name, now, field)
}
</script>

<template>
  <div
    v-for="[name, field] in properties"
    v-show="more || !waiting.has(name)"
    :key="name"
    class="row"
    :class="{ ticked: field.type === 'boolean', long: (field.title ?? '').length > 12 && !isTriple(field) }"
    :title="field.description"
  >
    <span class="label">{{ field.title ?? plain(name) }}</span>
    <select
      v-if="field.enum"
      class="ruled"
      :aria-label="field.title ?? name"
      :data-test="`field-${name}`"
      :value="values[name]"
      @change="set(name, ($event.target as HTMLSelectElement).value, field)"
    >
      <option v-for="choice in field.enum" :key="choice" :value="choice">
        {{ words?.[name]?.[choice] ?? plain(choice) }}
      </option>
    </select>
    <span
      v-else-if="inner(field).prefixItems"
      class="pair"
      :class="{ triple: inner(field).prefixItems!.length > 2 }"
    >
      <RuledNumber
        v-for="(part, at) in inner(field).prefixItems"
        :key="at"
        :model-value="(values[name] as number[])[at]!"
        :label="`${field.title ?? name} ${at + 1}`"
        :unit="inner(field).prefixItems!.length > 2 ? '' : unit(name)"
        :digits="
          isTriple(field)
            ? Math.min(2, digits(part, (values[name] as number[])[at]))
            : digits(part, (values[name] as number[])[at])
        "
        :step="step(part)"
        :min="least(part)"
        :max="most(part)"
        :data-test="`field-${name}-${at}`"
        @update:model-value="setPart(name, at, $event, field)"
      />
      <button
        v-if="picks?.includes(name)"
        class="chip"
        :data-test="`pick-${name}`"
        @click="emit('pick', name)"
      >
        Pick
      </button>
    </span>
    <input
      v-else-if="field.type === 'boolean'"
      type="checkbox"
      :checked="values[name] as boolean"
      :aria-label="field.title ?? name"
      :data-test="`field-${name}`"
      @change="set(name, ($event.target as HTMLInputElement).checked, field)"
    />
    <input
      v-else-if="field.type === 'string'"
      :type="field.pattern?.startsWith('^#') ? 'color' : 'text'"
      class="ruled"
      :maxlength="field.maxLength"
      :value="values[name]"
      :aria-label="field.title ?? name"
      :data-test="`field-${name}`"
      @change="set(name, ($event.target as HTMLInputElement).value, field)"
    />
    <span v-else-if="isNumber(field)" class="pair">
      <RuledNumber
        :model-value="(values[name] as number | null | undefined) ?? null"
        :label="field.title ?? name"
        :unit="unit(name)"
        :digits="digits(field, values[name])"
        :step="step(field)"
        :min="least(field)"
        :max="most(field)"
        :empty="field.anyOf !== undefined"
        :chosen="chosen(name, field) === true"
        :data-test="`field-${name}`"
        @update:model-value="set(name, $event, field)"
      />
      <small v-if="leftTo(field) && (values[name] ?? null) === null" class="chosen">{{
        leftTo(field)
      }}</small>
      <button
        v-else-if="backTo(name, field)"
        class="plain chosen"
        :aria-label="`${field.title ?? name}: give it back to Hinoki, ${backTo(name, field)}`"
        :title="`Typed. Given back: ${backTo(name, field)}`"
        :data-test="`give-back-${name}`"
        @click="giveBack(name, field)"
      >
        give back
      </button>
      <button
        v-if="picks?.includes(name)"
        class="chip"
        :data-test="`pick-${name}`"
        @click="emit('pick', name)"
      >
        Pick
      </button>
    </span>
  </div>
  <button
    v-if="waiting.size"
    class="plain more"
    :aria-expanded="more"
    data-test="more-fields"
    @click="more = !more"
  >
    {{ more ? 'Fewer fields' : `More: ${titles}` }}
  </button>
</template>

<style scoped>
.more {
  margin: 4px 0;
  color: var(--cedar);
  font-size: 12px;
  line-height: 1.35;
}
.chosen {
  align-self: center;
  font-size: 11.5px;
  line-height: 1.2;
}
small.chosen {
  flex: 1 1 60px;
  color: var(--ink-soft);
  font-style: italic;
}
button.chosen {
  color: var(--cedar);
  text-decoration: underline;
}
.row.long {
  grid-template-columns: 138px 1fr;
}
.row.ticked {
  grid-template-columns: 1fr auto;
}
.pair {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
}
.pair :deep(.ruled-number) {
  width: auto;
  min-width: 62px;
}
.pair.triple {
  flex-wrap: nowrap;
  gap: 5px;
}
.pair.triple :deep(.ruled-number) {
  min-width: 50px;
  width: 50px;
}
input[type='color'] {
  width: 44px;
  height: 24px;
  padding: 1px;
}
input[type='checkbox'] {
  justify-self: start;
}
</style>
