/** The 3-D stage: renderer, camera, light, the bodies on it, the bed and the planes. No Vue in here. */
import {
  AmbientLight,
  Box3,
  BufferGeometry,
  Color,
  DirectionalLight,
  DoubleSide,
  Float32BufferAttribute,
  FrontSide,
  Group,
  HemisphereLight,
  LineLoop,
  LineSegments,
  Matrix4,
  Mesh,
  PerspectiveCamera,
  Plane as CuttingPlane,
  Ray,
  Raycaster,
  Scene,
  Vector2,
  Vector3,
  WebGLRenderer,
} from 'three'
import { OrbitControls } from 'three/addons/controls/OrbitControls.js'
import { LineSegments2 } from 'three/addons/lines/LineSegments2.js'
import { LineSegmentsGeometry } from 'three/addons/lines/LineSegmentsGeometry.js'
import { Copies, type CopiesSpec } from './copies'
import { cutawayMaterial, type BodyMaterial } from './cutaway'
import type { Split } from './livePieces'
import { lightDrawing, pixelRatio } from './lightDrawing'
import { tone } from '@/ui/night'
import { broadLine, discard, planeSheet, thinLine } from './materials'
import { geometryOf, treeOf } from './meshes'
import { Pictures, type BackPicture } from './pictures'
import type { Plane } from './plane'

export interface BodySpec {
  id: string
  number: number | null
  /** the numbers of the pieces a loose part joins; it is shown where all of them are */
  of?: readonly number[]
  mesh: string
  colour: string
  /** how strongly it is drawn: 1 plain, less see-through */
  solidity: number
  chosen: boolean
  matrix: Matrix4
  /** lies on the surface of another body and is never picked */
  patch?: boolean
  /** seen through what lies before it */
  through?: boolean
  /** coloured by the thickness of its walls */
  walls?: boolean
  /** stripes over it, by their number (see api/states.ts) */
  hatch?: number
}

/** A line to draw. */
export interface Drawn {
  points: readonly number[]
  colour: string
  width: number
  /** also where the model lies before it */
  over?: boolean
}

/** Where a ray from the screen meets the surface. */
export interface Hit {
  point: Vector3
  normal: Vector3
  number: number | null
}

export type ViewName = 'front' | 'side' | 'top' | 'corner'
const DIRECTIONS: Record<ViewName, Vector3> = {
  front: new Vector3(0, -1, 0.02),
  side: new Vector3(1, 0, 0.02),
  top: new Vector3(0, -0.001, 1),
  corner: new Vector3(0.62, -0.85, 0.42),
}

interface Shown {
  spec: BodySpec
  mesh: Mesh<BufferGeometry, BodyMaterial>
}

export class Stage {
  readonly camera = new PerspectiveCamera(28, 1, 1, 20000)
  readonly controls: OrbitControls
  private readonly renderer: WebGLRenderer
  private readonly scene = new Scene()
  private readonly bodies = new Group()
  private readonly bed = new Group()
  private readonly planes = new Group()
  private readonly marks = new Group()
  private readonly lines = new Group()
  /** pictures behind the model */
  private readonly pictures = new Pictures()
  /** bodies that stand about in many places */
  readonly copies = new Copies()
  private cut: CuttingPlane[] = []
  private splits: ReadonlyMap<string, Split> = new Map()
  private shown = new Map<string, Shown>()
  private wish = 0
  private frame = 0
  onDraw: () => void = () => undefined
  /** how much of the view a bar covers at the bottom, pixels */
  covered = 0

