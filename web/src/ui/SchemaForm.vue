<script setup lang="ts">
/** A form drawn from a kind's JSON Schema (titles, limits, choices), so that a new kind needs no new form. */
import { computed } from 'vue'
import document from '../../openapi.json'
import RuledNumber from './RuledNumber.vue'

interface Field {
  type?: string
  title?: string
  description?: string
  enum?: string[]
  anyOf?: Field[]
  prefixItems?: Field[]
  minimum?: number
  maximum?: number
  exclusiveMinimum?: number
}

const props = defineProps<{
  schema: string
  value: Record<string, unknown>
  fields?: string[]
  hide?: string[]
  /** words for the choices of a field, by field and choice */
  words?: Record<string, Record<string, string>>
}>()
const emit = defineEmits<{ change: [field: string, value: unknown, title: string] }>()

const properties = computed<[string, Field][]>(() => {
  const all = (
    document.components.schemas as unknown as Record<string, { properties: Record<string, Field> }>
  )[props.schema]!.properties
  const names = props.fields ?? Object.keys(all).filter((name) => !props.hide?.includes(name))
  return names.map((name) => [name, all[name]!])
})

const unit = (name: string) => (name.endsWith('_mm') ? 'mm' : name.endsWith('_deg') ? '°' : '')
const inner = (field: Field) => field.anyOf?.find((f) => f.type !== 'null') ?? field
const isNumber = (field: Field) => ['number', 'integer'].includes(inner(field).type ?? '')
const digits = (field: Field) => (inner(field).type === 'integer' ? 0 : 1)
const least = (field: Field) =>
  inner(field).minimum ?? (inner(field).exclusiveMinimum !== undefined ? 0.01 : -1e5)
const most = (field: Field) => inner(field).maximum ?? 1e5
const step = (field: Field) => (inner(field).type === 'integer' ? 1 : 0.5)
const plain = (word: string) => word[0]!.toUpperCase() + word.slice(1)

function set(name: string, value: unknown, field: Field): void {
  emit('change', name, value, field.title ?? name)
}
function setPart(name: string, at: number, value: number | null, field: Field): void {
  const now = [...(props.value[name] as number[])]
  now[at] = value ?? 0
  set(name, now, field)
}
</script>

<template>
  <div v-for="[name, field] in properties" :key="name" class="row" :title="field.description">
    <span class="label">{{ field.title ?? plain(name) }}</span>
    <select
      v-if="field.enum"
      class="ruled"
      :aria-label="field.title ?? name"
      :data-test="`field-${name}`"
      :value="value[name]"
      @change="set(name, ($event.target as HTMLSelectElement).value, field)"
    >
      <option v-for="choice in field.enum" :key="choice" :value="choice">
        {{ words?.[name]?.[choice] ?? plain(choice) }}
      </option>
    </select>
    <span v-else-if="inner(field).prefixItems" class="pair">
      <RuledNumber
        v-for="(part, at) in inner(field).prefixItems"
        :key="at"
        :model-value="(value[name] as number[])[at]!"
        :label="`${field.title ?? name} ${at + 1}`"
        :unit="unit(name)"
        :min="least(part)"
        :max="most(part)"
        :data-test="`field-${name}-${at}`"
        @update:model-value="setPart(name, at, $event, field)"
      />
    </span>
    <RuledNumber
      v-else-if="isNumber(field)"
      :model-value="(value[name] as number | null | undefined) ?? null"
      :label="field.title ?? name"
      :unit="unit(name)"
      :digits="digits(field)"
      :step="step(field)"
      :min="least(field)"
      :max="most(field)"
      :empty="field.anyOf !== undefined"
      :data-test="`field-${name}`"
      @update:model-value="set(name, $event, field)"
    />
  </div>
</template>

<style scoped>
.pair {
  display: flex;
  gap: 8px;
}
</style>
