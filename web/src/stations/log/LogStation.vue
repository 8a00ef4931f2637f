<script setup lang="ts">
import { shallowRef, watch } from 'vue'
import { api, got, type Schemas } from '@/api/client'
import { useProject } from '@/stores/project'

const project = useProject()
const lines = shallowRef<Schemas['HistoryLine'][]>([])

watch(
  () => project.revision?.revision,
  async () => {
    const id = project.revision?.project_id
    if (!id) return
    try {
      lines.value = got<Schemas['HistoryLine'][]>(
        await api.GET('/api/projects/{project_id}/history', { params: { path: { project_id: id } } }),
      )
    } catch (error) {
      await project.refused(error)
    }
  },
  { immediate: true },
)
const time = (iso: string) =>
  new Date(iso).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  })
</script>

<template>
  <div class="block">
    <h2>Print log</h2>
    <p class="soft">
      Nothing has been printed yet: prints cannot be recorded here so far. The plan's own history:
    </p>
    <ul class="list">
      <li
        v-for="line in lines"
        :key="line.number"
        :class="{ on: line.number === project.revision?.revision }"
      >
        <span class="tag">{{ line.number }}</span>
        <span class="grow">{{ line.label }}</span>
        <span class="end">{{ time(line.created_at) }}</span>
      </li>
    </ul>
    <p>
      <a :href="`/api/projects/${project.revision?.project_id}/plan.json`">Save the plan as a file</a>
    </p>
  </div>
</template>

<style scoped>
.list > li {
  cursor: default;
}
a {
  color: var(--cedar);
}
</style>
