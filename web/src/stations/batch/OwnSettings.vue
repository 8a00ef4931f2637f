<script setup lang="ts">
/** What of a piece, or of its whole part, is printed otherwise than the project says. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { noted } from '@/api/notes'
import { useParts } from '@/stores/parts'
import { useProject } from '@/stores/project'
import SchemaForm from '@/ui/SchemaForm.vue'

type Own = Schemas['OwnSettings']
const props = defineProps<{ keys: string[]; name: string }>()
const project = useProject()
const parts = useParts()
const scope = ref<'piece' | 'part'>('piece')
const open = ref(false)
const LAYERS = { fine: 'Fine', usual: 'Usual', coarse: 'Coarse' } as const
const ofPiece = computed<Own>(() => project.plan?.pieces?.[props.keys[0] ?? '']?.printing ?? {})
const ofPart = computed<Own>(() => project.plan?.own_printing ?? {})
const own = computed(() => (scope.value === 'piece' ? ofPiece.value : ofPart.value))
const differs = computed(() =>
  [ofPiece.value, ofPart.value].some((o) => Object.values(o).some((v) => v != null)),
)

function set(field: string, value: unknown, title: string): void {
  const next = { ...own.value, [field]: value } as Own
  const whose = scope.value === 'piece' ? props.name : (parts.open?.name ?? 'the part')
  void project.edit(`${title} of ${whose}`.slice(0, 120), (plan) => {
    if (scope.value === 'part') plan.own_printing = next
    else for (const key of props.keys) noted(plan, key, { printing: next })
  })
}
</script>

<template>
  <button
    class="chip"
    :aria-pressed="open || differs"
    :aria-expanded="open"
    data-test="own-settings"
    @click="open = !open"
  >
    Printed otherwise …
  </button>
  <template v-if="open">
    <div class="row">
      <label for="own-scope">Holds for</label>
      <select id="own-scope" v-model="scope" class="ruled" data-test="own-scope">
        <option value="piece">this piece</option>
        <option value="part">all of {{ parts.open?.name ?? 'the part' }}</option>
      </select>
    </div>
    <div class="row">
      <label for="own-layers">Layers</label>
      <select
        id="own-layers"
        class="ruled"
        data-test="own-layers"
        :value="own.layers ?? ''"
        @change="set('layers', ($event.target as HTMLSelectElement).value || null, 'Layers')"
      >
        <option value="">as {{ scope === 'piece' ? 'the part and the project' : 'the project' }}</option>
        <option v-for="(words, layers) in LAYERS" :key="layers" :value="layers">{{ words }}</option>
      </select>
    </div>
    <SchemaForm
      schema="OwnSettings"
      :fields="['walls', 'skins', 'infill_percent', 'brim_mm']"
      :value="own"
      @change="set"
    />
    <p class="soft small">
      What is left empty is as the project says (Estimates). Other layers need beds of their own.
    </p>
  </template>
</template>

<style scoped>
.small {
  font-size: 12px;
  margin: 2px 0 4px;
}
</style>
