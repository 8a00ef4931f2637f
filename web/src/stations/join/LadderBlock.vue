<script setup lang="ts">
/** A fit ladder of the joint: which clearances it tries, what it takes to print, and its files. */
import { fixed } from '@/api/format'
import { computed, ref } from 'vue'
import { api, type Joint, type Plan } from '@/api/client'
import { useLadder } from '@/api/useLadder'
import { useProject } from '@/stores/project'
import RuledNumber from '@/ui/RuledNumber.vue'

const props = defineProps<{ joint: Joint }>()
const project = useProject()
/** what takes something bought is one plate of holes, and they may be smaller than the thing */
const holes = computed(() => ['magnet', 'screw'].includes(props.joint.kind))
const low = ref(holes.value ? -0.1 : 0.05)
const high = ref(holes.value ? 0.2 : 0.3)
const rungs = ref(6)
const { busy, name, made, make: makeOf } = useLadder()

/** the ladder of this joint that is printed along with the pieces */
const along = computed(() => project.plan?.batching?.ladders?.find((l) => l.joint === props.joint.id) ?? null)
function printAlong(): void {
  const other = (project.plan?.batching?.ladders ?? []).filter((l) => l.joint !== props.joint.id)
  const own = { joint: props.joint.id, from_mm: low.value, to_mm: high.value, rungs: rungs.value }
  const ladders = along.value ? other : [...other, own]
  void project.edit(`Fit ladder ${along.value ? 'not ' : ''}printed along`, (plan) => {
    plan.batching = { ...plan.batching, ladders } as Plan['batching']
  })
}
function make(): void {
  const id = project.revision?.project_id
  if (!id) return
  void makeOf(() =>
    api.POST('/api/projects/{project_id}/ladder', {
      params: { path: { project_id: id } },
      body: { joint: props.joint.id, from_mm: low.value, to_mm: high.value, rungs: rungs.value },
    }),
  )
}
</script>

<template>
  <div class="ladder" data-test="ladder">
    <p class="soft small">
      {{
        holes
          ? 'A plate of holes at stepped clearances, to find out which lets the real thing in.'
          : 'Small pieces of this joint at stepped clearances, to be printed before the real thing.'
      }}
      What each rung was like is answered in the Workshop.
    </p>
    <div class="row">
      <span class="label">From, to</span>
      <span class="pair">
        <RuledNumber
          v-model="low"
          label="Smallest clearance, each side"
          unit="mm"
          :digits="2"
          :step="0.05"
          :min="holes ? -0.5 : 0"
          :max="2"
          data-test="ladder-from"
        />
        <RuledNumber
          v-model="high"
          label="Largest clearance, each side"
          unit="mm"
          :digits="2"
          :step="0.05"
          :min="0"
          :max="2"
          data-test="ladder-to"
        />
      </span>
    </div>
    <div class="row">
      <span class="label">Rungs</span>
      <RuledNumber
        v-model="rungs"
        label="Rungs"
        unit=""
        :digits="0"
        :step="1"
        :min="3"
        :max="9"
        data-test="ladder-rungs"
      />
    </div>
    <div class="chips">
      <button class="chip" :disabled="busy" data-test="ladder-make" @click="make">Make the ladder</button>
      <button class="chip" :aria-pressed="along !== null" data-test="ladder-along" @click="printAlong">
        Print it with the batches
      </button>
    </div>
    <p v-if="made" class="small" data-test="ladder-made">
      {{ made.pieces.length }} {{ made.pieces.length === 1 ? 'piece' : 'pieces' }}, about
      {{ fixed(made.mass_g, 0) }} g and {{ made.minutes }} min, an estimate:
      {{ made.clearances_mm.join(', ') }} mm each side.
      <a :href="`/api/ladders/${name}/3mf`" download data-test="ladder-3mf">3MF</a>,
      <a :href="`/api/ladders/${name}/stl`" download>STL</a>
    </p>
  </div>
</template>

<style scoped>
.ladder {
  border-left: 3px solid var(--line);
  padding-left: 10px;
  margin-top: 8px;
}
.small {
  font-size: 12px;
  margin: 4px 0 6px;
}
a {
  color: var(--indigo);
}
.pair {
  display: grid;
  grid-template-columns: 80px 80px;
  gap: 10px;
}
</style>
