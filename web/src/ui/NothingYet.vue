<script setup lang="ts">
/** What stands where there is no body to tell of: that it is on its way, why it is not, or what to do first. */
import { useProject } from '@/stores/project'

defineProps<{ empty: string }>()
const project = useProject()
</script>

<template>
  <p v-if="project.failure" class="bad">{{ project.failure }}</p>
  <p v-else-if="project.onItsWay" class="soft" data-test="on-its-way">
    {{
      project.bringing
        ? `${project.bringing} is being read; this fills in as soon as the model is there.`
        : project.revision
          ? 'The model is being built; this fills in as soon as it is there.'
          : 'Opening …'
    }}
  </p>
  <p v-else class="soft">{{ empty }}</p>
</template>
