/** Which bodies stand where, for the station that is open. */
import { Matrix4, Vector3 } from 'three'
import type { BuildView, PieceView, Schemas } from '@/api/client'
import { pigment } from '@/api/format'
import { HATCHES, STATES, type SeenState } from '@/api/states'
import type { StationId } from '@/router'
import { type DividePage } from '@/stores/dividing'
import type { BodySpec } from './stage'

/** The bodies on a bed, and the room of its printer. */
export interface OnBatch {
  bodies: readonly BodySpec[]
  room: [number, number, number]
}

/** How a piece prints as it lies: meshes of its support and of what hangs over, the outlines of what touches the bed, and
 * where, on the bed, space is shut in. */
export interface Printing {
  support: string
  overhang: string
  contact: readonly (readonly (readonly [number, number])[])[]
  vents: readonly (readonly [number, number, number])[]
}

export interface Looked {
  otherMesh: string | null
  seeThrough: boolean
  walls: boolean
  piece: number | null
  spread: number
  face: string | null
  printing: Printing | null
  /** a body in layers, as it prints, and what of it is lost */
  prints: { prints: string; lost: string | null } | null
  opened: { joint: string; position: number } | null
  page: DividePage
  /** what lies on the batch that is looked at */
  onBatch: OnBatch | null
  /** the states of the pieces by number, at the print log */
  states: ReadonlyMap<number, SeenState> | null
  /** a printed piece that is compared with the plan's: the drawings of what it has more and less */
  differs: Differs | null
}

/** A piece's number, and the drawings of what the printed one has more and what it lacks. */
export interface Differs {
  number: number
  more: string | null
  less: string | null
}

export const onBed = (station: StationId) => station === 'orient' || station === 'batch'

/** The bodies of a batch where they lie on its bed. */
export const batchBodies = (things: readonly Schemas['LaidView'][], chosen: string | null): BodySpec[] =>
  things.flatMap((thing) =>
    thing.bodies.map((body, k) => ({
      id: `${thing.key} ${k}`,
      number: body.number ?? null,
      mesh: body.mesh,
      colour: body.number ? pigment(body.number) : LOOSE_COLOUR,
      solidity: 1,
      chosen: thing.key === chosen,
      matrix: rowMajor(body.matrix),
    })),
  )

export function bodiesFor(station: StationId, build: BuildView, looked: Looked): readonly BodySpec[] {
  const bodies = plainBodies(station, build, looked)
  if (!looked.seeThrough && !looked.walls) return bodies
  // what lies inside the pieces stays as it is, so that it is seen through them
  return bodies.map((b) =>
    b.of ? b : { ...b, walls: looked.walls, solidity: looked.seeThrough ? 0.28 : b.solidity },
  )
}

function plainBodies(station: StationId, build: BuildView, looked: Looked): readonly BodySpec[] {
  const model = build.model
  if (!model) return []
  if (station === 'model' && looked.prints) return printedBodies(looked.prints, '#c9a36b')
  if (station === 'model' || build.state !== 'whole')
    return [
      {
        id: 'model',
        number: null,
        mesh: station === 'model' ? (looked.otherMesh ?? model.mesh) : model.mesh,
        colour: '#c9a36b',
        solidity: 1,
        chosen: false,
        matrix: new Matrix4(),
      },
    ]
  const pieces = build.pieces ?? []
  if (station === 'batch' && looked.onBatch) return looked.onBatch.bodies
  if (onBed(station)) {
    const piece = pieces.find((p) => p.number === looked.piece) ?? pieces[0]
    if (!piece) return []
    if (station === 'orient' && looked.prints) return printedBodies(looked.prints, pigment(piece.number))
    const shown = station === 'orient' && looked.printing ? printingBodies(looked.printing) : []
    return [spec(piece, rowMajor(piece.rest.matrix), false), ...shown]
  }
  const matrices = spreadOf(build, looked.spread)
  if (station === 'log' && looked.states) return loggedBodies(build, looked, matrices)
  if (station === 'join') openDoor(build, looked, matrices)
  const bodies = pieces.map((p) => spec(p, matrices.get(String(p.number))!, p.number === looked.piece))
  const marking = station === 'divide' && looked.page === 'marks' && looked.spread < 0.005
  if (station === 'join') {
    const whole = looked.spread < 0.005 ? wayBodies(build) : []
    return [...bodies, ...looseBodies(build, matrices), ...boughtBodies(build, matrices), ...whole]
  }
  return marking ? [...bodies.map((b) => ({ ...b, colour: '#d8c6a3' })), ...patches(build)] : bodies
}

