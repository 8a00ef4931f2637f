/** The states of a piece's life: how each is drawn, with a colour and a hatch, so that none is told by colour alone. */
import type { Schemas } from './client'

export type BoardState = Schemas['BoardRow']['state']
/** What is seen of a piece on the model: its state, or that what is printed of it is out of date. */
export type SeenState = BoardState | 'out of date'
export type PieceState = Schemas['Item']['state']

/** Hatches, by the numbers the shader knows them by. */
export const HATCHES = {
  none: 0,
  rising: 1,
  falling: 2,
  level: 3,
  upright: 4,
  crossed: 5,
  dotted: 6,
} as const
export type Hatch = keyof typeof HATCHES

interface Drawn {
  colour: string
  hatch: Hatch
}
export const STATES: Record<SeenState, Drawn> = {
  planned: { colour: '#e6dcc6', hatch: 'none' },
  'in a batch': { colour: '#dcbd86', hatch: 'rising' },
  printing: { colour: '#cf9a5c', hatch: 'falling' },
  printed: { colour: '#a9b9c6', hatch: 'level' },
  cleaned: { colour: '#8fb0b4', hatch: 'upright' },
  fitted: { colour: '#9fb387', hatch: 'crossed' },
  finished: { colour: '#7d9668', hatch: 'dotted' },
  installed: { colour: '#5f7d49', hatch: 'none' },
  'out of date': { colour: '#e0b56a', hatch: 'crossed' },
  spare: { colour: '#c9c0d6', hatch: 'dotted' },
  lost: { colour: '#d8a398', hatch: 'upright' },
  failed: { colour: '#c8725f', hatch: 'crossed' },
  'not printed': { colour: '#d8d2c6', hatch: 'level' },
}
/** The columns of the board, in the order of a piece's life. */
export const COLUMNS: BoardState[] = [
  'planned',
  'in a batch',
  'printing',
  'printed',
  'cleaned',
  'fitted',
  'finished',
  'installed',
]

const LINE = 'rgb(43 37 33 / 38%)'
const stripes = (degrees: number) =>
  `repeating-linear-gradient(${degrees}deg, transparent 0 5px, ${LINE} 5px 6px)`
const PATTERNS: Record<Hatch, string> = {
  none: '',
  rising: stripes(135),
  falling: stripes(45),
  level: stripes(0),
  upright: stripes(90),
  crossed: `${stripes(45)}, ${stripes(135)}`,
  dotted: `radial-gradient(${LINE} 1px, transparent 1.4px) 0 0 / 6px 6px`,
}
/** The same as a CSS background. */
export const background = (state: SeenState): string => {
  const { colour, hatch } = STATES[state]
  return hatch === 'none' ? colour : `${PATTERNS[hatch]}, ${colour}`
}

/** How a piece is seen: one of which only an old one is printed is neither there nor missing. */
export const seenState = (row: Schemas['BoardRow']): SeenState =>
  row.missing && row.old.length ? 'out of date' : row.state

/** How a joint of printed pieces went together. */
export const ANSWERS: Record<Schemas['NewFitAnswer']['answer'], string> = {
  no: 'does not go in',
  force: 'with force',
  hand: 'by hand',
  slides: 'slides',
  rattles: 'rattles',
}
