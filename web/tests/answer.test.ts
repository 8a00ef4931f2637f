/** Answers about the plan that is shown: kept by revision, old ones until there is a new one, stopped when unwanted. */
import { VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import { computed, defineComponent, ref } from 'vue'
import { heardOf } from '@/api/jobs'
import { queries } from '@/api/queries'
import { useAnswer, type Shown } from '@/api/useAnswer'
import { serverOf, type Asked } from './server'

const job = (id: string, state: string, result: string | null = null) =>
  ({ id, kind: 'batch', subject: '', state, fraction: 0.5, phrase: 'Laying', message: null, where: null, result, pieces: {} }) // prettier-ignore

let heard: Asked[]
let asked = 0
beforeEach(() => {
  queries.clear()
  asked = 0
  const answers = Object.fromEntries(
    ['batch-1', 'batch-2', 'batch-3'].map((name) => [
      `GET /api/results/batch/${name}`,
      () => ({ json: { made: name } }),
    ]),
  )
  heard = serverOf({
    ...answers,
    'POST /api/projects/a/batch': () => ({ status: 202, json: job(`job ${++asked}`, 'queued') }),
    'POST /api/projects/b/batch': () => ({ status: 202, json: job(`job ${++asked}`, 'queued') }),
    'DELETE /api/jobs/job%201': () => ({ json: {} }),
  })
})

function made() {
  const shown = ref<Shown | null>({ project: 'a', revision: 1 })
  let answer!: ReturnType<typeof useAnswer<'batch'>>
  const screen = mount(
    defineComponent({
      setup() {
        answer = useAnswer('batch', computed(() => shown.value)) // prettier-ignore
        return () => null
      },
    }),
    { global: { plugins: [[VueQueryPlugin, { queryClient: queries }]] } },
  )
  return { shown, answer, screen }
}
async function ends(id: string, state: string, result: string | null = null) {
  await flushPromises()
  heardOf(job(id, state, result) as never)
  await flushPromises()
}

describe('an answer', () => {
  it('is there once its job has ended, and told on the way', async () => {
    const { answer } = made()
    const asking = answer.ask()
    await flushPromises()
    expect([answer.busy.value, answer.outcome.value]).toEqual([true, null])
    await ends('job 1', 'running')
    expect(answer.told.value).toEqual({ phrase: 'Laying', fraction: 0.5 })
    await ends('job 1', 'done', 'batch-1')
    expect(await asking).toEqual({ name: 'batch-1', result: { made: 'batch-1' } })
    expect([answer.busy.value, answer.old.value]).toEqual([false, false])
  })

  it('of another revision is old until there is a new one; of another project it is none', async () => {
    const { answer, shown } = made()
    const first = answer.ask()
    await ends('job 1', 'done', 'batch-1')
    await first
    shown.value = { project: 'a', revision: 2 }
    await flushPromises()
    expect([answer.old.value, answer.outcome.value?.name]).toEqual([true, 'batch-1'])
    const second = answer.ask()
    await ends('job 2', 'done', 'batch-2')
    expect((await second)?.name).toBe('batch-2')
    expect(answer.old.value).toBe(false)
    shown.value = { project: 'b', revision: 2 }
    await flushPromises()
    expect([answer.old.value, answer.outcome.value]).toEqual([false, null])
  })

  it('that is wanted twice is asked once', async () => {
    const { answer } = made()
    const both = [answer.ask(), answer.ask()]
    await ends('job 1', 'done', 'batch-1')
    expect((await Promise.all(both)).map((o) => o?.name)).toEqual(['batch-1', 'batch-1'])
    expect(heard.filter((h) => h.method === 'POST')).toHaveLength(1)
  })

  it('that is stopped leaves its job and gives nothing', async () => {
    const { answer } = made()
    const asking = answer.ask()
    await flushPromises()
    await answer.stop()
    expect(await asking).toBeNull()
    expect(heard.at(-1)).toMatchObject({ method: 'DELETE', path: '/api/jobs/job%201' })
    expect(answer.busy.value).toBe(false)
  })

  it('that is refused is thrown', async () => {
    serverOf({
      'POST /api/projects/a/batch': () => ({ status: 422, json: { detail: 'No bed is large enough.' } }),
    })
    await expect(made().answer.ask()).rejects.toThrow('No bed is large enough.')
  })
})
