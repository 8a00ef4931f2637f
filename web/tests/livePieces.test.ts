import { Box3, Vector3, Vector4 } from 'three'
import { describe, expect, it } from 'vitest'
import type { Parting } from '@/api/client'
import { pigment } from '@/api/format'
import { splitsAt } from '@/view3d/livePieces'
import { frameOf } from '@/view3d/plane'

const parting = (more: object = {}) => ({ id: 'p1', kind: 'flat', axis: 'z', at_mm: 10, ...more }) as Parting
const at = frameOf(new Vector3(0, 0, 12), new Vector3(0, 0, 1))
const below = (plane: Vector4, z: number) =>
  new Vector3(plane.x, plane.y, plane.z).dot(new Vector3(3, 4, z)) + plane.w < 0

describe('pieces where a parting is dragged to', () => {
  const pieces = [
    { key: 'p1+ p2+', number: 1 },
    { key: 'p1+ p2-', number: 2 },
    { key: 'p1-.1', number: 3 },
    { key: 'p10+', number: 4 },
  ]

  const faces = [{ a: 2, b: 3, ref: { parting: 'p1' } }]
  const whole = [{ key: 'whole', number: 1 }]
  /** the fourth lies below the plane, all others reach through it */
  const boxOf = (number: number) => new Box3(new Vector3(0, 0, 0), new Vector3(9, 9, number === 4 ? 8 : 30))

  it('gives what changes sides the colour of the neighbour there', () => {
    const found = splitsAt(parting(), at, pieces, faces, boxOf)
    expect([...found.keys()]).toEqual(['1', '2', '3'])
    expect(found.get('1')!.colour).toBe(pigment(3))
    expect(found.get('3')!.colour).toBe(pigment(2))
    expect([11, 13].map((z) => below(found.get('1')!.plane, z))).toEqual([true, false])
    expect([11, 13].map((z) => below(found.get('3')!.plane, z))).toEqual([false, true])
  })

  it('splits a piece that was not cut yet, if the parting is set to cut it', () => {
    expect(splitsAt(parting(), at, whole, [], boxOf).get('1')!.colour).toBe(pigment(2))
    expect(splitsAt(parting({ only: ['p9+'] }), at, whole, [], boxOf).size).toBe(0)
  })
})
