<script setup lang="ts">
/** Whole job: all of it planned at once, and what is decided at each station, with what to look at there. */
import { computed } from 'vue'
import { stationName } from '@/router'
import { PREFER } from '@/stations/divide/preferences'
import { PRESETS } from '@/stations/orient/useOrienting'
import { askEachRevision } from '@/stores/eachRevision'
import { useParts } from '@/stores/parts'
import { useWholeJob } from '@/stores/wholeJob'
import { useProject } from '@/stores/project'
import AskedBar from '@/ui/AskedBar.vue'
import FindingList from '@/ui/FindingList.vue'
import NothingYet from '@/ui/NothingYet.vue'

const SHOWN = 3
const project = useProject()
const wholeJob = useWholeJob()
const parts = useParts()
const divided = computed(() => (project.plan?.partings?.length ?? 0) > 0)
const current = computed(() => (wholeJob.old ? null : wholeJob.view))
const under = computed(() => {
  const told = project.job
  return { phrase: told?.phrase ?? 'Waiting …', fraction: told?.fraction ?? 0 }
})

askEachRevision(
  () => wholeJob.view !== null && !wholeJob.old,
  () => wholeJob.busy || wholeJob.planning,
  wholeJob.lookOver,
)
</script>

<template>
  <div class="block">
    <h2>The whole job</h2>
    <p class="soft">
      Made right where it is not, divided for {{ project.printer?.name ?? 'the printer' }}, joined, laid, put
      on beds and brought into an order, all at once.
      <span v-if="divided">The division there is now is kept as a variant.</span>
    </p>
    <div class="row">
      <label for="job-prefer">Division</label>
      <select id="job-prefer" v-model="wholeJob.wish.prefer" class="ruled" data-test="job-prefer">
        <option v-for="p in PREFER" :key="p.prefer" :value="p.prefer">{{ p.name }}</option>
      </select>
    </div>
    <div class="row">
      <label for="job-lay">Laid for</label>
      <select id="job-lay" v-model="wholeJob.wish.preset" class="ruled" data-test="job-lay">
        <option v-for="name in PRESETS" :key="name" :value="name">{{ name }}</option>
      </select>
    </div>
    <div v-if="parts.parts.length > 1" class="row">
      <label for="job-all">All parts</label>
      <span><input id="job-all" v-model="wholeJob.allParts" type="checkbox" data-test="job-all" /></span>
    </div>
    <AskedBar v-if="wholeJob.planning" :told="under" test="planning-job" @stop="project.stopCommand()" />
    <button
      v-else
      class="wide"
      data-test="plan-whole-job"
      :disabled="!project.begun"
      @click="wholeJob.plan()"
    >
      {{ divided ? 'Plan the whole job anew' : 'Plan the whole job' }}
    </button>
    <NothingYet v-if="!project.begun" empty="There is nothing to plan yet. Bring in a model first." />
  </div>
  <AskedBar
    v-if="wholeJob.busy && !wholeJob.planning"
    class="block"
    :told="wholeJob.told"
    test="overview-job"
    @stop="wholeJob.stop()"
  />
  <template v-if="current">
    <div class="block" data-test="job-verdict">
      <p v-if="current.must_fix" class="bad">
        {{ current.must_fix }} {{ current.must_fix === 1 ? 'thing' : 'things' }} must be fixed.
      </p>
      <p v-else class="good">Nothing must be fixed.</p>
      <p v-if="current.look_at" class="look">
        {{ current.look_at }} {{ current.look_at === 1 ? 'thing' : 'things' }} to look at.
      </p>
      <ul v-if="wholeJob.reasons.length" class="why" data-test="job-reasons">
        <li v-for="reason in wholeJob.reasons" :key="reason">{{ reason }}</li>
      </ul>
    </div>
    <section
      v-for="s in current.stations.filter((one) => one.lines.length || one.findings.length)"
      :key="s.station"
      class="block"
      :data-test="`job-${s.station}`"
    >
      <h2>
        {{ stationName(s.station) }}
        <router-link class="change" :to="`/projects/${project.revision?.project_id}/${s.station}`">
          Change it
        </router-link>
      </h2>
      <p v-for="line in s.lines" :key="line.says" :data-code="line.code">{{ line.says }}</p>
      <FindingList v-if="s.findings.length" :findings="s.findings.slice(0, SHOWN)" />
      <p v-if="s.findings.length > SHOWN" class="soft">
        {{ s.findings.length - SHOWN }} more at
        <router-link :to="`/projects/${project.revision?.project_id}/check`">Check</router-link>.
      </p>
    </section>
  </template>
</template>

<style scoped>
p {
  margin: 0 0 5px;
}
a {
  color: var(--cedar);
}
.change {
  margin-left: auto;
  font-size: 12.5px;
  font-weight: 400;
}
h2 {
  display: flex;
  align-items: baseline;
}
.why {
  margin: 6px 0 0;
  padding-left: 16px;
  font-size: 12.5px;
  color: var(--ink-soft);
}
.wide {
  margin-top: 8px;
}
</style>
