<script setup lang="ts">
/** The frame around every station: top line, folding rule, worksheet, view, cut list, title block. */
import { computed, defineAsyncComponent, onBeforeUnmount, watch, type Component } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { stationName, type StationId } from '@/router'
import FaceSheet from '@/sheet/FaceSheet.vue'
import { useAssembly } from '@/stores/assembly'
import { useDividing } from '@/stores/dividing'
import { useLookAnew } from '@/stores/lookAnew'
import { useTools } from '@/stores/tools'
import { useViewport } from '@/stores/viewport'
import { useProject } from '@/stores/project'
import CutList from '@/ui/CutList.vue'
import FoldingRule from '@/ui/FoldingRule.vue'
import HelpDialog from '@/ui/HelpDialog.vue'
import PartLine from '@/ui/PartLine.vue'
import TitleBlock from '@/ui/TitleBlock.vue'
import TopLine from '@/ui/TopLine.vue'
import { useLiveSection } from '@/view3d/useLiveSection'
import View3D from '@/view3d/View3D.vue'
import { useBatching } from '@/stores/batching'
import { seenState } from '@/api/states'
import { usePrintLog } from '@/stores/printlog'
import { useWholeJob } from '@/stores/wholeJob'
import TouchDialog from '@/ui/TouchDialog.vue'
import { batchBodies } from '@/view3d/bodies'
import BedSheet from './batch/BedSheet.vue'
import EstimateSheet from './batch/EstimateSheet.vue'
import BoardSheet from './printlog/BoardSheet.vue'
import StateLegend from './printlog/StateLegend.vue'
import StationEnd from './StationEnd.vue'
import GuideSlip from './GuideSlip.vue'
import LastPicture from './LastPicture.vue'
import { movedBy } from './divide/partings'
import SmallScreenBar from './SmallScreenBar.vue'
import { useKeys } from './useKeys'
import { useSmallScreen } from './useSmallScreen'
import { useTypedNames } from '@/words/typedNames'

const route = useRoute()
const router = useRouter()
const project = useProject()
const viewport = useViewport()
const anew = useLookAnew()
const dividing = useDividing()
const tools = useTools()
const station = computed(() => String(route.params['station']) as StationId)
const WORKSHEETS: Record<StationId, Component> = {
  model: defineAsyncComponent(() => import('./model/ModelStation.vue')),
  'whole-job': defineAsyncComponent(() => import('./wholeJob/WholeJobStation.vue')),
  divide: defineAsyncComponent(() => import('./divide/DivideStation.vue')),
  join: defineAsyncComponent(() => import('./join/JoinStation.vue')),
  check: defineAsyncComponent(() => import('./check/CheckStation.vue')),
  orient: defineAsyncComponent(() => import('./orient/OrientStation.vue')),
  batch: defineAsyncComponent(() => import('./batch/BatchStation.vue')),
  assemble: defineAsyncComponent(() => import('./assemble/AssembleStation.vue')),
  log: defineAsyncComponent(() => import('./printlog/LogStation.vue')),
}

useTypedNames(() => [project.plan, project.revision])
const batching = useBatching()
const assembly = useAssembly()
const printLog = usePrintLog()
const wholeJob = useWholeJob()
const LessonSheet = defineAsyncComponent(() => import('./printlog/LessonSheet.vue'))
watch(
  () => [printLog.rows, printLog.difference] as const,
  ([rows, difference]) => {
    viewport.states = new Map(rows.flatMap((r) => (r.number ? [[r.number, seenState(r)] as const] : [])))
    viewport.differs = difference && {
      number: difference.item.number ?? 0,
      more: difference.found.more_mesh ?? null,
      less: difference.found.less_mesh ?? null,
    }
    const at = difference?.found.at_mm
    if (at) viewport.flyTo = { at, reach: Math.max(6, difference.found.reach_mm ?? 0) }
  },
)
watch(
  () => [batching.inSpace, batching.batches, batching.chosen] as const,
  ([number, batches, chosen]) => {
    const batch = batches?.batches.find((b) => b.number === number)
    viewport.onBatch = batch
      ? {
          bodies: batchBodies(batch.things, chosen),
          room: [batch.bed_mm[0], batch.bed_mm[1], batch.room_height_mm],
        }
      : null
  },
)

