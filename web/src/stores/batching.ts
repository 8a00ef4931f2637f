/** The layout of all that is printed: asked for when the plan changes, changed by hand, looked at. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { useAnswer } from '@/api/useAnswer'
import { api, got, type Plan, type Schemas } from '@/api/client'
import { useProject } from './project'

export type Batches = Schemas['BatchesView']
export type Batch = Schemas['BatchView']
export type Thing = Schemas['LaidView']
export type Took = Schemas['TookView']
export type Batching = Required<Schemas['Batching']>
export type BatchPage = 'beds' | 'estimates' | 'files'

/** Where a thing is wanted, until the layout with it is there. */
export interface Wanted {
  key: string
  bed: number
  x: number
  y: number
  turn: number
}

export const useBatching = defineStore('batching', () => {
  const project = useProject()
  const page = ref<BatchPage>('beds')
  const {
    outcome,
    old,
    busy,
    ask,
    stop: leave,
  } = useAnswer(
    'batch',
    computed(() => (project.begun ? project.shown : null)),
  )
  const wanted = shallowRef<Wanted | null>(null)
  /** the key of the thing that is chosen */
  const chosen = ref<string | null>(null)
  /** the number of the batch that is looked at in space */
  const inSpace = ref<number | null>(null)

  const batches = computed<Batches | null>(() => outcome.value?.result ?? null)
  const layoutName = computed(() => outcome.value?.name ?? null)
  const wish = computed(() => (project.plan?.batching ?? null) as Batching | null)
  const thing = computed(() => {
    for (const batch of batches.value?.batches ?? [])
      for (const one of batch.things) if (one.key === chosen.value) return { batch, thing: one }
    return null
  })
  /** what each piece takes, by its number */
  const tookOf = computed(() => {
    const out = new Map<number, Schemas['PieceTook']>()
    for (const one of batches.value?.each ?? []) for (const n of one.pieces) out.set(n, one)
    return out
  })

  async function lay(): Promise<void> {
    const now = project.shown
    try {
      const found = await ask()
      if (!found) return
      if (!found.result.batches.some((b) => b.number === inSpace.value)) inSpace.value = null
      if (now?.revision === project.shown?.revision) wanted.value = null
    } catch (error) {
      wanted.value = null
      await project.refused(error)
    }
  }

  /** Wait until the layout is that of the plan; whether it could be had. */
  async function fresh(): Promise<boolean> {
    while (busy.value || old.value) {
      const before = project.shown?.revision
      await lay()
      if (old.value && before === project.shown?.revision) return false
    }
    return batches.value !== null
  }

  async function stop(): Promise<void> {
    await leave()
    project.say('Stopped; nothing was changed.')
  }

  function edit(label: string, change: Partial<Batching>): Promise<boolean> {
    return project.edit(label, (plan: Plan) => {
      plan.batching = { ...plan.batching, ...change } as Plan['batching']
    })
  }

  /** Move a thing to a bed of its group, and there to a place; without one a free place is found. An overlap is refused. */
  async function move(
    key: string,
    bed: number,
    at: { x: number; y: number } | null,
    turn: number,
  ): Promise<void> {
    wanted.value = at && { key, bed, x: at.x, y: at.y, turn }
    if (!(await fresh())) return
    const own = wish.value!
    try {
      const params = { path: { project_id: project.shown!.project, name: layoutName.value! } }
      const body = { key, bed, x_mm: at?.x ?? null, y_mm: at?.y ?? null, turn_deg: turn }
      const { laid } = got<Schemas['Moved']>(
        await api.POST('/api/projects/{project_id}/batches/{name}/move', { params, body }),
      )
      const name = thing.value?.thing.name ?? 'a thing'
      if (!(await edit(`Moved ${name} on the beds`.slice(0, 120), { laid: { ...own.laid, ...laid } })))
        wanted.value = null
    } catch (error) {
      wanted.value = null
      await project.refused(error)
    }
  }

  /** Hold a thing where it lies, or let it go. */
  async function pin(key: string, on: boolean): Promise<void> {
    const found = thing.value
    const own = wish.value
    if (!found || !own) return
    const { x_mm, y_mm, turn_deg } = found.thing
    const here = { bed: found.batch.bed, x_mm, y_mm, turn_deg, pinned: true }
    const laid = { ...without(own.laid, key), ...(on ? { [key]: here } : {}) }
    await edit(`${on ? 'Pinned' : 'Unpinned'} ${found.thing.name}`.slice(0, 120), { laid })
  }

  /** Lay all that is not pinned out anew. */
  async function layAnew(): Promise<void> {
    const own = wish.value
    if (!own) return
    const pinned = Object.entries(own.laid ?? {}).filter(([, one]) => one.pinned !== false)
    if (pinned.length !== Object.keys(own.laid ?? {}).length)
      await edit('Laid the batches out anew', { laid: Object.fromEntries(pinned) })
    else await lay()
  }

  /** So many of a piece, or so many more than needed of a kind of loose part (which counts from 1, too). */
  async function setCopies(key: string, many: number, name: string): Promise<void> {
    const own = wish.value
    if (!own) return
    const copies = { ...without(own.copies, key), ...(many > 1 ? { [key]: many } : {}) }
    await edit(`Copies of ${name}`.slice(0, 120), { copies })
  }

  return {
    page,
    busy,
    batches,
    layoutName,
    old,
    wish,
    wanted,
    chosen,
    inSpace,
    thing,
    tookOf,
    lay,
    stop,
    edit,
    move,
    pin,
    layAnew,
    setCopies,
  }
})

function without<T>(all: Record<string, T> | undefined, key: string): Record<string, T> {
  return Object.fromEntries(Object.entries(all ?? {}).filter(([k]) => k !== key))
}

/** The thing a copy is of. */
export const kindOf = (key: string): string => key.split(' #')[0]!
