/** What moves: tried when the plan changes, edited, and played through a driver's travel. */
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { useAnswer } from '@/api/useAnswer'
import { Refusal, type Plan, type Schemas, type Vec3 } from '@/api/client'
import { run } from '@/api/operations'
import { defaultsOf, kindOf } from '@/ui/schema'
import { useProject } from './project'
import { pointOf, useTools } from './tools'

export type Movement = NonNullable<Plan['movements']>[number]
export type MovingView = Schemas['MovingView']
export type Travel = Schemas['TravelView']

export const useMoving = defineStore('moving', () => {
  const project = useProject()
  const tools = useTools()
  const { outcome, old, busy, told, ask, stop } = useAnswer(
    'try-moving',
    computed(() => (project.begun ? project.shown : null)),
  )
  const view = computed<MovingView | null>(() => outcome.value?.result ?? null)
  const movements = computed<Movement[]>(() => project.plan?.movements ?? [])
  const chosenId = ref('')
  const chosen = computed(
    () => movements.value.find((m) => m.id === chosenId.value) ?? movements.value[0] ?? null,
  )
  const findings = computed(() => view.value?.findings ?? [])
  const labelOf = (id: string): string => view.value?.movements.find((m) => m.id === id)?.label ?? id
  const unitOf = (id: string): string => view.value?.movements.find((m) => m.id === id)?.unit ?? ''

  /** the driver that is played: the chosen one, or what drives it, else the first there is */
  const travel = computed<Travel | null>(() => {
    const travels = view.value?.travels ?? []
    const own = travels.find((t) => t.movement === chosen.value?.id)
    return (
      own ?? travels.find((t) => t.places.some((p) => p.movement === chosen.value?.id)) ?? travels[0] ?? null
    )
  })
  /** how far along its travel it is, 0 to 1; where nothing was moved it rests */
  const share = ref(0)
  const resting = ref(true)
  const playing = ref(false)
  const value = computed(() => {
    const values = travel.value?.values ?? []
    return values.length ? values[0]! + share.value * (values.at(-1)! - values[0]!) : 0
  })
  function go(to: number): void {
    resting.value = false
    share.value = Math.max(0, Math.min(1, to))
  }
  /** Go to where a driver has a value. */
  function goTo(movement: string, to: number): void {
    chosenId.value = movement
    const values = travel.value?.values ?? []
    playing.value = false
    if (values.length > 1) go((to - values[0]!) / (values.at(-1)! - values[0]!))
  }
  function rest(): void {
    playing.value = false
    resting.value = true
  }

  async function tryAll(): Promise<void> {
    try {
      await ask()
    } catch (error) {
      await project.refused(error)
    }
  }
  async function halt(): Promise<void> {
    await stop()
    project.say('Stopped; nothing was changed.')
  }

  function keep(label: string, next: Movement): Promise<boolean> {
    return project.edit(label, (plan) => {
      plan.movements = plan.movements?.map((m) => (m.id === next.id ? next : m))
    })
  }
  function set(changes: object, label: string): void {
    if (chosen.value) void keep(label, { ...chosen.value, ...changes } as Movement)
  }
  function add(kind: string): void {
    const id = `v${Math.max(0, ...movements.value.map((m) => Number(m.id.slice(1)))) + 1}`
    const info = kindOf('movements', kind)
    chosenId.value = id
    void project.edit(`Added: ${info.name}`, (plan) => {
      plan.movements = [...(plan.movements ?? []), { ...defaultsOf(info.model), id, kind } as Movement]
    })
  }
  function remove(one: Movement): void {
    void project.edit(`Removed ${labelOf(one.id)}`, (plan) => {
      plan.movements = plan.movements?.filter((m) => m.id !== one.id)
    })
  }
  /** Take in what it moves, or leave it out; what another one moved it moves no more. */
  function toggle(thing: string, name: string): void {
    const own = chosen.value
    if (!own) return
    const has = own.moves?.includes(thing)
    void project.edit(has ? `${name} does not move with it` : `${name} moves with it`, (plan) => {
      plan.movements = plan.movements?.map((m) => {
        const moves = (m.moves ?? []).filter((one) => one !== thing)
        return { ...m, moves: m.id === own.id && !has ? [...moves, thing] : moves } as Movement
      })
    })
  }
  /** A point where all is at rest: of a pin the middle of its axis, where a round wall is clicked. */
  async function pickPoint(field: string, label: string): Promise<void> {
    rest()
    const pin = chosen.value?.kind === 'rod'
    const found = await tools.pick([
      pin ? 'Click the wall of the bore of the pin, or a point.' : 'Click a point.',
    ])
    if (!found) return
    const at = pointOf(found[0]!)
    set({ [field]: pin ? ((await axisNear(at))?.at_mm ?? at) : at }, label)
  }
  /** The axis of the round wall at a place; none where it is not round. */
  async function axisNear(at: Vec3): Promise<Schemas['AxisGiven'] | null> {
    const now = project.revision
    try {
      return now ? await run('axis-at', now.project_id, { at_mm: at }) : null
    } catch (error) {
      if (error instanceof Refusal) return null
      throw error
    }
  }
  /** One more point of a rail, where one clicks. */
  async function pickRailPoint(): Promise<void> {
    rest()
    const found = await tools.pick(['Click the next point of the rail.'])
    const own = chosen.value
    if (found && own?.kind === 'rail')
      set({ through: [...(own.through ?? []), pointOf(found[0]!)] }, 'Added a point of the rail')
  }
  /** The axis of a bore or axle that is clicked. */
  async function pickAxis(): Promise<void> {
    rest()
    const found = await tools.pick(['Click the wall of a bore, or of an axle.'])
    const now = project.revision
    if (!found || !now) return
    try {
      const axis = await run('axis-at', now.project_id, { at_mm: pointOf(found[0]!) })
      const round = (v: readonly number[]): Vec3 => v.map((c) => Math.round(c * 1e4) / 1e4) as Vec3
      set({ at_mm: round(axis.at_mm), along: round(axis.along) }, `Axis of a bore ø${axis.diameter_mm}`)
    } catch (error) {
      await project.refused(error)
    }
  }

  return {
    view,
    old,
    busy,
    told,
    movements,
    chosenId,
    chosen,
    findings,
    labelOf,
    unitOf,
    travel,
    share,
    resting,
    playing,
    value,
    go,
    goTo,
    rest,
    tryAll,
    halt,
    set,
    add,
    remove,
    toggle,
    pickPoint,
    pickAxis,
    pickRailPoint,
  }
})
