/** Pieces as a parting would cut them where it is dragged to: what lies on its other side takes the colour of its neighbour. */
import { Plane as CutBy, Vector4, type Box3 } from 'three'
import type { FaceView, Parting, PieceView } from '@/api/client'
import { pigment } from '@/api/format'
import { cameOf, sideOf } from '@/api/pieceKeys'
import type { Plane } from './plane'

/** A plane (x, y, z of its normal, less its offset): what of a body lies below it is drawn in another colour. */
export interface Split {
  plane: Vector4
  colour: string
}

type Named = Pick<PieceView, 'key' | 'number'>
type Between = Pick<FaceView, 'a' | 'b'> & { ref: Pick<FaceView['ref'], 'parting'> }

/**
 * For each piece that a parting cuts, by its number, how it would be split where the parting is at `plane`. `boxOf` gives the
 * box around a piece: one that was not cut yet and lies on one side of the plane stays as it is.
 */
export function splitsAt(
  parting: Parting,
  plane: Plane,
  pieces: readonly Named[],
  faces: readonly Between[],
  boxOf: (number: number) => Box3 | null,
): Map<string, Split> {
  const found = new Map<string, Split>()
  const next = Math.max(0, ...pieces.map((p) => p.number)) + 1
  const { n, origin } = plane
  const own = new Vector4(n.x, n.y, n.z, -n.dot(origin))
  const through = new CutBy(n, own.w)
  for (const piece of pieces) {
    const lies = sideOf(piece.key, parting.id)
    const box = boxOf(piece.number)
    const cut = !parting.only || cameOf(parting.only, piece.key)
    if (!lies && !(cut && box && through.intersectsBox(box))) continue
    found.set(String(piece.number), {
      plane: own.clone().multiplyScalar(lies?.side === '-' ? -1 : 1),
      colour: pigment(neighbour(piece, parting.id, pieces, faces) ?? next),
    })
  }
  return found
}

/** The number of the piece on the other side of the same cut: one it has a face with, else any. */
function neighbour(
  piece: Named,
  id: string,
  pieces: readonly Named[],
  faces: readonly Between[],
): number | undefined {
  const face = faces.find((f) => f.ref.parting === id && (f.a === piece.number || f.b === piece.number))
  if (face) return face.a === piece.number ? face.b : face.a
  const lies = sideOf(piece.key, id)
  if (!lies) return undefined
  const before = piece.key.split(' ').slice(0, lies.at).join(' ')
  return pieces.find((one) => {
    const other = sideOf(one.key, id)
    return (
      other?.at === lies.at &&
      other.side !== lies.side &&
      one.key.split(' ').slice(0, lies.at).join(' ') === before
    )
  })?.number
}
