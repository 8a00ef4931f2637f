/** The print log of the open project: prints and pieces, printers and spools, what to print again, what differs. */
import { useQuery } from '@tanstack/vue-query'
import { useDebounceFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { useOperation } from '@/api/operations'
import { ofSameProject, queries } from '@/api/queries'
import { api, got, type Answer, type JobView, type Schemas } from '@/api/client'
import type { PieceState } from '@/api/states'
import { useBatching, type Batches } from './batching'
import { useProject } from './project'
import { useTypedNames } from '@/words/typedNames'

export type LogView = Schemas['LogView']
export type Print = Schemas['Print']
export type Item = Schemas['Item']
export type BoardRow = Schemas['BoardRow']
export type LogPage = 'send' | 'pieces' | 'prints' | 'lessons' | 'plan'
export type MachineView = Schemas['MachineView']
type Brief = Partial<Print> & { id: string; item?: number }
/** Where a batch goes: a printer, or none, by hand; and the spool it is printed from. */
export interface Way {
  machine: string | null
  spool: number | null
}

export const usePrintLog = defineStore('printlog', () => {
  const project = useProject()
  const batching = useBatching()
  const page = ref<LogPage>('send')
  const board = ref(false)
  /** how many of the newest prints are shown */
  const most = ref(100)
  const key = computed(() => ['log', project.shown?.project ?? '', batching.layoutName, most.value] as const)
  const query = useQuery({
    queryKey: key,
    enabled: false,
    shallow: true,
    queryFn: async ({ queryKey: [, project_id, layout, newest] }) => {
      const params = { path: { project_id }, query: { layout: layout ?? undefined, most: newest } }
      return got<LogView>(await api.GET('/api/projects/{project_id}/log', { params }))
    },
    placeholderData: ofSameProject(key),
  })
  const log = computed(() => query.data.value ?? null)
  const machinesQuery = useQuery({
    queryKey: ['machines'],
    enabled: false,
    queryFn: async () => got<MachineView[]>(await api.GET('/api/machines')),
  })
  const machines = computed<MachineView[]>(() => machinesQuery.data.value ?? [])
  const spoolsQuery = useQuery({
    queryKey: ['spools'],
    enabled: false,
    queryFn: async () => got<Schemas['Spool'][]>(await api.GET('/api/spools')),
  })
  const spools = computed<Schemas['Spool'][]>(() => spoolsQuery.data.value ?? [])
  useTypedNames(() => [machines.value, spools.value])
  /** the key of the thing that is looked at, and the print */
  const chosen = ref<string | null>(null)
  const print = ref<string | null>(null)
  const sending = useOperation()
  const comparing = useOperation()
  const laying = useOperation()
  /** what is being made ready to be sent: its row in the list */
  const readying = ref('')
  const reprint = shallowRef<{ only: Record<string, number>; batches: Batches } | null>(null)
  const difference = shallowRef<{ item: Item; found: Schemas['DifferenceView'] } | null>(null)

  const standing = computed(() => log.value?.standing ?? null)
  const prints = computed<Print[]>(() => log.value?.prints ?? [])
  const active = computed(() => prints.value.filter((p) => ACTIVE.includes(p.state)))
  const rows = computed<BoardRow[]>(() => standing.value?.board ?? [])
  /** what a person may say next of a piece in a state, and whether there is one that can be used */
  const steps = (state: PieceState): PieceState[] => log.value?.steps[state] ?? []
  const isMade = (state: PieceState): boolean => steps(state).includes('lost')
  const old = computed(() => rows.value.filter((r) => r.old.length))

  /** Ask how it stands now, whatever is under way. */
  async function load(): Promise<void> {
    if (!project.shown) return
    const found = await query.refetch()
    if (found.error) await project.refused(found.error)
  }
  const soon = useDebounceFn(load, 120)

  /** News of a print: a new figure is shown at once, a new state is asked for. */
  function heard(news: unknown): void {
    const brief = news as Brief
    const now = log.value
    const one = now?.prints.find((p) => p.id === brief.id)
    // what has ended teaches: estimates are another now
    if (brief.state === 'done' && one?.state !== 'done' && batching.batches) void batching.lay()
    if (!now || !one || one.state !== brief.state || one.gone_since !== brief.gone_since) return void soon()
    const prints = now.prints.map((p) => (p.id === brief.id ? { ...p, ...brief } : p))
    queries.setQueryData(key.value, { ...now, prints })
  }
  project.onPrint(heard)

  async function loadMachines(): Promise<void> {
    const [found, left] = await Promise.all([machinesQuery.refetch(), spoolsQuery.refetch()])
    if (found.error ?? left.error) await project.refused(found.error ?? left.error)
  }

  /** Do something that changes the log, once what was done before is there, and see how it stands then. */
  let queue: Promise<unknown> = Promise.resolve()
  function change(act: () => Promise<Answer>): Promise<boolean> {
    const turn = queue.then(() => changed(act))
    queue = turn
    return turn
  }
  async function changed(act: () => Promise<Answer>): Promise<boolean> {
    try {
      const answer = await act()
      if (!answer.response.ok) got(answer)
      return true
    } catch (error) {
      await project.refused(error)
      return false
    } finally {
      await load()
    }
  }

  /** Make a batch ready; gives the name of what is ready. */
  async function ready(batch: number, only: Record<string, number> | null): Promise<string> {
    return (await sending.ask('prepare-batch', project.revision!.project_id, { batch, only })).name
  }

  async function send(batch: number, only: Record<string, number> | null, way: Way): Promise<boolean> {
    const now = project.revision
    if (!now || readying.value) return false
    readying.value = `${only ? 'again' : 'plan'} ${batch}`
    try {
      const name = await ready(batch, only)
      const body = {
        prepared: name,
        revision: now.revision,
        machine_id: way.machine,
        spool_id: way.spool,
        note: '',
      }
      const params = { path: { project_id: now.project_id } }
      const sent = await change(() => api.POST('/api/projects/{project_id}/prints', { params, body }))
      if (sent && way.machine === null) {
        const link = document.createElement('a')
        link.href = `/api/prepared/${name}/file`
        link.download = ''
        link.click()
      }
      return sent
    } catch (error) {
      await project.refused(error)
      return false
    } finally {
      readying.value = ''
    }
  }

  /** Lay out what must be printed again. */
  async function layAgain(): Promise<void> {
    const only = Object.fromEntries((standing.value?.again ?? []).map((a) => [a.key, a.count]))
    try {
      const { result } = await laying.ask('batch', project.revision!.project_id, { only })
      reprint.value = { only, batches: result }
    } catch (error) {
      await project.refused(error)
    }
  }

  const tell = (id: string, what: 'pause' | 'resume' | 'stop') =>
    change(() => api.POST('/api/prints/{print_id}/{what}', { params: { path: { print_id: id, what } } }))
  const say = (id: string, state: Print['state']) =>
    change(() =>
      api.PUT('/api/prints/{print_id}/state', {
        params: { path: { print_id: id } },
        body: { state, minutes: null, grams: null },
      }),
    )
  const annotate = (id: string, body: Partial<Schemas['Annotation']>) =>
    change(() =>
      api.PATCH('/api/prints/{print_id}', {
        params: { path: { print_id: id } },
        body: body as Schemas['Annotation'],
      }),
    )
  const drop = (id: string) =>
    change(() => api.DELETE('/api/prints/{print_id}', { params: { path: { print_id: id } } }))
  const newest = (item: Item): Item =>
    prints.value.find((p) => p.id === item.print_id)?.items?.find((i) => i.item === item.item) ?? item
  const mark = (item: Item, body: Partial<Schemas['PieceMark']>) =>
    change(() =>
      api.PATCH('/api/prints/{print_id}/items/{item}', {
        params: { path: { print_id: item.print_id, item: item.item } },
        body: { version: newest(item).version, ...body } as Schemas['PieceMark'],
      }),
    )
  const addPhoto = (id: string, file: File) =>
    change(() =>
      api.PUT('/api/prints/{print_id}/photo', {
        params: { path: { print_id: id } },
        body: file as unknown as never,
        bodySerializer: (body: unknown) => body as File,
        headers: { 'Content-Type': file.type || 'application/octet-stream' },
      }),
    )
  const dropPhoto = (id: string) =>
    change(() => api.DELETE('/api/prints/{print_id}/photo', { params: { path: { print_id: id } } }))
  const answerFit = (printId: string, joint: string, answer: Schemas['NewFitAnswer']['answer']) =>
    change(() =>
      api.POST('/api/projects/{project_id}/fit-answers', {
        params: { path: { project_id: project.revision!.project_id } },
        body: { print_id: printId, joint, answer, note: '' },
      }),
    )

  /** Ask where a printed piece differs from the plan now. */
  async function compare(item: Item): Promise<void> {
    difference.value = null
    const path = { print_id: item.print_id, item: item.item }
    try {
      const { name, result } = await comparing.waitFor('difference', async () =>
        got<JobView>(await api.POST('/api/prints/{print_id}/items/{item}/difference', { params: { path } })),
      )
      difference.value = { item, found: result }
      const same = result.where[0] === 'nothing' ? name : ''
      if (same) {
        const body = { difference: same }
        await change(() => api.POST('/api/prints/{print_id}/items/{item}/same', { params: { path }, body }))
      }
    } catch (error) {
      await project.refused(error)
    }
  }

  return {
    page,
    board,
    log,
    standing,
    prints,
    active,
    rows,
    steps,
    isMade,
    old,
    chosen,
    print,
    most,
    machines,
    spools,
    load,
    loadMachines,
    change,
    readying,
    told: sending.told,
    stopSending: sending.stop,
    send,
    laying: laying.busy,
    layAgain,
    reprint,
    tell,
    say,
    annotate,
    drop,
    mark,
    addPhoto,
    dropPhoto,
    answerFit,
    compare,
    comparing: comparing.busy,
    comparingTold: comparing.told,
    stopComparing: comparing.stop,
    difference,
  }
})

const ACTIVE: string[] = ['sending', 'sent', 'printing', 'paused']