useLiveSection()

watch(
  () => String(route.params['id']),
  async (id) => {
    anew.forget()
    try {
      await project.open(id)
    } catch (error) {
      await project.refused(error)
      await router.push('/')
    }
  },
  { immediate: true },
)
watch(station, () => {
  dividing.draft = null
  viewport.marks = []
  viewport.cutPlane = viewport.only = null
  tools.stop()
})
watch(
  () => project.plan,
  () => (dividing.draft = null),
)
onBeforeUnmount(() => project.close())

function planeMoved(id: string, moved: number): void {
  void project
    .edit(`Moved ${id.toUpperCase()}`, (plan) => {
      plan.partings = plan.partings?.map((p) => (p.id === id ? movedBy(p, moved) : p))
    })
    .then((kept) => {
      if (!kept) dividing.draft = null
    })
}

const helpOpen = useKeys()
const small = useSmallScreen(station)

/** the page of the whole job tells itself how far it is */
const toldInSheet = computed(() => station.value === 'whole-job' && wholeJob.planning)
const stale = computed(() => project.build !== null && !project.upToDate)
</script>

<template>
  <div
    class="bench"
    :class="{
      joining: station === 'join',
      folded: !viewport.cutListOpen,
      assembling: station === 'assemble',
    }"
    :data-sheet="viewport.sheet"
  >
    <TopLine class="a-top" @help="helpOpen = true" />
    <FoldingRule class="a-rule" :station="station" />
    <section class="a-sheet worksheet" :aria-label="`${stationName(station)} worksheet`">
      <PartLine />
      <component :is="WORKSHEETS[station]" v-if="project.revision" />
      <StationEnd v-if="project.revision" :station="station" />
    </section>
    <FaceSheet v-if="station === 'join'" class="a-face" />
    <View3D class="a-view" :station="station" @plane-moved="planeMoved">
      <template v-if="station === 'batch' && !batching.inSpace">
        <EstimateSheet v-if="batching.page === 'estimates'" />
        <BedSheet v-else />
      </template>
      <template v-if="station === 'log'">
        <LessonSheet v-if="printLog.page === 'lessons'" />
        <BoardSheet v-else-if="printLog.board" />
        <StateLegend v-else />
      </template>
      <iframe
        v-if="station === 'assemble' && assembly.page === 'sheets' && assembly.sheets"
        class="pages-seen"
        title="The assembly sheets"
        :src="assembly.sheetUrl('html')!"
        data-test="sheets-seen"
      ></iframe>
      <button
        v-if="station === 'batch' && batching.inSpace"
        class="chip flat"
        data-test="from-above"
        @click="batching.inSpace = null"
      >
        Beds from above
      </button>
      <div v-if="project.job && !toldInSheet" class="job" role="status" data-test="job">
        <span class="phrase">{{ project.job.phrase }}</span>
        <v-progress-linear
          :aria-label="project.job.phrase || 'Waiting …'"
          :model-value="project.job.fraction * 100"
          color="primary"
          height="4"
        />
        <button class="chip" @click="project.stop()">Stop</button>
      </div>
      <div v-else-if="project.exporting" class="job" role="status" data-test="exporting">
        <span class="phrase">{{ project.exporting.phrase }}</span>
        <v-progress-linear
          :aria-label="project.exporting.phrase || 'Waiting …'"
          :model-value="project.exporting.fraction * 100"
          color="primary"
          height="4"
        />
        <button class="chip" @click="project.stopExport()">Stop</button>
      </div>
      <div v-else-if="project.failure" class="job failed" role="alert">
        <span class="phrase">{{ project.failure }}</span>
        <button class="chip" @click="project.again()">Try again</button>
      </div>
      <div v-else-if="stale || (project.onItsWay && !project.build)" class="job" role="status">
        <span class="phrase">{{ project.revision ? 'Waiting …' : 'Opening …' }}</span>
      </div>
      <LastPicture v-if="project.revision && !project.build" :project="project.revision.project_id" />
      <p v-if="project.build?.state === 'empty' && !project.begun && station !== 'model'" class="hint">
        Bring in a model at
        <router-link :to="`/projects/${project.revision?.project_id}/model`">Model</router-link>
        first.
      </p>
      <button
        v-if="station !== 'join' && !viewport.cutListOpen && !small"
        class="chip unfold"
        @click="viewport.cutListOpen = true"
      >
        ‹ Cut list
      </button>
    </View3D>
    <CutList v-if="station !== 'join' && (viewport.cutListOpen || small)" class="a-cuts" />
    <TitleBlock class="a-title" :station="station" />
    <SmallScreenBar v-if="small && station !== 'assemble'" class="a-keys" :station="station" />
    <TouchDialog />
    <HelpDialog v-model="helpOpen" />
    <GuideSlip />
  </div>