  constructor(readonly canvas: HTMLCanvasElement) {
    this.renderer = new WebGLRenderer({ canvas, antialias: !lightDrawing.value, alpha: true })
    this.renderer.setPixelRatio(pixelRatio())
    this.renderer.localClippingEnabled = true
    this.camera.up.set(0, 0, 1)
    this.camera.position.set(620, -850, 420)
    this.controls = new OrbitControls(this.camera, canvas)
    this.controls.addEventListener('change', () => this.draw())
    const sun = new DirectionalLight('#fff6e6', 1.5)
    sun.position.set(-0.5, -1, 1.4)
    const fill = new DirectionalLight('#dfe8f2', 0.5)
    fill.position.set(1, 0.3, 0.2)
    this.scene.add(
      new AmbientLight('#ffffff', 0.75),
      new HemisphereLight('#fffaf0', '#a8977c', 0.9),
      sun,
      fill,
    )
    this.scene.add(
      this.pictures.group,
      this.bodies,
      this.copies.group,
      this.bed,
      this.planes,
      this.marks,
      this.lines,
    )
  }

  resize(width: number, height: number): void {
    if (width < 1 || height < 1) return
    this.renderer.setSize(width, height, false)
    this.camera.aspect = width / height
    this.camera.updateProjectionMatrix()
    this.draw()
  }

  draw(): void {
    if (this.frame) return
    this.frame = requestAnimationFrame(() => {
      this.frame = 0
      this.renderer.render(this.scene, this.camera)
      this.onDraw()
    })
  }

  /** Show these bodies; resolves when all are there (or a newer wish came). */
  async show(specs: readonly BodySpec[]): Promise<boolean> {
    const wish = ++this.wish
    const geometries = await Promise.all(specs.map((s) => geometryOf(s.mesh)))
    if (wish !== this.wish) return false
    const next = new Map<string, Shown>()
    specs.forEach((spec, i) => {
      const geometry = geometries[i]!
      const old = this.shown.get(spec.id)
      const mesh = old?.mesh ?? new Mesh(geometry, cutawayMaterial())
      mesh.geometry = geometry
      mesh.matrixAutoUpdate = false
      mesh.matrix.copy(spec.matrix)
      mesh.matrixWorldNeedsUpdate = true
      const material = mesh.material
      const walls = spec.walls === true && geometry.hasAttribute('color')
      material.color = new Color(walls ? '#ffffff' : spec.colour)
      if (material.vertexColors !== walls) {
        material.vertexColors = walls
        material.needsUpdate = true
      }
      material.hatch.value = spec.hatch ?? 0
      material.split(this.splits.get(spec.id))
      material.clippingPlanes = this.cut
      material.side = this.cut.length ? DoubleSide : FrontSide
      material.emissive = new Color(spec.chosen ? '#5a1e08' : '#000000')
      material.emissiveIntensity = spec.chosen ? 0.55 : 0
      if (material.transparent !== spec.solidity < 1) {
        material.transparent = spec.solidity < 1
        material.needsUpdate = true
      }
      material.opacity = spec.solidity
      material.depthWrite = spec.solidity > 0.5
      material.depthTest = !spec.through
      mesh.renderOrder = spec.through ? 4 : 0
      // bodies lie a hair behind the lines on them, and patches a hair before them
      material.polygonOffset = true
      material.polygonOffsetFactor = material.polygonOffsetUnits = spec.patch ? -1 : 1
      if (!old) this.bodies.add(mesh)
      next.set(spec.id, { spec, mesh })
    })
    for (const [id, { mesh }] of this.shown) {
      if (next.has(id)) continue
      this.bodies.remove(mesh)
      mesh.material.dispose()
    }
    this.shown = next
    this.draw()
    return true
  }

  /** Show pictures behind the model; resolves when they are there. */
  async showPictures(pictures: readonly BackPicture[]): Promise<void> {
    if (await this.pictures.show(pictures)) this.draw()
  }
  /** Whether pictures lie over the model. */
  picturesOver(all: boolean): void {
    this.pictures.over(all)
    this.draw()
  }

  /** Show bodies that stand in many places round all others; resolves when they are there. */
  async showCopies(specs: readonly CopiesSpec[]): Promise<boolean> {
    const done = await this.copies.show(specs, this.cut)
    this.draw()
    return done
  }