/** The pieces in the colours and hatches of their states, those missing seen through; or one beside how it was printed. */
function loggedBodies(build: BuildView, looked: Looked, matrices: Map<string, Matrix4>): BodySpec[] {
  const differs = looked.differs
  const bodies = (build.pieces ?? []).map((p) => {
    const state = looked.states!.get(p.number) ?? 'planned'
    const { colour, hatch } = STATES[state]
    const faint = differs ? (p.number === differs.number ? 0.35 : 0.08) : state === 'planned' ? 0.3 : 1
    const plain = spec(p, matrices.get(String(p.number))!, p.number === looked.piece)
    return { ...plain, colour, hatch: differs ? 0 : HATCHES[hatch], solidity: faint }
  })
  if (!differs) return bodies
  const place = matrices.get(String(differs.number))!
  const shown = [
    { id: 'more', mesh: differs.more, colour: '#d0604e', hatch: HATCHES.rising },
    { id: 'less', mesh: differs.less, colour: '#6f93b8', hatch: HATCHES.dotted },
  ].flatMap((d) =>
    d.mesh ? [{ ...onPiece(d.id, d.mesh, d.colour, 1), hatch: d.hatch, matrix: place, through: true }] : [],
  )
  return [...bodies, ...shown]
}

/** A body as it prints, and what of it is lost, which is seen through it, too. */
const printedBodies = ({ prints, lost }: NonNullable<Looked['prints']>, colour: string): BodySpec[] => [
  onPiece('prints', prints, colour, 1),
  ...(lost
    ? [
        onPiece('lost', lost, OVERHANG_COLOUR, 1),
        { ...onPiece('lost behind', lost, OVERHANG_COLOUR, 0.25), through: true },
      ]
    : []),
]

/** Support under the piece on the bed, and what of it hangs over. */
const printingBodies = ({ support, overhang }: Printing): BodySpec[] => [
  ...(support ? [onPiece('columns', support, '#b9a98c', 0.55)] : []),
  ...(overhang
    ? [
        { ...onPiece('overhang', overhang, OVERHANG_COLOUR, 1), patch: true },
        { ...onPiece('overhang behind', overhang, OVERHANG_COLOUR, 0.16), patch: true, through: true },
      ]
    : []),
]
const onPiece = (id: string, mesh: string, colour: string, solidity: number): BodySpec => ({
  id,
  number: null,
  mesh,
  colour,
  solidity,
  chosen: false,
  matrix: new Matrix4(),
})
const OVERHANG_COLOUR = '#b3321f'

/** What hangs on a hinge or a rail that is shown open, moved as far as it is. */
function openDoor(build: BuildView, looked: Looked, matrices: Map<string, Matrix4>): void {
  const opening = build.joints?.find((j) => j.id === looked.opened?.joint)?.opening
  if (!opening || !looked.opened) return
  for (const [piece, positions] of Object.entries(opening.moved)) {
    const there = positions[Math.min(looked.opened.position, positions.length - 1)]
    if (there) matrices.get(piece)?.multiply(rowMajor(there))
  }
}

