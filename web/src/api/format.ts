/** How numbers are written: one decimal, a thin space between thousands, units after. */
const GROUPED = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 3 })
const FIXED = Array.from(
  { length: 5 },
  (_, digits) =>
    new Intl.NumberFormat('en-GB', {
      minimumFractionDigits: digits,
      maximumFractionDigits: digits,
      useGrouping: false,
      signDisplay: 'negative', // nothing is not less than nothing
    }),
)
/** A number with so many decimals, four at the most, without spaces between thousands. */
export const fixed = (value: number, digits: number): string => FIXED[digits]!.format(value)
export const mm = (value: number): string => fixed(value, 1)
export const size = (values: readonly number[]): string => values.map(mm).join(' × ')
/** With a thin space between thousands. */
export const count = (value: number): string =>
  GROUPED.formatToParts(value)
    .map((part) => (part.type === 'group' ? '\u2009' : part.value))
    .join('')
export const cm3 = (value: number): string => {
  const [whole, part] = fixed(value / 1000, value < 100_000 ? 2 : 1).split('.') as [string, string]
  return `${count(Number(whole))}.${part} cm³`
}
export const mm2 = (value: number): string => `${count(Math.round(value))} mm²`

/** The twelve muted pigments of the pieces, in turn. */
const PIGMENTS = [
  '#c9a36b',
  '#8fa37e',
  '#b9806a',
  '#7f9bb0',
  '#d2b5a0',
  '#a29bb8',
  '#c4b45f',
  '#8bb0a6',
  '#b58fa0',
  '#9fa7ae',
  '#d09a5f',
  '#7e8f6b',
]
export const pigment = (number: number): string => PIGMENTS[(number - 1) % PIGMENTS.length]!

/** The colour of what lies on a bed: of its first piece, or of loose parts. */
export const colourOf = (pieces: readonly number[]): string =>
  pieces.length ? pigment(pieces[0]!) : '#b98a5e'

/** How much a box is over a room, whichever way it is turned by quarter turns; 0 when it fits. */
export function overBy(box: readonly number[], room: readonly number[]): number {
  const a = [...box].sort((x, y) => x - y)
  const b = [...room].sort((x, y) => x - y)
  return Math.max(0, ...a.map((v, i) => v - b[i]!))
}

/** A time as people say it: 5 h 40, 35 min. */
export function duration(minutes: number): string {
  const whole = Math.round(minutes)
  const [h, m] = [Math.floor(whole / 60), whole % 60]
  return h ? `${h} h ${String(m).padStart(2, '0')}` : `${m} min`
}