  /** Cut away what lies in front of a plane; nothing is cut away without one. */
  showCut(plane: { normal: Vector3; offset: number } | null): void {
    this.cut = plane ? [new CuttingPlane(plane.normal.clone().negate(), plane.offset)] : []
    this.copies.cut(this.cut)
    for (const { mesh } of this.shown.values()) {
      mesh.material.clippingPlanes = this.cut
      mesh.material.side = plane ? DoubleSide : FrontSide
      mesh.material.needsUpdate = true
    }
    this.draw()
  }

  /** Draw bodies, by their ids, in two colours where a plane splits them; the others in one. */
  showSplits(splits: ReadonlyMap<string, Split>): void {
    this.splits = splits
    for (const [id, { mesh }] of this.shown) mesh.material.split(splits.get(id))
    this.draw()
  }

  /** Draw pairs of points (three numbers each) in colours, over everything. */
  showMarks(lines: readonly { points: readonly number[]; colour: string }[]): void {
    discard(this.marks)
    for (const { points, colour } of lines) {
      if (points.length === 0) continue
      const drawn = segments(points, colour, 1, true)
      drawn.renderOrder = 5
      this.marks.add(drawn)
    }
    this.draw()
  }

  /** Draw lines (pairs of points, three numbers each): on the model, hidden where something lies before them, or over it. */
  showLines(lines: readonly Drawn[]): void {
    discard(this.lines)
    for (const { points, colour, width, over } of lines) {
      if (points.length === 0) continue
      const geometry = new LineSegmentsGeometry()
      geometry.setPositions([...points])
      const drawn = new LineSegments2(geometry, broadLine(colour, width, over === true))
      drawn.renderOrder = over ? 6 : 3
      this.lines.add(drawn)
    }
    this.draw()
  }

  /** Move bodies without loading anything. */
  move(matrices: ReadonlyMap<string, Matrix4>): void {
    for (const [id, matrix] of matrices) {
      const one = this.shown.get(id)
      if (!one) continue
      one.mesh.matrix.copy(matrix)
      one.mesh.matrixWorldNeedsUpdate = true
    }
    this.draw()
  }

  showBed(size: readonly [number, number, number] | null): void {
    discard(this.bed)
    if (size) {
      const [x, y, z] = size
      const lines: number[] = []
      const line = (...p: number[]) => lines.push(...p)
      for (let g = -Math.floor(x / 40) * 20; g <= x / 2; g += 20) line(g, -y / 2, 0, g, y / 2, 0)
      for (let g = -Math.floor(y / 40) * 20; g <= y / 2; g += 20) line(-x / 2, g, 0, x / 2, g, 0)
      this.bed.add(segments(lines, tone('--bed-line'), 0.7))
      const frame: number[] = []
      const corners = [
        [-x / 2, -y / 2],
        [x / 2, -y / 2],
        [x / 2, y / 2],
        [-x / 2, y / 2],
      ] as const
      corners.forEach(([cx, cy], i) => {
        const [dx, dy] = corners[(i + 1) % 4]!
        frame.push(cx, cy, 0, dx, dy, 0)
        const tick = Math.min(z, 0.06 * z)
        frame.push(cx, cy, 0, cx, cy, tick, cx, cy, z - tick, cx, cy, z)
        frame.push(cx, cy, z, cx + (dx - cx) * 0.06, cy + (dy - cy) * 0.06, z)
        frame.push(dx, dy, z, dx + (cx - dx) * 0.06, dy + (cy - dy) * 0.06, z)
      })
      this.bed.add(segments(frame, tone('--scale'), 1))
    }
    this.draw()
  }

  /** Show parting planes as quads that cover `box`. */
  showPlanes(planes: readonly { plane: Plane; strong: boolean }[], box: Box3): void {
    discard(this.planes)
    for (const { plane, strong } of planes) {
      const corners = quadOf(plane, box)
      const flat = new BufferGeometry()
      flat.setAttribute(
        'position',
        new Float32BufferAttribute(
          corners.flatMap((c) => c.toArray()),
          3,
        ),
      )
      this.planes.add(new LineLoop(flat, thinLine(tone('--cedar'), strong ? 1 : 0.5)))
      const fill = flat.clone()
      fill.setIndex([0, 1, 2, 0, 2, 3])
      this.planes.add(new Mesh(fill, planeSheet(strong ? 0.34 : 0.14)))
    }
    this.draw()
  }

