/** The whole job planned at once: what came of it is shown at once, why only of the revision that planning made. */
import { VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import { defineComponent } from 'vue'
import { heardOf } from '@/api/jobs'
import { queries } from '@/api/queries'
import { useProject } from '@/stores/project'
import { useWholeJob } from '@/stores/wholeJob'
import { noEvents, serverOf, type Asked } from './server'

let revision = 1
let heard: Asked[]
const OVERVIEW = { stations: [], must_fix: 0, look_at: 2 }
const view = () => ({
  project_id: 'a', name: 'A', revision, label: '', created_at: '', undo: null, redo: null, live: 0,
  plan: { model: { file_name: 'a.stl' }, partings: [], joints: [] },
}) // prettier-ignore
const job = (state: string, result: string | null = null) =>
  ({ id: 'job 1', kind: 'plan-whole-job', subject: '', state, fraction: 0, phrase: '', message: 'It was stopped.', where: null, result, pieces: {} }) // prettier-ignore

async function opened() {
  let wholeJob!: ReturnType<typeof useWholeJob>
  const screen = defineComponent({
    setup() {
      wholeJob = useWholeJob()
      return () => null
    },
  })
  mount(screen, { global: { plugins: [[VueQueryPlugin, { queryClient: queries }]] } })
  await useProject().open('a')
  return wholeJob
}

beforeEach(() => {
  queries.clear()
  revision = 1
  setActivePinia(createPinia())
  noEvents()
  heard = serverOf({
    'GET /api/sizes': () => ({ json: {} }),
    'GET /api/printers': () => ({ json: [{ id: 'p' }] }),
    'GET /api/projects/a': () => ({ json: view() }),
    'GET /api/projects/a/build': () => ({ json: { revision, build: { model: null }, job: null } }),
    'POST /api/projects/a/plan-whole-job': () => ({ status: 202, json: job('queued') }),
    'POST /api/projects/a/undo': () => ({ json: ((revision = 1), view()) }),
    'GET /api/results/plan-whole-job/made': () => ({
      json: {
        label: 'Planned the whole job',
        changed: true,
        touches: {},
        reasons: ['why'],
        overview: OVERVIEW,
      },
    }),
  })
})

describe('planning the whole job', () => {
  it('asks for what was wished, and shows what came of it without asking again', async () => {
    const wholeJob = await opened()
    wholeJob.wish.prefer = 'sturdy'
    const planning = wholeJob.plan()
    await flushPromises()
    expect(wholeJob.planning).toBe(true)
    revision = 2
    heardOf(job('done', 'made') as never)
    await planning
    const sent = heard.find((h) => h.path.endsWith('plan-whole-job'))!.body as Record<string, unknown>
    expect([sent.base_revision, sent.wishes]).toEqual([1, { prefer: 'sturdy' }])
    expect([wholeJob.planning, wholeJob.view, wholeJob.old]).toEqual([false, OVERVIEW, false])
    expect(heard.some((h) => h.path.endsWith('/overview'))).toBe(false)
    expect(wholeJob.reasons).toEqual(['why'])
    await useProject().undo()
    expect(wholeJob.reasons).toEqual([])
  })

  it('leaves everything as it was when it is stopped', async () => {
    const wholeJob = await opened()
    const planning = wholeJob.plan()
    await flushPromises()
    heardOf(job('cancelled') as never)
    await planning
    expect([wholeJob.planning, wholeJob.view, wholeJob.reasons]).toEqual([false, null, []])
    expect(useProject().revision?.revision).toBe(1)
  })
})
