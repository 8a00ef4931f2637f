<script setup lang="ts">
import { computed } from 'vue'
import { STATIONS } from '@/router'
import { useProject } from '@/stores/project'
import FindingList from '@/ui/FindingList.vue'

const project = useProject()
const ORDER = { 'must-fix': 0, 'look-at': 1, note: 2 } as const
const groups = computed(() =>
  STATIONS.map((s) => ({
    ...s,
    findings: project.findings
      .filter((f) => f.station === s.id)
      .sort((a, b) => ORDER[a.severity] - ORDER[b.severity]),
  })).filter((g) => g.findings.length > 0),
)
const worst = computed(() => project.findings.filter((f) => f.severity === 'must-fix').length)
</script>

<template>
  <div class="block">
    <h2>Check</h2>
    <p v-if="!project.build?.model" class="soft">There is nothing to check yet. Bring in a model first.</p>
    <p v-else-if="worst" class="bad">{{ worst }} {{ worst === 1 ? 'thing' : 'things' }} must be fixed.</p>
    <p v-else class="good">Nothing must be fixed.</p>
    <p v-if="project.build?.balance" class="soft">
      {{
        project.build.balance.relative_error <= 1e-6
          ? 'The volumes of the pieces add up to the model.'
          : 'The volumes of the pieces do not add up to the model.'
      }}
    </p>
  </div>
  <div v-for="g in groups" :key="g.id" class="block">
    <h2>
      <router-link :to="`/projects/${project.revision?.project_id}/${g.id}`">{{ g.name }}</router-link>
      <small>{{ g.findings.length }}</small>
    </h2>
    <FindingList :findings="g.findings" />
  </div>
</template>

<style scoped>
p {
  margin: 0 0 6px;
}
a {
  color: var(--cedar);
}
</style>