  /** Box around everything shown, in the world. */
  extent(): Box3 {
    const box = new Box3()
    for (const { mesh } of this.shown.values())
      if (mesh.geometry.boundingBox) box.union(mesh.geometry.boundingBox.clone().applyMatrix4(mesh.matrix))
    return box.isEmpty() ? new Box3(new Vector3(-100, -100, 0), new Vector3(100, 100, 150)) : box
  }

  /** Box around one body, in the world. */
  boxOf(id: string): Box3 | null {
    const one = this.shown.get(id)
    return one?.mesh.geometry.boundingBox?.clone().applyMatrix4(one.mesh.matrix) ?? null
  }

  /** Box around one body where it is in the model, wherever it has been moved. */
  restingBox(id: string): Box3 | null {
    return this.shown.get(id)?.mesh.geometry.boundingBox ?? null
  }

  look(view: ViewName, box: Box3 = this.extent()): void {
    this.lookFrom(DIRECTIONS[view], box)
  }

  /** Look at a box from a direction, so near that it just fills the view. */
  lookFrom(from: Vector3, box: Box3 = this.extent()): void {
    const centre = box.getCenter(new Vector3())
    const direction = from.clone().normalize()
    // straight down or up the view has no up; it leans a hair to the front
    if (Math.abs(direction.z) > 0.9999) direction.add(new Vector3(0, -0.001, 0)).normalize()
    const right = new Vector3().crossVectors(this.camera.up, direction).normalize()
    const up = new Vector3().crossVectors(direction, right)
    // what a bar covers at the bottom is no room; the middle of what is left is above the middle of all
    const open = 1 - this.covered / Math.max(1, this.canvas.clientHeight)
    const lens = Math.tan((this.camera.fov * Math.PI) / 360)
    const slope = lens * 0.84
    let distance = 1
    for (let k = 0; k < 8; k++) {
      const corner = new Vector3(
        k & 1 ? box.max.x : box.min.x,
        k & 2 ? box.max.y : box.min.y,
        k & 4 ? box.max.z : box.min.z,
      ).sub(centre)
      const across = Math.max(
        Math.abs(corner.dot(up)) / open,
        Math.abs(corner.dot(right)) / this.camera.aspect,
      )
      distance = Math.max(distance, across / slope + corner.dot(direction))
    }
    centre.addScaledVector(up, -distance * lens * (1 - open))
    this.camera.position.copy(centre).addScaledVector(direction, distance)
    this.camera.near = Math.max(0.5, distance / 500)
    this.camera.far = distance * 20
    this.camera.updateProjectionMatrix()
    this.controls.target.copy(centre)
    this.controls.update()
    this.draw()
  }

  /** Screen position (px) of a world point. */
  project(point: Vector3): Vector2 {
    const p = point.clone().project(this.camera)
    return new Vector2(((p.x + 1) / 2) * this.canvas.clientWidth, ((1 - p.y) / 2) * this.canvas.clientHeight)
  }

  /** Pixels for a millimetre at a place. */
  scaleAt(point: Vector3): number {
    const away = this.camera.position.distanceTo(point)
    return this.canvas.clientHeight / (2 * away * Math.tan((this.camera.fov * Math.PI) / 360))
  }

  /** The ray from the eye through a screen position. */
  rayAt(x: number, y: number): Ray {
    const caster = new Raycaster()
    const at = new Vector2((x / this.canvas.clientWidth) * 2 - 1, 1 - (y / this.canvas.clientHeight) * 2)
    caster.setFromCamera(at, this.camera)
    return caster.ray
  }

  /** Where the line of sight through a screen position meets a plane. */
  meet(x: number, y: number, plane: Plane): Vector3 | null {
    const flat = new CuttingPlane().setFromNormalAndCoplanarPoint(plane.n, plane.origin)
    return this.rayAt(x, y).intersectPlane(flat, new Vector3())
  }

