/** The assembly: asked for when the plan changes, played, rearranged; what was ticked at the bench. */
import { useQuery } from '@tanstack/vue-query'
import { defineStore } from 'pinia'
import { computed, nextTick, ref, shallowRef } from 'vue'
import { useOperation } from '@/api/operations'
import { queries } from '@/api/queries'
import { useAnswer } from '@/api/useAnswer'
import { api, got, type Answer, type Plan, type Schemas } from '@/api/client'
import { useKeptTicks } from './keptTicks'
import { useParts } from './parts'
import { useProject } from './project'

export type Assembly = Schemas['AssemblyView']
export type AssemblyStep = Schemas['StepView']
export type AssemblyUnit = Schemas['UnitView']
export type Assembling = Required<Schemas['Assembling']>
export type AssemblePage = 'steps' | 'out' | 'holds' | 'balance' | 'moving' | 'sheets'
type Change = Schemas['Arrange']['change']
type Bench = Schemas['Bench']

/** Whether a step can be done, as far as is known. */
export const works = (step: AssemblyStep): boolean =>
  step.proof !== 'does not work' && step.proof !== 'no order'

export const useAssembly = defineStore('assembly', () => {
  const project = useProject()
  const parts = useParts()
  /** whether it is about the pieces of the part that is worked on, or about all parts */
  const chosenScope = ref<'part' | 'project'>('part')
  const scope = computed(() => (parts.standing > 1 ? chosenScope.value : 'part'))
  const page = ref<AssemblePage>('steps')
  const {
    outcome,
    old,
    busy,
    told,
    ask,
    stop: leave,
  } = useAnswer(
    'assemble',
    computed(() => (project.begun ? project.shown : null)),
    computed(() => ({ scope: scope.value })),
  )
  /** what of the plan it is wished by */
  const field = computed(() => (scope.value === 'project' ? 'project_assembling' : 'assembling'))
  const drawing = useOperation()
  const benchKey = computed(() => ['bench', project.shown?.project ?? ''])
  const benchQuery = useQuery({
    queryKey: benchKey,
    enabled: false,
    shallow: true,
    queryFn: async ({ queryKey: [, id] }) =>
      got<Bench>(
        await api.GET('/api/projects/{project_id}/bench', { params: { path: { project_id: id! } } }),
      ),
  })
  const toldBench = computed<Bench>(() => benchQuery.data.value ?? { ticked: [], photos: {} })
  const keptTicks = useKeptTicks(
    () => project.shown?.project ?? '',
    async (id, unit, done) => {
      const params = { path: { project_id: id } }
      benchIs(
        got<Bench>(await api.PUT('/api/projects/{project_id}/bench/ticks', { params, body: { unit, done } })),
      )
    },
    project.refused,
  )
  /** what was done at the bench, with ticks that are still to be sent */
  const bench = computed<Bench>(() => ({
    ...toldBench.value,
    ticked: keptTicks.with(toldBench.value.ticked),
  }))
  const benchIs = (now: Bench): void => void queries.setQueryData(benchKey.value, now)
  /** how far the assembly has been played: so many steps are done, and a share of the next */
  const at = ref(0)
  const playing = ref(false)
  /** how far all is moved apart by steps, 0 to 1 */
  const apart = ref(0)
  const ownView = ref(true)
  /** the unit whose taking out is looked at */
  const out = ref<string | null>(null)
  /** the files of the sheets that were drawn last, of which project and for which revision */
  const drawn = shallowRef<{ project: string; revision: number; file: string } | null>(null)

  const view = computed<Assembly | null>(() => outcome.value?.result ?? null)
  const sheets = computed(() => (drawn.value?.project === project.revision?.project_id ? drawn.value : null))
  const steps = computed<AssemblyStep[]>(() => view.value?.steps ?? [])
  const units = computed(() => new Map((view.value?.units ?? []).map((u) => [u.id, u])))
  const wish = computed(() => (project.plan?.[field.value] ?? null) as Assembling | null)
  const findings = computed(() => view.value?.findings ?? [])
  const waiting = computed(() => findings.value.filter((f) => f.severity !== 'note' && !f.accepted))
  /** the step that is being done, or was done last */
  const step = computed<AssemblyStep | null>(
    () => steps.value[Math.max(0, Math.min(steps.value.length, Math.ceil(at.value)) - 1)] ?? null,
  )
  /** how far that step is, 0 (away) to 1 (in place) */
  const share = computed(() => (at.value > 0 ? at.value - Math.ceil(at.value) + 1 : 0))
  const replacing = computed(() => view.value?.replacing?.find((r) => r.unit === out.value) ?? null)

  /** the project whose assembly was played last */
  let played = ''
  async function plan(): Promise<void> {
    try {
      const found = (await ask())?.result
      if (!found) return
      const count = found.steps?.length ?? 0
      if (played !== project.shown?.project || at.value > count) at.value = count
      played = project.shown?.project ?? ''
      if (out.value && !found.units?.some((u) => u.id === out.value)) out.value = null
      const there = await benchQuery.refetch()
      if (there.error) throw there.error
    } catch (error) {
      await project.refused(error)
    }
  }

  /** Turn to the pieces of the part, or to all parts, and work that out where it is not known. */
  async function turnTo(wanted: 'part' | 'project'): Promise<void> {
    chosenScope.value = wanted
    playing.value = false
    await nextTick() // the answer is looked for under the new question then
    if (!view.value || old.value) await plan()
    at.value = steps.value.length
  }

  project.onBench((heard) => benchIs(heard as Bench))

  async function stop(): Promise<void> {
    await leave()
    project.say('Stopped; nothing was changed.')
  }

  function edit(label: string, change: Partial<Assembling>): Promise<boolean> {
    return project.edit(label, (draft: Plan) => {
      draft[field.value] = { ...draft[field.value], ...change } as Plan['assembling']
    })
  }

  /** Pin the order after a change to it. */
  async function arrange(label: string, change: Change): Promise<void> {
    const id = project.revision?.project_id
    if (!id || !view.value) return
    try {
      const answer = got<Schemas['Arranged']>(
        await api.POST('/api/projects/{project_id}/assembly/arrange', {
          params: { path: { project_id: id } },
          body: { steps: view.value.order ?? [], change },
        }),
      )
      await edit(label, { order: answer.steps })
    } catch (error) {
      await project.refused(error)
    }
  }
  const pin = () => edit('Pinned the order of assembly', { order: view.value?.order ?? [] })
  const unpin = () => edit('Took the order that Hinoki found', { order: [] })

  /** A change to what was done at the bench; the answer is how it is then. */
  async function change(ask: (path: { project_id: string }) => Promise<Answer>): Promise<void> {
    try {
      benchIs(got<Bench>(await ask({ project_id: project.revision!.project_id })))
    } catch (error) {
      await project.refused(error)
    }
  }
  const tick = (unit: string, done: boolean) => keptTicks.tick(unit, done).catch(project.refused)
  const untick = () =>
    change((path) => {
      keptTicks.forget()
      return api.DELETE('/api/projects/{project_id}/bench/ticks', { params: { path } })
    })
  const addPhoto = (unit: string, file: File) =>
    change((path) =>
      api.PUT('/api/projects/{project_id}/bench/photo', {
        params: { path, query: { unit } },
        body: file as unknown as never,
        bodySerializer: (body: unknown) => body as File,
        headers: { 'Content-Type': file.type || 'application/octet-stream' },
      }),
    )
  const dropPhoto = (unit: string) =>
    change((path) =>
      api.DELETE('/api/projects/{project_id}/bench/photo', { params: { path, query: { unit } } }),
    )
  const photoOf = (unit: string): string | null => {
    const hash = bench.value.photos[unit]
    const id = project.revision?.project_id
    return hash && id
      ? `/api/projects/${id}/bench/photo?unit=${encodeURIComponent(unit)}&of=${hash.slice(0, 12)}`
      : null
  }

  async function drawSheets(): Promise<void> {
    const now = project.revision
    if (!now || drawing.busy.value) return
    try {
      const { result } = await drawing.ask('sheets', now.project_id, { scope: scope.value })
      drawn.value = { project: now.project_id, revision: now.revision, file: result.file }
    } catch (error) {
      await project.refused(error)
    }
  }
  const sheetUrl = (kind: 'pdf' | 'html') =>
    sheets.value && `/api/projects/${sheets.value.project}/assembly/sheets/${sheets.value.file}.${kind}`

  /** Go to the end of a step, playing stopped. */
  function go(number: number): void {
    playing.value = false
    apart.value = 0
    at.value = Math.max(0, Math.min(steps.value.length, number))
  }

  return {
    scope,
    turnTo,
    page,
    busy,
    told,
    stop,
    view,
    old,
    steps,
    units,
    wish,
    findings,
    waiting,
    at,
    playing,
    apart,
    ownView,
    step,
    share,
    out,
    replacing,
    bench,
    plan,
    edit,
    arrange,
    pin,
    unpin,
    tick,
    ticksWaiting: keptTicks.waiting,
    untick,
    addPhoto,
    dropPhoto,
    photoOf,
    sheets,
    drawing: drawing.busy,
    drawingTold: drawing.told,
    stopDrawing: drawing.stop,
    drawSheets,
    sheetUrl,
    go,
  }
})
