/** Planes and live sections in the browser, against a box whose section is known. */
import { BoxGeometry, Vector3 } from 'three'
import { MeshBVH } from 'three-mesh-bvh'
import { describe, expect, it } from 'vitest'
import { frameOf, inPlane, inWorld, planeOfFlat, turned, type FlatParting } from '@/view3d/plane'
import { sectionAt } from '@/view3d/section'

const flat = (more: Partial<FlatParting>) =>
  ({ kind: 'flat', id: 'p1', at_mm: 0, axis: 'z', ...more }) as FlatParting
const box = (x: number, y: number, z: number) => {
  const geometry = new BoxGeometry(x, y, z)
  return { geometry, tree: new MeshBVH(geometry) }
}

describe('the plane of a flat parting', () => {
  it('is square to its axis, its first direction level', () => {
    const plane = planeOfFlat(flat({ axis: 'x', at_mm: 7 }))
    expect(plane.origin.toArray()).toEqual([7, 0, 0])
    expect(plane.n.toArray().map((v) => Math.round(v * 1e9) / 1e9)).toEqual([1, 0, 0])
    expect(plane.u.z).toBeCloseTo(0)
  })
  it('turns about its pivot', () => {
    const plane = planeOfFlat(flat({ at_mm: 5, tilt_deg: [30, 0], pivot_mm: [2, 3] }))
    expect(plane.origin.toArray()).toEqual([2, 3, 5])
    expect(plane.n.angleTo(new Vector3(0, 0, 1))).toBeCloseTo((30 * Math.PI) / 180)
  })
  it('finds a point again that it put into the world', () => {
    const plane = turned(frameOf(new Vector3(1, 2, 3), new Vector3(1, 1, 2)), 25)
    const [u, v] = inPlane(plane, inWorld(plane, 4, -6))
    expect([u, v].map((c) => Math.round(c * 1e9) / 1e9)).toEqual([4, -6])
  })
})

describe('a live section', () => {
  it('of a box has its area, one ring, its wall, and the sizes of both sides', () => {
    const found = sectionAt([box(30, 20, 10)], planeOfFlat(flat({ at_mm: 2 })))
    expect(found.area).toBeCloseTo(600)
    expect(found.rings).toHaveLength(1)
    expect(found.leastWall).toBeCloseTo(20, 0)
    expect(found.below!.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([30, 20, 7])
    expect(found.above!.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([30, 20, 3])
  })
  it('beside the body is nothing', () => {
    const found = sectionAt([box(30, 20, 10)], planeOfFlat(flat({ at_mm: 9 })))
    expect([found.area, found.rings, found.below, found.above]).toEqual([0, [], null, null])
  })
})