  /** Where the surface lies under a screen position; what is cut away does not count. */
  async pick(x: number, y: number): Promise<Hit | null> {
    return this.first(this.rayAt(x, y))
  }

  /** Where another part lies under a screen position. */
  async pickOther(x: number, y: number): Promise<Hit | null> {
    const hit = await this.copies.first(this.rayAt(x, y))
    return hit && { ...hit, number: null }
  }

  /** The first point where a ray meets a body. */
  async first(ray: Ray): Promise<Hit | null> {
    let nearest = Infinity
    let found: Hit | null = null
    for (const { spec, mesh } of this.shown.values()) {
      if (spec.patch) continue
      const tree = await treeOf(mesh.geometry)
      const own = new Ray().copy(ray).applyMatrix4(mesh.matrix.clone().invert())
      for (const hit of tree.raycast(own, DoubleSide)) {
        const point = hit.point.clone().applyMatrix4(mesh.matrix)
        if (this.cut.some((plane) => plane.distanceToPoint(point) < 0)) continue
        const distance = point.distanceTo(ray.origin)
        if (distance >= nearest) continue
        nearest = distance
        const normal = hit.face!.normal.clone().transformDirection(mesh.matrix)
        found = { point, normal, number: spec.number }
      }
    }
    return found
  }

  /** Look at a place from the side it faces, near enough to see `reach` around it. */
  fly(at: Vector3, reach: number): void {
    const away = this.camera.position.clone().sub(this.controls.target).normalize()
    const distance = Math.max(8, reach * 6)
    this.controls.target.copy(at)
    this.camera.position.copy(at).addScaledVector(away, distance)
    this.camera.near = Math.max(0.05, distance / 500)
    this.camera.updateProjectionMatrix()
    this.controls.update()
    this.draw()
  }

  geometry(id: string): BufferGeometry | null {
    return this.shown.get(id)?.mesh.geometry ?? null
  }

  /** Give back everything that was made here. Geometries are shared: another stage uploads what it still draws of them. */
  end(): void {
    cancelAnimationFrame(this.frame)
    this.copies.clear()
    this.scene.traverse((thing) => {
      const { geometry, material } = thing as Partial<Mesh>
      geometry?.dispose()
      for (const one of Array.isArray(material) ? material : [material]) one?.dispose()
    })
    this.scene.clear()
    this.controls.dispose()
    this.renderer.dispose()
    this.renderer.forceContextLoss()
  }
}

/** Corners of a quad in `plane` that covers `box` with a margin. */
export function quadOf(plane: Plane, box: Box3): [Vector3, Vector3, Vector3, Vector3] {
  let [u0, u1, v0, v1] = [Infinity, -Infinity, Infinity, -Infinity]
  for (let k = 0; k < 8; k++) {
    const corner = new Vector3(
      k & 1 ? box.max.x : box.min.x,
      k & 2 ? box.max.y : box.min.y,
      k & 4 ? box.max.z : box.min.z,
    ).sub(plane.origin)
    u0 = Math.min(u0, corner.dot(plane.u))
    u1 = Math.max(u1, corner.dot(plane.u))
    v0 = Math.min(v0, corner.dot(plane.v))
    v1 = Math.max(v1, corner.dot(plane.v))
  }
  const margin = 0.06 * Math.max(u1 - u0, v1 - v0)
  const at = (u: number, v: number) =>
    plane.origin.clone().addScaledVector(plane.u, u).addScaledVector(plane.v, v)
  return [
    at(u0 - margin, v0 - margin),
    at(u1 + margin, v0 - margin),
    at(u1 + margin, v1 + margin),
    at(u0 - margin, v1 + margin),
  ]
}

function segments(points: readonly number[], colour: string, opacity: number, over = false): LineSegments {
  const geometry = new BufferGeometry()
  geometry.setAttribute('position', new Float32BufferAttribute(points, 3))
  return new LineSegments(geometry, thinLine(colour, opacity, over))
}
