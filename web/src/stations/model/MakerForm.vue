<script setup lang="ts">
/** The figures of a part that Hinoki makes, and the opening or corner it is made for. */
import { computed, onMounted, shallowRef, watch } from 'vue'
import { fixed } from '@/api/format'
import { run } from '@/api/operations'
import { useProject } from '@/stores/project'
import { kindOf, shownFields } from '@/ui/schema'
import SchemaForm from '@/ui/SchemaForm.vue'
import { goesBy, looks, meant, type Maker, type Opening } from './makers'

const props = defineProps<{ maker: Maker; part: string; picks?: string[] }>()
const emit = defineEmits<{ change: [changes: object, label: string]; pick: [field: string] }>()
const project = useProject()
const kind = computed(() => kindOf('makers', props.maker.kind))
const fields = computed(() => shownFields(kind.value, props.maker))
const way = computed(() => goesBy(props.maker.kind))
const at = computed(() => ('at_mm' in props.maker ? props.maker.at_mm : null))
const openings = shallowRef<Opening[] | null>(null)

async function look(): Promise<void> {
  const now = project.revision
  openings.value = null
  if (!now || way.value !== 'opening') return
  try {
    const found = (await run('openings', now.project_id, { part: props.part })).openings
    if (project.revision?.revision === now.revision) openings.value = found
  } catch (error) {
    await project.refused(error)
  }
}
onMounted(look)
watch(() => [props.part, props.maker.kind, project.revision?.revision], look)

function choose(event: Event): void {
  const one = openings.value?.[Number((event.target as HTMLSelectElement).value)]
  if (one) emit('change', { at_mm: one.at_mm }, `Opening of ${kind.value.name}`)
}
function set(field: string, value: unknown, title: string): void {
  emit('change', { [field]: value }, `${title} of ${kind.value.name}`)
}
</script>

<template>
  <div v-if="way === 'opening'" class="row">
    <label for="opening">Opening</label>
    <select
      v-if="openings?.length"
      id="opening"
      class="ruled"
      data-test="opening"
      :value="meant(openings, at)"
      @change="choose"
    >
      <option v-for="(o, k) in openings" :key="k" :value="k">
        {{ [...o.size_mm, o.deep_mm].map((v) => fixed(v, 1)).join(' × ') }}, {{ looks(o.facing) }}
      </option>
    </select>
    <span v-else class="soft">{{ openings ? 'none with a flat rim' : 'Looking …' }}</span>
  </div>
  <div v-else-if="way === 'corner'" class="row">
    <span class="label">Corner</span>
    <span>
      {{ at ? at.map((v) => fixed(v, 1)).join(', ') : 'the longest' }}
      <button class="chip" data-test="pick-corner" @click="emit('pick', 'at_mm')">Pick</button>
    </span>
  </div>
  <SchemaForm
    :schema="kind.model"
    :fields="fields"
    :first="6"
    :picks="picks"
    :value="maker"
    :words="kind.words"
    @change="set"
    @pick="emit('pick', $event)"
  />
</template>
