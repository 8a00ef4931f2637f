<script setup lang="ts" generic="Name extends string">
/** The pages of a station's worksheet, to turn to one. */
const props = defineProps<{
  pages: Readonly<Record<Name, { name: string }>>
  at: Name
  label: string
  counts?: Partial<Record<Name, number>>
}>()
const names = () => Object.keys(props.pages) as Name[]
const emit = defineEmits<{ turn: [to: Name] }>()
</script>

<template>
  <div class="pages" role="tablist" :aria-label="label">
    <button
      v-for="name in names()"
      :key="name"
      role="tab"
      :aria-selected="at === name"
      :data-test="`page-${name}`"
      @click="emit('turn', name)"
    >
      {{ pages[name].name }} <small v-if="counts?.[name]">{{ counts[name] }}</small>
    </button>
  </div>
</template>
