/** Kinds of prepare step: what they are called, what they begin with, and which of their fields are shown. */
import type { BuildView, Plan, PrepareStep } from '@/api/client'

export type StepKind = PrepareStep['kind']
export interface KindOf {
  kind: StepKind
  name: string
  says: string
  schema: string
  fields: string[]
  picks?: string[]
}

export const GROUPS: { name: string; kinds: KindOf[] }[] = [
  {
    name: 'Standing',
    kinds: [
      { kind: 'stand', name: 'Stand', says: 'on a side or a picked face', schema: 'StandStep', fields: [] },
      { kind: 'turn', name: 'Turn', says: 'by typed degrees', schema: 'TurnStep', fields: ['turn_deg'] },
      { kind: 'mirror', name: 'Mirror', says: 'across an axis', schema: 'MirrorStep', fields: ['axis'] },
      {
        kind: 'pair',
        name: 'Left and right pair',
        says: 'with its mirror image',
        schema: 'PairStep',
        fields: ['axis', 'gap_mm'],
      },
      {
        kind: 'flatten',
        name: 'Flat bottom',
        says: 'cut off level',
        schema: 'FlattenStep',
        fields: ['height_mm'],
      },
    ],
  },
  {
    name: 'Size',
    kinds: [
      { kind: 'scale', name: 'By a factor', says: 'also per axis', schema: 'ScaleStep', fields: ['factor'] },
      {
        kind: 'length',
        name: 'To a length',
        says: 'along one axis',
        schema: 'LengthStep',
        fields: ['axis', 'length_mm'],
      },
      {
        kind: 'ratio',
        name: 'To a scale',
        says: '1 : 48 of a real length',
        schema: 'RatioStep',
        fields: ['axis', 'real_mm', 'ratio'],
      },
      {
        kind: 'match',
        name: 'By two points',
        says: 'and what their distance must be',
        schema: 'MatchStep',
        fields: ['from_mm', 'to_mm', 'distance_mm'],
        picks: ['from_mm', 'to_mm'],
      },
    ],
  },
  {
    name: 'Shape',
    kinds: [
      {
        kind: 'hollow',
        name: 'Hollow',
        says: 'leave a wall',
        schema: 'HollowStep',
        fields: [
          'wall_mm',
          'open_side',
          'open_at_mm',
          'lattice_mm',
          'strut_mm',
          'former_mm',
          'former_axis',
          'former_wall_mm',
          'former_hole',
          'rod_mm',
        ],
      },
      {
        kind: 'thicken',
        name: 'Thicken',
        says: 'a sheet without thickness',
        schema: 'ThickenStep',
        fields: ['wall_mm'],
      },
      {
        kind: 'stretch',
        name: 'Stretch',
        says: 'apart at a plane',
        schema: 'StretchStep',
        fields: ['axis', 'at_mm', 'by_mm', 'side'],
      },
      {
        kind: 'bore',
        name: 'Bore',
        says: 'a straight hole',
        schema: 'BoreStep',
        fields: ['from_mm', 'to_mm', 'through', 'diameter_mm', 'head_diameter_mm', 'head_depth_mm'],
        picks: ['from_mm', 'to_mm'],
      },
      {
        kind: 'round-bores',
        name: 'Round bores again',
        says: 'true ones for coarse ones',
        schema: 'RoundBoresStep',
        fields: ['wider_mm'],
      },
      {
        kind: 'relief',
        name: 'Relief',
        says: 'raise small detail',
        schema: 'ReliefStep',
        fields: ['detail_mm', 'factor'],
      },
      {
        kind: 'repair',
        name: 'Repair',
        says: 'chosen means, mildest first',
        schema: 'RepairStep',
        fields: [
          'merge_mm',
          'duplicates',
          'slivers',
          'orient',
          'specks',
          'holes',
          'unite',
          'untangle',
          'rebuild_mm',
        ],
      },
    ],
  },
]
export const KINDS = GROUPS.flatMap((g) => g.kinds)
export const kindOf = (kind: StepKind): KindOf => KINDS.find((k) => k.kind === kind)!

const round = (v: number): number => Math.round(v * 10) / 10

/** A new step with values that suit the model as it is now. */
export function newStep(kind: StepKind, plan: Plan, build: BuildView | null): PrepareStep {
  const id = `s${Math.max(0, ...(plan.prepare ?? []).map((s) => Number(s.id.slice(1)))) + 1}`
  const low = build?.model?.low_mm ?? [0, 0, 0]
  const high = build?.model?.high_mm ?? [100, 100, 100]
  const middle = [0, 1, 2].map((k) => round((low[k]! + high[k]!) / 2)) as [number, number, number]
  const base = { id, name: '', on: true }
  const tall = round(high[2]! - low[2]!)
  switch (kind) {
    case 'stand':
      return { ...base, kind, down: [0, -1, 0] }
    case 'turn':
      return { ...base, kind, turn_deg: [0, 0, 90] }
    case 'mirror':
      return { ...base, kind, axis: 'x' }
    case 'pair':
      return { ...base, kind, axis: 'x', gap_mm: 10 }
    case 'flatten':
      return { ...base, kind, height_mm: Math.max(0.1, round(tall * 0.02)) }
    case 'scale':
      return { ...base, kind, factor: [0.5, 0.5, 0.5] }
    case 'length':
      return { ...base, kind, axis: 'z', length_mm: Math.max(1, Math.round(tall)) }
    case 'ratio':
      return { ...base, kind, axis: 'z', real_mm: Math.max(1, Math.round(tall * 48)), ratio: 48 }
    case 'match':
      return {
        ...base,
        kind,
        from_mm: [middle[0], middle[1], round(low[2]!)],
        to_mm: [middle[0], middle[1], round(high[2]!)],
        distance_mm: Math.max(1, tall),
      }
    case 'hollow':
      return {
        ...base,
        kind,
        wall_mm: 3,
        open_side: 'closed',
        open_at_mm: 0,
        drains: [],
        lattice_mm: 0,
        strut_mm: 1.6,
        former_mm: 0,
        former_axis: 'z',
        former_wall_mm: 2,
        former_hole: 0.6,
        rod_mm: 0,
      }
    case 'thicken':
      return { ...base, kind, wall_mm: 3 }
    case 'stretch':
      return { ...base, kind, axis: 'x', at_mm: middle[0], by_mm: 10, side: 'both' }
    case 'bore':
      return {
        ...base,
        kind,
        from_mm: [middle[0], middle[1], round(high[2]!)],
        to_mm: [middle[0], middle[1], round(low[2]!)],
        through: true,
        diameter_mm: 5,
        head_diameter_mm: 0,
        head_depth_mm: 0,
      }
    case 'round-bores':
      return { ...base, kind, wider_mm: 0 }
    case 'relief':
      return { ...base, kind, detail_mm: 4, factor: 1.8 }
    case 'repair':
      return {
        ...base,
        kind,
        merge_mm: 0.001,
        duplicates: true,
        slivers: false,
        orient: true,
        specks: false,
        holes: 'flat',
        unite: false,
        untangle: false,
        rebuild_mm: 0,
      }
  }
}

/** How a step reads in the list before the server has built it. */
export const stepName = (step: PrepareStep): string => step.name || kindOf(step.kind).name
