<script setup lang="ts">
/** Print log: batches sent out, every piece's life, what the log teaches, and the plan's revisions. */
import { onBeforeUnmount, onMounted, watch, type Component } from 'vue'
import { useBatching } from '@/stores/batching'
import { askEachRevision } from '@/stores/eachRevision'
import { usePrintLog, type LogPage } from '@/stores/printlog'
import { useProject } from '@/stores/project'
import { useWorkshop } from '@/stores/workshop'
import PageTabs from '@/ui/PageTabs.vue'
import LessonsPage from './LessonsPage.vue'
import PiecesPage from './PiecesPage.vue'
import PlanPage from './PlanPage.vue'
import PrintsPage from './PrintsPage.vue'
import SendPage from './SendPage.vue'
import StandingBlock from './StandingBlock.vue'

const project = useProject()
const batching = useBatching()
const log = usePrintLog()
const workshop = useWorkshop()
const PAGES: Record<LogPage, { name: string; page: Component }> = {
  send: { name: 'Send', page: SendPage },
  pieces: { name: 'Pieces', page: PiecesPage },
  prints: { name: 'Prints', page: PrintsPage },
  lessons: { name: 'Lessons', page: LessonsPage },
  plan: { name: 'Plan', page: PlanPage },
}
onMounted(() => workshop.load())
watch(
  () => [project.upToDate && project.revision?.revision, batching.layoutName] as const,
  () => {
    log.difference = null
    void log.load()
  },
  { immediate: true },
)
askEachRevision(
  () => batching.batches !== null && !batching.old,
  () => batching.busy,
  batching.lay,
)
onBeforeUnmount(() => (log.difference = null))
</script>

<template>
  <StandingBlock />
  <PageTabs
    :pages="PAGES"
    :at="log.page"
    :counts="{ send: log.standing?.again.length, prints: log.active.length, pieces: log.old.length }"
    label="Pages of the print log"
    @turn="log.page = $event"
  />
  <component :is="PAGES[log.page].page" v-if="log.log" />
</template>
