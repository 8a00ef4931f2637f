<script setup lang="ts">
/** Divide: does it fit, and four pages: the partings, the marks, the proposals, the variants. */
import { computed, onBeforeUnmount, type Component } from 'vue'
import { useDividing, type DividePage } from '@/stores/dividing'
import { useTools } from '@/stores/tools'
import { useProject } from '@/stores/project'
import FindingList from '@/ui/FindingList.vue'
import PageTabs from '@/ui/PageTabs.vue'
import FitTable from '../model/FitTable.vue'
import MarksPage from './MarksPage.vue'
import PartingsPage from './PartingsPage.vue'
import ProposePage from './ProposePage.vue'
import VariantsPage from './VariantsPage.vue'
import WhatIs from '@/ui/WhatIs.vue'

const project = useProject()
const tools = useTools()
const dividing = useDividing()
const PAGES: Record<DividePage, { name: string; page: Component }> = {
  partings: { name: 'Partings', page: PartingsPage },
  marks: { name: 'Marks', page: MarksPage },
  propose: { name: 'Propose', page: ProposePage },
  variants: { name: 'Variants', page: VariantsPage },
}
const counts = computed<Record<DividePage, number>>(() => ({
  partings: project.plan?.partings?.length ?? 0,
  marks: project.plan?.marks?.length ?? 0,
  propose: 0,
  variants: project.plan?.variants?.length ?? 0,
}))
const own = computed(() => project.findings.filter((f) => f.station === 'divide'))
const findings = computed(() => [
  ...own.value.filter((f) => f.severity !== 'note'),
  ...own.value.filter((f) => f.severity === 'note'),
])
function turnTo(page: DividePage): void {
  tools.stop()
  dividing.page = page
}
onBeforeUnmount(() => {
  tools.stop()
  dividing.shape = null
})
</script>

<template>
  <div class="block">
    <h2>Does it fit? <WhatIs word="parting" /></h2>
    <FitTable />
  </div>
  <PageTabs :pages="PAGES" :at="dividing.page" label="Pages of Divide" :counts="counts" @turn="turnTo" />
  <component :is="PAGES[dividing.page].page" />
  <div v-if="findings.length" class="block">
    <FindingList :findings="findings" />
  </div>
</template>
