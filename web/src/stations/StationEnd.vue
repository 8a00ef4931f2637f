<script setup lang="ts">
/** The end of every worksheet: what is left to do at this station, and the way to the next. */
import { computed } from 'vue'
import { STATIONS, type StationId } from '@/router'
import { useAssembly } from '@/stores/assembly'
import { useBatching } from '@/stores/batching'
import { useProject } from '@/stores/project'

const props = defineProps<{ station: StationId }>()
const project = useProject()
const assembly = useAssembly()
const batching = useBatching()
const left = computed(() =>
  props.station === 'assemble' ? assembly.waiting : project.waiting(props.station),
)
const next = computed(() => STATIONS[STATIONS.findIndex((s) => s.id === props.station) + 1])
const to = (station: StationId) => `/projects/${project.revision?.project_id}/${station}`
/** where findings of all stations stand already, or there are none, or nobody has asked for what they are of */
const silent = computed(
  () =>
    ['check', 'whole-job', 'log'].includes(props.station) ||
    (props.station === 'assemble' && (!assembly.view || assembly.old)) ||
    (props.station === 'batch' && (!batching.batches || batching.old)),
)
</script>

<template>
  <footer v-if="project.begun" class="block end" data-test="station-end">
    <template v-if="!silent && project.build?.model">
      <!-- as high as what will stand here, so that the way on stays where a maker is about to press it -->
      <p v-if="!project.upToDate" class="soft">What is left to do is not known yet.</p>
      <p v-else-if="left.length" class="look">
        {{ left.length }} {{ left.length === 1 ? 'thing is' : 'things are' }} left to look at here<template
          v-if="station !== 'assemble'"
          >; <router-link :to="to('check')">Check</router-link> tells them</template
        >.
      </p>
      <p v-else class="good">Nothing is left to do here.</p>
    </template>
    <router-link v-if="next" class="wide" :to="to(next.id)" data-test="next-station">
      Next: {{ next.name }}
    </router-link>
  </footer>
</template>

<style scoped>
.end {
  border-bottom: 0;
}
.end .wide {
  text-align: center;
  text-decoration: none;
}
</style>
