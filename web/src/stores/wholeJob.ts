/** The whole job: planned at once, and what is decided at each station of the revision that is shown. */
import { defineStore } from 'pinia'
import { computed, reactive, ref, shallowRef } from 'vue'
import type { Schemas } from '@/api/client'
import { queries } from '@/api/queries'
import { useAnswer } from '@/api/useAnswer'
import { useProject } from './project'

type Wish = Pick<Schemas['Wishes'], 'prefer'> & Pick<Schemas['OrientWish'], 'preset'>

export const useWholeJob = defineStore('wholeJob', () => {
  const project = useProject()
  const { outcome, old, busy, told, ask, stop } = useAnswer(
    'overview',
    computed(() => (project.begun ? project.shown : null)),
  )
  const view = computed(() => outcome.value?.result ?? null)
  const planning = ref(false)
  /** whether all parts of the project are planned, or the one worked on */
  const allParts = ref(true)
  const wish = reactive<Required<Wish>>({ prefer: 'fewest', preset: 'least support' })
  /** why the job became what it is, of the revision that planning made */
  const made = shallowRef<{ project: string; revision: number; reasons: string[] } | null>(null)
  const reasons = computed(() => {
    const [now, last] = [project.shown, made.value]
    return now && last?.project === now.project && last.revision === now.revision ? last.reasons : []
  })

  async function lookOver(): Promise<void> {
    try {
      await ask()
    } catch (error) {
      await project.refused(error)
    }
  }

  /** Plan the whole job; whether there was anything to change or not, the page has what came of it. */
  async function plan(): Promise<void> {
    if (planning.value) return
    planning.value = true
    try {
      const found = await project.command('plan-whole-job', {
        repair: true,
        divide: true,
        wishes: { prefer: wish.prefer } as Schemas['Wishes'],
        joints: { kind: 'auto' } as Schemas['SuitWish'],
        lay: { preset: wish.preset } as Schemas['OrientWish'],
        all_parts: allParts.value,
      })
      const now = project.shown
      if (!found || !now) return
      made.value = { ...now, reasons: found.reasons }
      queries.setQueryData(['overview', now.project, now.revision, null], {
        name: '',
        result: found.overview,
      })
    } finally {
      planning.value = false
    }
  }
  return { view, old, busy, told, stop, lookOver, planning, wish, allParts, plan, reasons }
})
