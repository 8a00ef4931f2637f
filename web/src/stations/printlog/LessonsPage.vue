<script setup lang="ts">
/** What the log teaches: factors of estimates, causes of failure with what may help, and fits from real pieces. */
import { fixed } from '@/api/format'
import { computed } from 'vue'
import type { Plan, Schemas } from '@/api/client'
import { useBatching } from '@/stores/batching'
import { usePrintLog } from '@/stores/printlog'
import { useProject } from '@/stores/project'
import { useWorkshop } from '@/stores/workshop'
import { useRouter } from 'vue-router'

const log = usePrintLog()
const project = useProject()
const batching = useBatching()
const workshop = useWorkshop()
const router = useRouter()
const learned = computed(() => log.log?.learned)
const percent = (share: number) => `${Math.round(100 * share)} %`
const BRIM_MM = 5

type Remedy = Schemas['RemedyView']
const DO: Partial<Record<Remedy['do'], string>> = {
  brim: `A brim of ${BRIM_MM} mm`,
  spare: 'One more of each',
  rest: 'To Orient',
  fit: 'To Pieces',
}
async function act(remedy: Remedy): Promise<void> {
  if (remedy.do === 'brim')
    await project.edit('A brim against coming loose', (plan: Plan) => {
      plan.printing = { ...plan.printing, brim_mm: BRIM_MM } as Plan['printing']
    })
  if (remedy.do === 'spare') {
    const copies = { ...batching.wish?.copies }
    for (const key of remedy.keys ?? []) copies[key] = (copies[key] ?? 1) + 1
    await batching.edit('One more of what comes loose', { copies })
  }
  if (remedy.do === 'rest') await router.push(`/projects/${project.revision!.project_id}/orient`)
  if (remedy.do === 'fit') log.page = 'pieces'
}
const done = (remedy: Remedy): boolean =>
  remedy.do === 'brim' && (project.plan?.printing?.brim_mm ?? 0) >= BRIM_MM

/** Take a fit that real pieces taught over into the workshop and into this plan. */
async function takeFit(lesson: Schemas['FitLesson']): Promise<void> {
  try {
    await workshop.keepFit(
      lesson.printer_id,
      lesson.material_id,
      lesson.fit,
      lesson.better_mm,
      lesson.why,
      'pieces',
    )
    await project.edit(`${lesson.fit} fit from real pieces`, (plan: Plan) => {
      const value = { [lesson.fit]: lesson.better_mm }
      if (lesson.printer_id === plan.printer?.id) plan.fits = { ...plan.fits, ...value } as Plan['fits']
      else
        plan.more_fits = {
          ...plan.more_fits,
          [lesson.printer_id]: { ...plan.more_fits?.[lesson.printer_id], ...value },
        } as Plan['more_fits']
    })
  } catch (error) {
    await project.refused(error)
  }
  await log.load()
}
</script>

<template>
  <div class="block" data-test="factors">
    <h2>Estimates <small>measured by estimated</small></h2>
    <p v-for="f in learned?.factors" :key="`${f.printer_id} ${f.material_id}`" class="small">
      <b>{{ f.printer }}, {{ f.material }}</b
      ><br />{{ f.says }}
    </p>
    <p v-if="!learned?.factors.length" class="soft small">
      Nothing yet. Once a print has ended, the next estimate is corrected by what it took, and says so.
    </p>
  </div>
  <div class="block" data-test="causes">
    <h2>
      Failures <small>{{ learned?.failed ?? 0 }} of {{ learned?.made ?? 0 }} judged</small>
    </h2>
    <p v-for="c in learned?.causes" :key="c.reason" class="small">
      <b>{{ c.reason }}</b> {{ c.failed }} of {{ c.of }} ({{ percent(c.rate) }}; may be up to
      {{ percent(c.at_most) }})
    </p>
    <div v-for="(r, k) in learned?.remedies" :key="k" class="remedy" data-test="remedy">
      <p class="small">{{ r.says }}</p>
      <button v-if="DO[r.do]" class="chip" :disabled="done(r)" @click="act(r)">
        {{ done(r) ? 'done' : DO[r.do] }}
      </button>
    </div>
    <p v-if="!learned?.causes.length" class="soft small">None so far.</p>
  </div>
  <div class="block" data-test="fit-lessons">
    <h2>
      Fits
      <small
        >{{ log.log?.answers.length }} {{ log.log?.answers.length === 1 ? 'joint' : 'joints' }} tried</small
      >
    </h2>
    <div v-for="l in log.log?.lessons" :key="`${l.printer_id} ${l.material_id} ${l.fit}`" class="remedy">
      <p class="small">
        <b>{{ l.fit }}</b> {{ fixed(l.now_mm, 2) }} → {{ fixed(l.better_mm, 2) }} mm each side: {{ l.why }}.
      </p>
      <button class="chip" data-test="take-fit" @click="takeFit(l)">
        Take {{ fixed(l.better_mm, 2) }} mm
      </button>
    </div>
    <p v-for="a in log.log?.answers" :key="a.id" class="soft small">
      {{ a.joint }} at {{ fixed(a.clearance_mm, 2) }} mm:
      {{ a.answer === 'no' ? 'did not go in' : a.answer }}
    </p>
    <p v-if="!log.log?.answers.length" class="soft small">
      Say of a printed piece, on the page Pieces, how its joints went together.
    </p>
  </div>
</template>

<style scoped>
p {
  margin: 0 0 5px;
}
.remedy {
  border-left: 3px solid var(--ochre);
  padding-left: 8px;
  margin: 6px 0;
}
</style>