</template>

<style scoped>
.bench {
  height: 100vh;
  display: grid;
  grid-template:
    'top top top' 46px
    'rule rule rule' 38px
    'sheet view cuts' minmax(0, 1fr)
    'title title title' 46px / 316px minmax(0, 1fr) 272px;
}
.bench.folded {
  grid-template-columns: 316px minmax(0, 1fr) 0;
}
.bench.joining {
  grid-template:
    'top top top' 46px
    'rule rule rule' 38px
    'sheet face view' minmax(0, 1fr)
    'title title title' 46px / 316px minmax(0, 1fr) minmax(240px, 24%);
}
.a-top {
  grid-area: top;
}
.a-rule {
  grid-area: rule;
}
.a-sheet {
  grid-area: sheet;
}
.a-face {
  grid-area: face;
}
.a-view {
  grid-area: view;
}
.a-cuts {
  grid-area: cuts;
}
.a-title {
  grid-area: title;
}
.a-keys {
  grid-area: keys;
}
@media (max-width: 1100px) {
  .bench {
    grid-template-columns: 280px minmax(0, 1fr) 220px;
  }
  .bench.joining {
    grid-template-columns: 280px minmax(0, 1fr) minmax(220px, 24%);
  }
}
/* a small screen, or a large one at 200 %: one sheet at a time; the same width as in useSmallScreen */
@media (max-width: 720px) {
  .bench,
  .bench.folded,
  .bench.joining {
    grid-template:
      'top' 48px
      'rule' 46px
      'sheet' minmax(0, 1fr)
      'keys' 52px / minmax(0, 1fr);
  }
  .a-sheet,
  .a-view,
  .a-cuts,
  .a-face {
    grid-area: sheet;
  }
  .bench:not([data-sheet='work'], .assembling) > .a-sheet,
  .bench:not([data-sheet='view'], .assembling) > .a-view,
  .bench:not([data-sheet='cuts']) > .a-cuts,
  .bench:not([data-sheet='face']) > .a-face {
    visibility: hidden;
  }
  .a-title,
  .bench.assembling > .a-cuts {
    display: none;
  }
  /* at the bench both are wanted: the view above, the steps below */
  .bench.assembling {
    grid-template:
      'top' 48px
      'rule' 46px
      'view' 38vh
      'sheet' minmax(0, 1fr) / minmax(0, 1fr);
  }
  .bench.assembling > .a-view {
    grid-area: view;
  }
}
/* or beside each other, on one that is held across */
@media (max-width: 720px) and (max-height: 500px) {
  .bench.assembling {
    grid-template:
      'top top' 48px
      'rule rule' 46px
      'view sheet' minmax(0, 1fr) / minmax(0, 1fr) minmax(0, 1fr);
  }
}
.pages-seen {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  border: 0;
  background: var(--drawing);
}
.worksheet {
  background: var(--sheet);
  border-right: 1px solid var(--line);
  overflow: auto;
}
.job {
  position: absolute;
  top: 10px;
  right: 12px;
  width: 250px;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  padding: 7px 10px;
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 4px 10px;
  align-items: center;
  font-size: 12px;
}
.job .phrase {
  grid-column: 1;
}
.job :deep(.v-progress-linear) {
  grid-column: 1;
}
.job .chip {
  grid-column: 2;
  grid-row: 1 / span 2;
}
.job.failed {
  border-color: var(--vermilion);
  color: var(--vermilion);
}
.flat {
  position: absolute;
  right: 12px;
  top: 10px;
}
.hint {
  position: absolute;
  inset: 45% 0 auto;
  text-align: center;
  color: var(--ink-soft);
}
.hint a {
  color: var(--cedar);
}
.unfold {
  position: absolute;
  right: 12px;
  bottom: 12px;
}
</style>
