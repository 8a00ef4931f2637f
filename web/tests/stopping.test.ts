/** Stopping what was asked: also before the server has said under which name it works at it. */
import { createPinia, setActivePinia } from 'pinia'
import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import { useProject } from '@/stores/project'
import { noEvents, serverOf, type Asked } from './server'

let heard: Asked[]
let state = 'running'
const view = {
  project_id: 'a',
  name: 'A',
  revision: 1,
  label: '',
  created_at: '',
  undo: null,
  redo: null,
  live: 0,
}
const job = () => ({
  id: 'j',
  kind: 'plan-whole-job',
  state,
  phrase: '',
  fraction: 0,
  message: null,
  result: null,
})

beforeEach(async () => {
  state = 'running'
  setActivePinia(createPinia())
  noEvents()
  heard = serverOf({
    'GET /api/sizes': () => ({ json: {} }),
    'GET /api/printers': () => ({ json: [{ id: 'p' }] }),
    'GET /api/projects/a': () => ({ json: { ...view, plan: { partings: [], joints: [] } } }),
    'GET /api/projects/a/build': () => ({ json: { revision: 1, build: { model: null }, job: null } }),
    'POST /api/projects/a/plan-whole-job': () => ({ json: job() }),
    'DELETE /api/jobs/j': () => {
      state = 'cancelled'
      return { json: job() }
    },
    'GET /api/jobs/j': () => ({ json: job() }),
  })
  await useProject().open('a')
})

describe('a command', () => {
  it('that is stopped while it is sent is stopped as soon as the server has named it', async () => {
    let sent: () => void = () => undefined
    const slow = new Promise<void>((done) => (sent = done))
    const answers = {
      'POST /api/projects/a/plan-whole-job': async () => (await slow, { json: job() }),
      'DELETE /api/jobs/j': () => {
        state = 'cancelled'
        return { json: job() }
      },
      'GET /api/jobs/j': () => ({ json: job() }),
    }
    heard = serverOf(answers)
    const project = useProject()
    const asked = project.command('plan-whole-job', {} as never)
    await flushPromises()
    await project.stopCommand()
    expect(heard.map((one) => one.method)).toEqual(['POST'])
    sent()
    expect(await asked).toBeNull()
    expect(heard.map((one) => `${one.method} ${one.path}`)).toContain('DELETE /api/jobs/j')
    expect(project.message).toBe('Stopped; nothing was changed.')
  }, 10_000)

  it('that is stopped while it waits is never sent', async () => {
    const project = useProject()
    const asked = project.command('plan-whole-job', {} as never)
    await project.stopCommand()
    expect(await asked).toBeNull()
    expect(heard.filter((one) => one.method === 'POST')).toEqual([])
    expect(project.message).toBe('Stopped; nothing was changed.')
  })
})
