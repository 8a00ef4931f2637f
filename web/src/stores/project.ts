/** The open project: its plan, its build, the job under way, and the one way to edit. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import {
  api,
  got,
  Refusal,
  type Answer,
  type BuildView,
  type JobView,
  type Plan,
  type Printer,
  type RevisionView,
  type Schemas,
  type SurveyView,
} from '@/api/client'
import { finished, heardOf } from '@/api/jobs'
import { resultOf, run, useOperation, type Editing, type RequestOf, type ResultOf } from '@/api/operations'

type Sizes = Record<string, Schemas['SizeView'][]>

export type Touches = Schemas['Touches']
/** What becomes of printed pieces that an edit touches: they stay, they change all the same, or the edit is left. */
export type TouchWay = 'keep' | 'change' | 'leave'

export const useProject = defineStore('project', () => {
  const revision = shallowRef<RevisionView | null>(null)
  const build = shallowRef<BuildView | null>(null)
  const builtRevision = ref(0)
  const job = shallowRef<JobView | null>(null)
  const printers = shallowRef<Printer[]>([])
  /** sizes on sale, by kind of joint */
  const sizes = shallowRef<Sizes>({})
  const saving = ref(false)
  const message = ref('')
  const failure = ref('')
  let events: EventSource | null = null
  let toBench: (heard: unknown) => void = () => undefined
  /** Who hears of what is ticked at the bench, in this window or another. */
  const onBench = (take: (heard: unknown) => void): void => void (toBench = take)
  let toLog: (heard: unknown) => void = () => undefined
  /** Who hears of prints. */
  const onPrint = (take: (heard: unknown) => void): void => void (toLog = take)
  /** whether something was sent out since the project was opened */
  const printed = ref(false)
  /** what an edit would do to printed pieces, and who waits for what the maker wants */
  const touching = shallowRef<{ found: Touches; decide: (way: TouchWay) => void } | null>(null)

  const plan = computed<Plan | null>(() => revision.value?.plan ?? null)
  /** whether there is a body: a file was brought in, or it is made of figures */
  const begun = computed(() => !!(plan.value?.model ?? plan.value?.made))
  /** which revision of which project is shown */
  const shown = computed(() => {
    const now = revision.value
    return now ? { project: now.project_id, revision: now.revision } : null
  })
  const printer = computed<Printer | null>(() => plan.value?.printer ?? null)
  const room = computed<number[]>(() => {
    const p = printer.value
    if (!p) return [220, 220, 250]
    const margin = 2 * (p.margin_mm ?? 0)
    return [p.bed_mm[0] - margin, p.bed_mm[1] - margin, p.height_mm]
  })
  /** drawings of pieces of the revision under way, by piece key: shown before the rest of its build is there */
  const early = shallowRef<Record<string, string>>({})
  const drawn = computed<BuildView | null>(() => {
    const [now, fresh] = [build.value, early.value]
    if (!now || Object.keys(fresh).length === 0) return now
    return { ...now, pieces: now.pieces?.map((p) => (fresh[p.key] ? { ...p, mesh: fresh[p.key]! } : p)) }
  })
  const upToDate = computed(() => builtRevision.value === revision.value?.revision)
  /** whether the project is being opened, or its body being built for the first time since */
  const onItsWay = computed(
    () =>
      !revision.value ||
      (bringing.value !== '' && !build.value?.model) ||
      (begun.value && !build.value?.model && !upToDate.value && !failure.value),
  )
  /** the file that is being sent and read, as a model or beside it */
  const bringing = ref('')
  const pieces = computed(() => build.value?.pieces ?? [])
  /** the name of a piece; nothing for a number that none has */
  const pieceName = (number: number | null | undefined): string =>
    pieces.value.find((p) => p.number === number)?.name ?? ''
  const faces = computed(() => build.value?.faces ?? [])
  const joints = computed(() => build.value?.joints ?? [])
  const findings = computed(() => build.value?.findings ?? [])
  const waiting = (station: string) =>
    findings.value.filter((f) => f.station === station && f.severity !== 'note' && !f.accepted)

  async function open(id: string): Promise<void> {
    close()
    sizes.value = got<Sizes>(await api.GET('/api/sizes'))
    if (printers.value.length === 0) printers.value = got<Printer[]>(await api.GET('/api/printers'))
    await load(id)
    events = new EventSource(`/api/projects/${id}/events`)
    events.addEventListener('job', (event) => heardJob(JSON.parse(event.data) as JobView))
    events.addEventListener('bench', (event) => toBench(JSON.parse(event.data)))
    events.addEventListener('print', (event) => {
      printed.value = true
      toLog(JSON.parse(event.data))
    })
    events.addEventListener('restored', () => window.location.assign('/'))
    events.addEventListener('revision', (event) => {
      const number = (JSON.parse(event.data) as { revision: number }).revision
      if (number === revision.value?.revision) return
      if (saving.value) missed = number
      else void load(id)
    })
    // what was changed before the events came in, or while they were interrupted, was told to nobody here
    events.onopen = () => void look(id)
  }

  function close(): void {
    events?.close()
    events = null
    revision.value = build.value = job.value = null
    builtRevision.value = 0
    early.value = {}
    failure.value = ''
    printed.value = false
    survey.value = null
  }

  /** another revision was heard of while an edit was on its way */
  let missed = 0

  /** Whether another revision is shown by now, or the build is there. */
  async function look(id: string): Promise<void> {
    const path = { project_id: id }
    try {
      const now = got<RevisionView>(await api.GET('/api/projects/{project_id}', { params: { path } }))
      if (revision.value?.project_id !== id || saving.value) return
      if (now.revision !== revision.value.revision) took(now)
      else if (!upToDate.value) await fetchBuild()
    } catch (error) {
      await refused(error)
    }
  }

  async function load(id: string): Promise<void> {
    const path = { project_id: id }
    revision.value = got<RevisionView>(await api.GET('/api/projects/{project_id}', { params: { path } }))
    await fetchBuild()
  }

  async function fetchBuild(): Promise<void> {
    const now = revision.value
    if (!now) return
    const params = { path: { project_id: now.project_id }, query: { revision: now.revision } }
    const answer = got<Schemas['BuildAnswer']>(await api.GET('/api/projects/{project_id}/build', { params }))
    if (revision.value?.revision !== answer.revision || revision.value.project_id !== now.project_id) return
    if (answer.build) {
      build.value = answer.build
      early.value = {}
      builtRevision.value = answer.revision
      job.value = null
      failure.value = ''
    } else if (answer.job && !upToDate.value) {
      job.value = answer.job
    }
  }

  function heardJob(heard: JobView): void {
    heardOf(heard)
    if (heard.kind === 'build') {
      if (heard.subject !== String(revision.value?.revision)) return
      job.value = heard.state === 'done' ? null : heard
      if (Object.keys(heard.pieces ?? {}).length) early.value = heard.pieces!
      if (heard.state === 'done') void fetchBuild()
      if (heard.state === 'failed') failure.value = heard.message ?? 'The computation failed.'
      if (heard.state === 'cancelled') failure.value = 'The computation was stopped.'
      if (heard.state === 'failed' || heard.state === 'cancelled') job.value = null
    } else if (heard.kind === 'export') {
      if (heard.id === exporting.value?.id) exporting.value = heard
    } else {
      job.value = heard.state === 'running' || heard.state === 'queued' ? heard : null
      if (!job.value && !upToDate.value) void fetchBuild()
    }
  }

  /** Save an edit: `change` gets a copy of the newest plan and changes it. */
  const edit = (label: string, change: (plan: Plan) => void) =>
    keep(async (now) => {
      let draft = JSON.parse(JSON.stringify(now.plan)) as Plan
      change(draft)
      if (now.live || printed.value) {
        const heeded = await heed(now, draft)
        if (!heeded) return null
        draft = heeded
      }
      return api.PUT('/api/projects/{project_id}/plan', {
        params: { path: { project_id: now.project_id } },
        body: { base_revision: now.revision, label, plan: draft },
      })
    })

  const commanded = useOperation()
  /** the last command, which may wait for edits before it */
  let last = { stopped: false }
  /**
   * An edit that the server works out and saves. Gives what it told, also where nothing was to be changed; none where the maker
   * left it or it was refused.
   */
  async function command<N extends Editing>(
    operation: N,
    body: Omit<RequestOf<N>, 'base_revision' | 'printed_pieces'>,
  ): Promise<ResultOf<N> | null> {
    let outcome: ResultOf<N> | null = null
    const mine = (last = { stopped: false })
    await keep(async (now) => {
      if (mine.stopped) throw new Refusal('Stopped; nothing was changed.', 0)
      let way: TouchWay | null = null
      for (;;) {
        const asked = { ...body, base_revision: now.revision, printed_pieces: way } as unknown as RequestOf<N>
        outcome = (await commanded.ask(operation, now.project_id, asked)).result
        const { touches, changed } = outcome as Pick<Schemas['JointsEdited'], 'touches' | 'changed'>
        if (!changed) return null
        if (way || !touches?.touched?.length) break
        way = await asks(touches)
        if (way === 'leave') return (outcome = null)
      }
      const path = { project_id: now.project_id }
      return api.GET('/api/projects/{project_id}', { params: { path } })
    })
    return outcome
  }

  /** Stop the last command, whether it waits, has just been sent, or is worked at. */
  async function stopCommand(): Promise<void> {
    last.stopped = true
    await commanded.stop()
  }

  /** What is to become of printed pieces that an edit touches. */
  async function asks(found: Touches): Promise<TouchWay> {
    const way = await new Promise<TouchWay>((decide) => (touching.value = { found, decide }))
    touching.value = null
    return way
  }

  /** The plan to save once the maker knows which printed pieces it touches; none where the edit is left. */
  async function heed(now: RevisionView, draft: Plan): Promise<Plan | null> {
    const answer = got<Schemas['TouchesAnswer']>(
      await api.POST('/api/projects/{project_id}/plan/touches', {
        params: { path: { project_id: now.project_id } },
        body: { base_revision: now.revision, plan: draft },
      }),
    )
    const found = answer.job ? await resultOf('edit-impact', await finished(answer.job)) : answer.touches
    if (!found?.touched?.length) return draft
    const way = await asks(found)
    return way === 'leave' ? null : way === 'keep' ? (found.kept as Plan) : draft
  }

  const move = (way: 'undo' | 'redo') =>
    keep((now) => {
      const options = {
        params: { path: { project_id: now.project_id } },
        body: { base_revision: now.revision },
      }
      return way === 'undo'
        ? api.POST('/api/projects/{project_id}/undo', options)
        : api.POST('/api/projects/{project_id}/redo', options)
    })

  // edits go out one after the other, each made on what the one before left
  let queue: Promise<unknown> = Promise.resolve()
  function keep(ask: (now: RevisionView) => Promise<Answer | null>): Promise<boolean> {
    const turn = queue.then(async () => {
      if (!revision.value) return false
      saving.value = true
      try {
        const answer = await ask(revision.value)
        if (answer) took(got<RevisionView>(answer))
        return answer !== null
      } catch (error) {
        await refused(error)
        return false
      } finally {
        saving.value = false
        const now = revision.value
        if (now && missed && missed !== now.revision) void look(now.project_id)
        missed = 0
      }
    })
    queue = turn
    return turn
  }

  /** A revision the server answered with is the one shown now. */
  function took(view: RevisionView): void {
    revision.value = view
    failure.value = ''
    void fetchBuild()
  }

  async function refused(error: unknown): Promise<void> {
    message.value = error instanceof Error ? error.message : String(error)
    const id = revision.value?.project_id
    if (error instanceof Refusal && error.status === 409 && id) await load(id)
  }

  /** A sentence for the maker. */
  const say = (text: string): void => void (message.value = text)

  const cancel = async (one: JobView | null): Promise<void> => {
    if (one) await api.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: one.id } } })
  }

  async function again(): Promise<void> {
    failure.value = ''
    await fetchBuild()
  }

  /** The survey of the model as it is prepared now; asked for when it is not there yet. */
  const survey = shallowRef<SurveyView | null>(null)
  async function lookClosely(): Promise<SurveyView> {
    return (survey.value = await run('survey', revision.value!.project_id))
  }

  /** Have the walls of all pieces measured, so that their thickness maps are there. */
  async function measureWalls(): Promise<void> {
    await run('walls', revision.value!.project_id)
  }

  const exporting = shallowRef<JobView | null>(null)
  const exportWish = shallowRef<Schemas['ExportWish']>({
    pieces: 'stl',
    model: true,
    faces: true,
    assembly: true,
  })
  async function exportPieces(): Promise<void> {
    const now = revision.value
    if (!now || exporting.value) return
    try {
      const params = { path: { project_id: now.project_id } }
      exporting.value = got<JobView>(
        await api.POST('/api/projects/{project_id}/exports', { params, body: exportWish.value }),
      )
      const name = await finished(exporting.value)
      const link = document.createElement('a')
      link.href = `/api/projects/${now.project_id}/exports/${name}`
      link.download = ''
      link.click()
    } catch (error) {
      await refused(error)
    } finally {
      exporting.value = null
    }
  }

  return {
    revision,
    shown,
    plan,
    begun,
    onItsWay,
    bringing,
    build,
    drawn,
    job,
    printer,
    printers,
    sizes,
    room,
    saving,
    message,
    say,
    failure,
    upToDate,
    pieces,
    pieceName,
    faces,
    joints,
    findings,
    exporting,
    exportWish,
    survey,
    lookClosely,
    measureWalls,
    waiting,
    open,
    close,
    onBench,
    onPrint,
    touching,
    edit,
    command,
    undo: () => move('undo'),
    redo: () => move('redo'),
    took,
    refused,
    stop: () => cancel(job.value),
    stopCommand,
    stopExport: () => cancel(exporting.value),
    again,
    exportPieces,
  }
})
