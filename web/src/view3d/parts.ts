/** The project's other parts round the open one, as they stand to its first instance. */
import { Matrix4 } from 'three'
import type { BuildView, Schemas } from '@/api/client'
import type { StationId } from '@/router'
import { rowMajor } from './bodies'
import type { CopiesSpec } from './copies'

/** stations at which the parts stand together */
export const TOGETHER: readonly StationId[] = ['model', 'whole-job', 'divide', 'join', 'check']

type PartView = Schemas['PartView']
const OTHERS = '#b9ad98'
const OWN = '#c9b28a'

/** From the project's coordinates to those of the open part where its first instance stands, which are those of the view. */
export function intoView(build: BuildView): Matrix4 {
  const open = build.parts?.find((p) => p.open)
  return open?.matrices[0] ? rowMajor(open.matrices[0]).invert() : new Matrix4()
}

/** All instances but the one that is worked on, each piece of them drawn as often as its part stands. */
export function otherInstances(build: BuildView, solidity: number): CopiesSpec[] {
  const parts = build.parts ?? []
  const view = intoView(build)
  return parts.flatMap((part: PartView) => {
    const places = (part.open ? part.matrices.slice(1) : part.matrices).map((m) =>
      view.clone().multiply(rowMajor(m)),
    )
    if (!places.length) return []
    return part.pieces.map((piece) => ({
      id: piece.key,
      mesh: piece.mesh,
      colour: part.open ? OWN : OTHERS,
      matrices: places,
      solidity,
    }))
  })
}