const TONES = { steel: '#6f7a80', n: '#8c3b2e', s: '#c9cfd2' }
/** Magnets by their two halves, pins and screws, moved along with their pieces. */
const boughtBodies = (build: BuildView, matrices: Map<string, Matrix4>): BodySpec[] =>
  (build.bought ?? []).flatMap((part) =>
    part.places.map((at, k) => ({
      id: `bought-${part.name}-${part.tone}-${k}`,
      number: null,
      of: at.pieces,
      mesh: part.mesh,
      colour: TONES[part.tone],
      solidity: 1,
      chosen: false,
      matrix: matrices.get(String(at.pieces[0]))!.clone().multiply(rowMajor(at.matrix)),
    })),
  )

/** Dowels and keys where they sit, moved along with the first of the pieces they join. */
const looseBodies = (build: BuildView, matrices: Map<string, Matrix4>): BodySpec[] =>
  (build.loose ?? []).flatMap((part) =>
    (part.places ?? []).map((at, k) => ({
      id: `loose-${part.name}-${k}`,
      number: null,
      of: at.pieces,
      mesh: part.mesh,
      colour: LOOSE_COLOUR,
      solidity: 1,
      chosen: false,
      matrix: matrices.get(String(at.pieces[0]))!.clone().multiply(rowMajor(at.matrix)),
    })),
  )
/** Rods, and wires in their tunnels, where the pieces are together. */
const wayBodies = (build: BuildView): BodySpec[] =>
  (build.ways ?? []).map((way) => ({
    id: `way-${way.id}`,
    number: null,
    of: way.pieces,
    mesh: way.mesh,
    colour: WAY_COLOURS[way.kind] ?? '#3c4a3a',
    solidity: 1,
    chosen: false,
    matrix: new Matrix4(),
  }))
const WAY_COLOURS: Record<string, string> = { rod: '#6f7a80', cable: '#3c4a3a', stand: '#8f5b34' }
const LOOSE_COLOUR = '#8f5b34'

export const MARK_COLOURS: Record<string, string> = { keep: '#825707', show: '#2f4e6f', hidden: '#6d6258' }

/** The marks, lying on the model. */
const patches = (build: BuildView): BodySpec[] =>
  (build.marks ?? []).map((mark) => ({
    id: `mark-${mark.id}`,
    number: null,
    mesh: mark.mesh,
    colour: MARK_COLOURS[mark.kind]!,
    solidity: 1,
    chosen: false,
    matrix: new Matrix4(),
    patch: true,
  }))

const spec = (piece: PieceView, matrix: Matrix4, chosen: boolean): BodySpec => ({
  id: String(piece.number),
  number: piece.number,
  mesh: piece.mesh,
  colour: pigment(piece.number),
  solidity: 1,
  chosen,
  matrix,
})

/** Where the pieces stand when moved apart from the middle; heights move more, since most models are tall. */
export function spreadOf(build: BuildView, spread: number): Map<string, Matrix4> {
  const out = new Map<string, Matrix4>()
  const model = build.model
  if (!model) return out
  const low = new Vector3(...model.low_mm)
  const middle = new Vector3(...model.high_mm).add(low).multiplyScalar(0.5)
  for (const piece of build.pieces ?? []) {
    const centre = new Vector3(...piece.low_mm).add(new Vector3(...piece.high_mm)).multiplyScalar(0.5)
    const away = centre.clone().sub(middle)
    away.z = centre.z - low.z
    out.set(
      String(piece.number),
      new Matrix4().makeTranslation(
        away.x * spread * 0.9,
        away.y * spread * 0.9,
        (away.z - (build.pieces?.length === 1 ? away.z : 0)) * spread * 0.6,
      ),
    )
  }
  return out
}

/** A 3 × 4 matrix given row by row. */
export function rowMajor(m: readonly number[]): Matrix4 {
  const [a, b, c, d, e, f, g, h, i, j, k, l] = m as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ]
  return new Matrix4().set(a, b, c, d, e, f, g, h, i, j, k, l, 0, 0, 0, 1)
}
