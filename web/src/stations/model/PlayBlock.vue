<script setup lang="ts">
/** The play between two instances: figures, and the faces of the first coloured by the gap before them. */
import { computed, nextTick, onBeforeUnmount, ref, shallowRef, useTemplateRef, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { useOperation } from '@/api/operations'
import { useParts } from '@/stores/parts'
import { useProject } from '@/stores/project'
import { useViewport } from '@/stores/viewport'
import { geometryOf } from '@/view3d/meshes'
import { intoView } from '@/view3d/parts'
import { vec } from '@/view3d/plane'
import { colourGaps, thicknessOf } from '@/view3d/walls'
import RuledNumber from '@/ui/RuledNumber.vue'
import { newStep } from './steps'

const project = useProject()
const parts = useParts()
const viewport = useViewport()
const asking = useOperation()
const told = useTemplateRef<HTMLDivElement>('told')
const first = ref(0)
const second = ref(1)
const within = ref<number | null>(2)
const found = shallowRef<Schemas['PlayView'] | null>(null)
const everyone = computed(() => parts.everyone)

watch(
  () => project.revision?.revision,
  () => {
    found.value = null
    viewport.play = null
  },
)
onBeforeUnmount(() => (viewport.play = null))

async function measure(): Promise<void> {
  const now = project.revision
  const [a, b] = [everyone.value[first.value], everyone.value[second.value]]
  if (!now || !a || !b || !within.value) return
  try {
    const { result } = await asking.ask('play', now.project_id, {
      first: a.part,
      first_instance: a.instance,
      second: b.part,
      second_instance: b.instance,
      within_mm: within.value,
    })
    if (project.revision?.revision !== now.revision) return
    if (result.least_mm !== null) {
      colourGaps(await geometryOf(result.mesh), await thicknessOf(result.mesh))
      viewport.play = result.mesh
    } else viewport.play = null
    found.value = result
    await nextTick()
    told.value?.scrollIntoView({ block: 'nearest' })
  } catch (error) {
    await project.refused(error)
  }
}
/** what runs into the open part can be seated in it */
const goesIn = computed(() => {
  const [a, b] = [everyone.value[first.value], everyone.value[second.value]]
  return found.value?.overlap_mm3 && a && b && a.part !== b.part
    ? { into: a.part, part: b.part, name: b.name }
    : null
})
const seated = computed(() =>
  project.plan?.prepare?.some((s) => s.kind === 'seat' && s.part === goesIn.value?.part),
)
async function seat(): Promise<void> {
  const wish = goesIn.value
  if (!wish) return
  await parts.work(wish.into)
  await project.edit(`Seated ${parts.parts.find((p) => p.id === wish.part)?.name ?? 'a part'}`, (plan) => {
    const step = { ...newStep('seat', plan, project.build), part: wish.part }
    plan.prepare = [...(plan.prepare ?? []), step] as typeof plan.prepare
  })
}
function fly(at: readonly number[] | null | undefined): void {
  if (!at || !project.build) return
  const [x, y, z] = vec(at).applyMatrix4(intoView(project.build)).toArray()
  viewport.flyTo = { at: [x, y, z], reach: 8 }
}
</script>

<template>
  <div class="block" data-test="play">
    <h2>Play between two</h2>
    <div class="row">
      <label for="first">Of</label>
      <select id="first" v-model="first" class="ruled" data-test="play-first">
        <option v-for="(one, k) in everyone" :key="k" :value="k">{{ one.name }}</option>
      </select>
    </div>
    <div class="row">
      <label for="second">To</label>
      <select id="second" v-model="second" class="ruled" data-test="play-second">
        <option v-for="(one, k) in everyone" :key="k" :value="k">{{ one.name }}</option>
      </select>
    </div>
    <div class="row">
      <span class="label">Look within</span>
      <RuledNumber v-model="within" label="Look within" :min="0.01" :max="50" />
    </div>
    <div class="chips more">
      <button
        v-if="!asking.busy.value"
        class="chip"
        data-test="measure-play"
        :disabled="first === second"
        @click="measure"
      >
        Measure the play
      </button>
      <button v-else class="chip" @click="asking.stop()">
        Stop: {{ asking.told.value.phrase || 'measuring' }}
      </button>
      <button v-if="viewport.play" class="chip" data-test="play-off" @click="viewport.play = null">
        Take the colours off
      </button>
    </div>
    <div v-if="found" ref="told">
      <p :class="found.overlap_mm3 ? 'bad' : 'soft'" aria-live="polite" data-test="play-says">
        {{ found.says }}
      </p>
      <div class="chips">
        <button v-if="found.least_at_mm && !found.overlap_mm3" class="chip" @click="fly(found.least_at_mm)">
          Where it is least
        </button>
        <button v-if="found.greatest_at_mm" class="chip" @click="fly(found.greatest_at_mm)">
          Where it is greatest
        </button>
        <button v-if="goesIn && !seated" class="chip" data-test="seat-it" @click="seat">
          Seat it: cut its place
        </button>
        <button v-if="found.overlap_at_mm" class="chip" @click="fly(found.overlap_at_mm)">
          Where they meet
        </button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.more {
  margin-top: 8px;
}
p {
  margin: 8px 0;
}
</style>
