/** Bodies that stand in many places, drawn as often as wanted from one geometry. */
import {
  Box3,
  DoubleSide,
  FrontSide,
  Group,
  InstancedMesh,
  Matrix4,
  type BufferGeometry,
  Ray,
  type Plane,
  type Vector3,
} from 'three'
import { cutawayMaterial, type BodyMaterial } from './cutaway'
import { geometryOf, treeOf } from './meshes'

/** A body and all places where it stands. */
export interface CopiesSpec {
  id: string
  mesh: string
  colour: string
  matrices: readonly Matrix4[]
  /** how strongly they are drawn: 1 plain, less see-through */
  solidity: number
}

/** turns left and right about, so that what is mirrored shows its outside */
const MIRROR = new Matrix4().makeScale(-1, 1, 1)

export class Copies {
  readonly group = new Group()
  private wish = 0

  /** Show these; resolves when all are there (or a newer wish came). */
  async show(specs: readonly CopiesSpec[], cut: Plane[]): Promise<boolean> {
    const wish = ++this.wish
    const geometries = await Promise.all(specs.map((s) => geometryOf(s.mesh)))
    if (wish !== this.wish) return false
    this.clear()
    specs.forEach((spec, k) => {
      const plain = spec.matrices.filter((m) => m.determinant() > 0)
      const mirrored = spec.matrices.filter((m) => m.determinant() <= 0)
      if (plain.length) this.add(spec, geometries[k]!, plain, false)
      if (mirrored.length) this.add(spec, geometries[k]!, mirrored, true)
    })
    this.cut(cut)
    return true
  }

  private add(
    spec: CopiesSpec,
    geometry: BufferGeometry,
    places: readonly Matrix4[],
    mirrored: boolean,
  ): void {
    const material = cutawayMaterial()
    material.color.set(spec.colour)
    material.transparent = spec.solidity < 1
    material.opacity = spec.solidity
    material.depthWrite = spec.solidity > 0.5
    material.polygonOffset = true
    material.polygonOffsetFactor = material.polygonOffsetUnits = 1
    const drawn = new InstancedMesh(geometry, material, places.length)
    drawn.name = spec.id
    drawn.matrixAutoUpdate = false
    if (mirrored) drawn.matrix.copy(MIRROR)
    drawn.matrixWorldNeedsUpdate = true
    places.forEach((m, k) => drawn.setMatrixAt(k, mirrored ? MIRROR.clone().multiply(m) : m))
    drawn.instanceMatrix.needsUpdate = true
    drawn.computeBoundingSphere()
    this.group.add(drawn)
  }

  /** Cut away what lies in front of planes. */
  cut(planes: Plane[]): void {
    for (const drawn of this.drawn) {
      const material = drawn.material as BodyMaterial
      material.clippingPlanes = planes
      material.side = planes.length ? DoubleSide : FrontSide
      material.needsUpdate = true
    }
  }

  /** Where a ray first meets one of them. */
  async first(ray: Ray): Promise<{ point: Vector3; normal: Vector3 } | null> {
    let nearest = Infinity
    let found: { point: Vector3; normal: Vector3 } | null = null
    const place = new Matrix4()
    for (const drawn of this.drawn)
      for (let k = 0; k < drawn.count; k++) {
        drawn.getMatrixAt(k, place)
        place.premultiply(drawn.matrix)
        const own = ray.clone().applyMatrix4(place.clone().invert())
        if (drawn.geometry.boundingBox && !own.intersectsBox(drawn.geometry.boundingBox)) continue
        const hit = (await treeOf(drawn.geometry)).raycastFirst(own, DoubleSide)
        if (!hit) continue
        const point = hit.point.clone().applyMatrix4(place)
        const distance = point.distanceTo(ray.origin)
        if (distance >= nearest) continue
        nearest = distance
        const normal = hit.face!.normal.clone().transformDirection(place)
        found = { point, normal: normal.dot(ray.direction) > 0 ? normal.negate() : normal }
      }
    return found
  }

  /** How many bodies are drawn, and in how many draws. */
  get counts(): { bodies: number; draws: number } {
    return { bodies: this.drawn.reduce((n, d) => n + d.count, 0), draws: this.drawn.length }
  }

  /** The box round all of them. */
  extent(): Box3 {
    const box = new Box3()
    const place = new Matrix4()
    for (const drawn of this.drawn)
      for (let k = 0; k < drawn.count; k++) {
        drawn.getMatrixAt(k, place)
        const own = drawn.geometry.boundingBox
        if (own) box.union(own.clone().applyMatrix4(place.premultiply(drawn.matrix)))
      }
    return box
  }

  private get drawn(): InstancedMesh[] {
    return this.group.children as InstancedMesh[]
  }

  clear(): void {
    for (const drawn of [...this.drawn]) {
      this.group.remove(drawn)
      ;(drawn.material as BodyMaterial).dispose()
      drawn.dispose()
    }
  }
}
