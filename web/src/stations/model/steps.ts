/** Kinds of prepare step: under which headings they are offered, and what they begin with. */
import type { BuildView, Plan, PrepareStep } from '@/api/client'
import { defaultsOf, kindOf, kindsOf, type Kind } from '@/ui/schema'

export type StepKind = PrepareStep['kind']
export type OnFaceStep = Extract<PrepareStep, { kind: 'on-face' }>
export type HalfJoint = NonNullable<OnFaceStep['joint']>
/** The kinds by what they are for; a seat only where there is another part to go in. */
export function groups(plan: Plan | null): { name: string; kinds: Kind[] }[] {
  const kinds = kindsOf('prepare').filter(
    (k) => !['meets', 'clear-path'].includes(k.kind) && (k.kind !== 'seat' || (plan?.parts?.length ?? 0) > 0),
  )
  const names = [...new Set(kinds.map((k) => k.group))]
  return names.map((name) => ({ name, kinds: kinds.filter((k) => k.group === name) }))
}

const round = (v: number): number => Math.round(v * 10) / 10

/** A new step: as its schema says, with what suits the model as it is now. */
export function newStep(kind: StepKind, plan: Plan, build: BuildView | null): PrepareStep {
  const id = `s${Math.max(0, ...(plan.prepare ?? []).map((s) => Number(s.id.slice(1)))) + 1}`
  const low = build?.model?.low_mm ?? [0, 0, 0]
  const high = build?.model?.high_mm ?? [100, 100, 100]
  const [x, y] = [0, 1].map((k) => round((low[k]! + high[k]!) / 2)) as [number, number]
  const [bottom, top] = [[x, y, round(low[2]!)], [x, y, round(high[2]!)]] // prettier-ignore
  const tall = round(high[2]! - low[2]!)
  const suits: Partial<Record<StepKind, object>> = {
    stand: { down: [0, -1, 0] },
    turn: { turn_deg: [0, 0, 90] },
    flatten: { height_mm: Math.max(0.1, round(tall * 0.02)) },
    scale: { factor: [0.5, 0.5, 0.5] },
    length: { length_mm: Math.max(1, Math.round(tall)) },
    ratio: { real_mm: Math.max(1, Math.round(tall * 48)) },
    match: { from_mm: bottom, to_mm: top, distance_mm: Math.max(1, tall) },
    stretch: { at_mm: x },
    bore: { from_mm: top, to_mm: bottom },
    letters: { at_mm: top, facing: [0, 0, 1] },
    'on-face': { at_mm: top, facing: [0, 0, 1], joint: halfJoint('screw') },
    'bearing-seat': { at_mm: top, facing: [0, 0, 1] },
    seat: { part: plan.parts?.[0]?.id ?? 'q2' },
  }
  return { ...defaultsOf(kindOf('prepare', kind).model), ...suits[kind], id, kind } as PrepareStep
}

/** One side of a joint of a kind, as it stands on a face. */
export const halfJoint = (kind: string): HalfJoint =>
  ({
    ...defaultsOf(kindOf('joints', kind).model),
    kind,
    id: 'j1',
    face: { parting: '', member: 0, a: '', b: '' },
  }) as unknown as HalfJoint

/** How a step reads in the list before the server has built it. */
export const stepName = (step: PrepareStep): string => step.name || kindOf('prepare', step.kind).name
