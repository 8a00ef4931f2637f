<script setup lang="ts">
/** All findings of all stations: by severity, by piece or by face; those that were accepted at the end. */
import { computed, ref } from 'vue'
import type { Finding } from '@/api/client'
import { STATIONS, stationName } from '@/router'
import { useAssembly } from '@/stores/assembly'
import { useMoving } from '@/stores/moving'
import { useProject } from '@/stores/project'
import FindingList from '@/ui/FindingList.vue'
import ListSearch from '@/ui/ListSearch.vue'
import { holds } from '@/ui/search'
import NothingYet from '@/ui/NothingYet.vue'
import WhatIs from '@/ui/WhatIs.vue'

type By = 'station' | 'severity' | 'piece' | 'face'
const project = useProject()
const assembly = useAssembly()
const moving = useMoving()
/** those of the build, and those of the assembly and of what moves once they are known for this plan */
const all = computed(() => [
  ...project.findings,
  ...(assembly.old ? [] : assembly.findings),
  ...(moving.old ? [] : moving.findings),
])
const by = ref<By>('severity')
const ORDER = { 'must-fix': 0, 'look-at': 1, note: 2 } as const
const WORDS = { 'must-fix': 'Must fix', 'look-at': 'Look at', note: 'Notes' } as const
const looked = ref('')
const waiting = computed(() => all.value.filter((f) => !f.accepted))
const open = computed(() =>
  waiting.value
    .filter((f) => holds([f.message, project.pieceName(f.piece)], looked.value))
    .sort((a, b) => ORDER[a.severity] - ORDER[b.severity]),
)
const accepted = computed(() => all.value.filter((f) => f.accepted))
const worst = computed(() => waiting.value.filter((f) => f.severity === 'must-fix').length)

const HEAD: Record<By, (f: Finding) => string> = {
  station: (f) => stationName(f.station ?? ''),
  severity: (f) => WORDS[f.severity],
  piece: (f) => (f.piece ? project.pieceName(f.piece) || `Piece ${f.piece}` : 'No piece'),
  face: (f) => f.face ?? 'No face',
}
const groups = computed(() => {
  const found = new Map<string, Finding[]>()
  for (const f of open.value) {
    const head = HEAD[by.value](f)
    found.set(head, [...(found.get(head) ?? []), f])
  }
  const heads = [...found.keys()]
  if (by.value === 'station')
    heads.sort((a, b) => STATIONS.findIndex((s) => s.name === a) - STATIONS.findIndex((s) => s.name === b))
  if (by.value === 'piece' || by.value === 'face')
    heads.sort(
      (a, b) =>
        Number(a.startsWith('No ')) - Number(b.startsWith('No ')) ||
        a.localeCompare(b, 'en', { numeric: true }),
    )
  return heads.map((head) => ({ head, findings: found.get(head)! }))
})
</script>

<template>
  <div class="block">
    <h2>Check <WhatIs word="finding" /></h2>
    <NothingYet v-if="!project.build?.model" empty="There is nothing to check yet. Bring in a model first." />
    <p v-else-if="!project.upToDate" class="soft" data-test="check-waits">
      The plan has changed and is not built yet<template v-if="waiting.length"
        >: below is what was found before</template
      >.
    </p>
    <p v-else-if="worst" class="bad">{{ worst }} {{ worst === 1 ? 'thing' : 'things' }} must be fixed.</p>
    <p v-else class="good">Nothing must be fixed.</p>
    <p v-if="project.upToDate && project.build?.balance" class="soft">
      {{
        project.build.balance.relative_error <= 1e-6
          ? 'The volumes of the pieces add up to the model.'
          : 'The volumes of the pieces do not add up to the model.'
      }}
    </p>
    <div v-if="open.length" class="row">
      <span class="label">Sorted by</span>
      <select v-model="by" class="ruled" aria-label="Sorted by" data-test="sorted-by">
        <option value="severity">how bad</option>
        <option value="station">station</option>
        <option value="piece">piece</option>
        <option value="face">face</option>
      </select>
    </div>
    <ListSearch v-model="looked" :count="waiting.length" :shown="open.length" of="findings" />
  </div>
  <div v-for="g in groups" :key="g.head" class="block" data-test="finding-group">
    <h2>
      {{ g.head }} <small>{{ g.findings.length }}</small>
    </h2>
    <FindingList :findings="g.findings" />
  </div>
  <div v-if="accepted.length" class="block" data-test="accepted">
    <h2>
      Accepted <small>{{ accepted.length }}</small>
    </h2>
    <FindingList :findings="accepted" />
  </div>
</template>

<style scoped>
p {
  margin: 0 0 6px;
}
</style>
