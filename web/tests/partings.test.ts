/** New partings: where one is needed most, which place is free, what a moved one becomes. */
import { describe, expect, it } from 'vitest'
import type { PieceView, Plan } from '@/api/client'
import { keysBefore, movedBy, neediest, newFlat, nextId } from '@/stations/divide/partings'

const piece = (key: string, number: number, size: number[], fits: boolean): PieceView =>
  ({
    key,
    number,
    fits,
    size_mm: size,
    low_mm: [0, 0, 0],
    high_mm: size,
  }) as unknown as PieceView
const plan = (...partings: object[]): Plan => ({ partings }) as unknown as Plan

describe('a new flat parting', () => {
  it('goes through the piece that fits least, across its longest side', () => {
    const pieces = [piece('a', 1, [300, 10, 10], false), piece('b', 2, [10, 10, 199], true)]
    expect(neediest(pieces, [200, 200, 200])).toMatchObject({ axis: 'x', piece: { key: 'a' } })
    expect(newFlat(plan(), pieces, [200, 200, 200])).toMatchObject({
      axis: 'x',
      at_mm: 150,
      pivot_mm: [5, 5],
      id: 'p1',
    })
  })
  it('keeps off another in the same place, and takes a free name', () => {
    const there = { kind: 'flat', id: 'p4', on: true, axis: 'x', at_mm: 150 }
    const made = newFlat(plan(there), [piece('a', 1, [300, 10, 10], false)], [200, 200, 200])
    expect(made).toMatchObject({ at_mm: 155, id: 'p5' })
    expect(nextId(plan())).toBe('p1')
  })
  it('is none where there is no piece', () => {
    expect(newFlat(plan(), [], [200, 200, 200])).toBeNull()
  })
})

describe('a parting that is moved', () => {
  it('goes along its normal, told on its axis', () => {
    const flat = { kind: 'flat', id: 'p1', axis: 'z', at_mm: 10, tilt_deg: [60, 0], pivot_mm: [0, 0] }
    expect(movedBy(flat as never, 3)).toMatchObject({ at_mm: 16 })
    const hatch = { kind: 'hatch', id: 'p2' }
    expect(movedBy(hatch as never, 3)).toBe(hatch)
  })
})

it('pieces that are there before a parting are told with what each becomes', () => {
  const now = plan({ id: 'p1' }, { id: 'p2' })
  const pieces = [
    piece('p1- p2-', 1, [1, 1, 1], true),
    piece('p1- p2+', 2, [1, 1, 1], true),
    piece('p1+', 3, [1, 1, 1], true),
  ]
  expect(keysBefore(now, 'p2', pieces)).toEqual([
    { key: 'p1-', numbers: [1, 2] },
    { key: 'p1+', numbers: [3] },
  ])
  expect(keysBefore(now, 'p1', pieces)).toEqual([{ key: 'whole', numbers: [1, 2, 3] }])
})
