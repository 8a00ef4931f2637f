<script setup lang="ts">
/** Sizes on sale, and which of them something has. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

defineOptions({ inheritAttrs: false })
type Size = Schemas['SizeView']
const props = withDefaults(
  defineProps<{ sizes: readonly Size[]; value: Record<string, unknown>; label: string; title?: string }>(),
  { title: 'On sale' },
)
const emit = defineEmits<{ take: [size: Size] }>()
const now = computed(() =>
  props.sizes.findIndex((s) => Object.entries(s.values).every(([k, v]) => props.value[k] === v)),
)
function take(index: number): void {
  const size = props.sizes[index]
  if (size) emit('take', size)
}
</script>

<template>
  <div v-if="sizes.length" class="row">
    <span class="label">{{ title }}</span>
    <select
      v-bind="$attrs"
      class="ruled"
      :aria-label="label"
      :value="now"
      @change="take(Number(($event.target as HTMLSelectElement).value))"
    >
      <option :value="-1" disabled>a size of its own</option>
      <option v-for="(s, k) in sizes" :key="s.name" :value="k">{{ s.name }}</option>
    </select>
  </div>
</template>
