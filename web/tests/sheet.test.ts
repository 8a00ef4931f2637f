/** Places on a face's drawing: what a peg snaps to, and the distances that are shown. */
import { describe, expect, it } from 'vitest'
import { moved, nearestBetween, sideways } from '@/sheet/nearest'
import { snapped } from '@/sheet/snap'

const square = (low: number, high: number) =>
  [[[ [low, low], [high, low], [high, high], [low, high] ]]] as [number, number][][][] // prettier-ignore

describe('snapping', () => {
  const box = { cx: 10, cy: 0 }
  it('takes a centre line, another peg or its mirror image within reach, the nearest of them', () => {
    expect(snapped(10.3, 4.2, box, [], 0.5)).toEqual([10, 4])
    expect(snapped(3.9, 0.2, box, [{ u: 4, v: 7 }], 0.5)).toEqual([4, 0])
    expect(snapped(16.2, -7.1, box, [{ u: 4, v: 7 }], 0.5)).toEqual([16, -7])
    expect(snapped(10.3, 1, box, [{ u: 10.4, v: 9 }], 0.5)[0]).toBe(10.4)
  })
  it('else takes the next half millimetre', () => {
    expect(snapped(12.8, 3.3, box, [], 0.5)).toEqual([13, 3.5])
  })
})

describe('the shortest way between outlines', () => {
  it('is told from either, whichever corner is nearest', () => {
    const way = nearestBetween(square(0, 2), square(5, 9))!
    expect(way.long).toBeCloseTo(Math.hypot(3, 3))
    expect([way.from, way.to]).toEqual([[2, 2], [5, 5]]) // prettier-ignore
    const back = nearestBetween(square(5, 9), square(0, 2))!
    expect([back.from, back.to]).toEqual([[5, 5], [2, 2]]) // prettier-ignore
  })
  it('ends within a side, not only at corners', () => {
    expect(nearestBetween(square(1, 2), square(0, 9))!.long).toBeCloseTo(1)
  })
  it('is none to nothing', () => {
    expect(nearestBetween([], square(0, 1))).toBeNull()
  })
  it('goes out at the two long sides of what runs through', () => {
    const bar = [[[ [-20, -1], [20, -1], [20, 1], [-20, 1] ]]] as [number, number][][][] // prettier-ignore
    expect(sideways(bar, square(-6, 6), [0, 0]).map((w) => w.long)).toEqual([5, 5])
  })
  it('moves with the outline', () => {
    expect(moved(square(0, 1), 2, 3)[0]![0]![2]).toEqual([3, 4])
  })
})
