/** The open project: edits go out one after the other, each on what the one before left; what is refused is told. */
import { createPinia, setActivePinia } from 'pinia'
import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import { useProject } from '@/stores/project'
import { noEvents, serverOf, type Asked } from './server'

let revision = 1
let least = 1
let heard: Asked[]
const view = () => ({
  project_id: 'a', name: 'A', revision, label: '', created_at: '', undo: null, redo: null, live: 0,
  plan: { least_wall_mm: least, partings: [], joints: [] },
}) // prettier-ignore

beforeEach(async () => {
  revision = least = 1
  setActivePinia(createPinia())
  noEvents()
  heard = serverOf({
    'GET /api/sizes': () => ({ json: {} }),
    'GET /api/printers': () => ({ json: [{ id: 'p' }] }),
    'GET /api/projects/a': () => ({ json: view() }),
    'GET /api/projects/a/build': () => ({ json: { revision, build: { model: null }, job: null } }),
    'PUT /api/projects/a/plan': ({ body }) => {
      const edit = body as { base_revision: number; plan: { least_wall_mm: number } }
      if (edit.base_revision !== revision)
        return { status: 409, json: { detail: 'It was changed elsewhere.' } }
      revision++
      least = edit.plan.least_wall_mm
      return { json: view() }
    },
    'POST /api/projects/a/undo': () => ({ status: 404, json: { detail: 'There is nothing to undo.' } }),
  })
  await useProject().open('a')
})

describe('edits', () => {
  it('made in haste are each made on what the one before left', async () => {
    const project = useProject()
    const add = () => project.edit('Wall', (plan) => (plan.least_wall_mm = (plan.least_wall_mm ?? 0) + 1))
    expect(await Promise.all([add(), add(), add()])).toEqual([true, true, true])
    expect([project.plan?.least_wall_mm, project.revision?.revision]).toEqual([4, 4])
    const bases = heard
      .filter((h) => h.method === 'PUT')
      .map((h) => (h.body as { base_revision: number }).base_revision)
    expect(bases).toEqual([1, 2, 3])
  })

  it('that came too late are told, and what is there is shown', async () => {
    const project = useProject()
    revision = 7
    expect(await project.edit('Wall', (plan) => (plan.least_wall_mm = 9))).toBe(false)
    await flushPromises()
    expect([project.message, project.revision?.revision, project.plan?.least_wall_mm]).toEqual([
      'It was changed elsewhere.',
      7,
      1,
    ])
    expect(project.saving).toBe(false)
  })

  it('do not change the plan that is shown until they are saved', async () => {
    const project = useProject()
    const before = project.plan
    await project.undo()
    expect(project.plan).toBe(before)
    expect(project.message).toBe('There is nothing to undo.')
  })
})
