/** Small still pictures of bodies, drawn off the screen. */
import {
  AmbientLight,
  Box3,
  Color,
  DirectionalLight,
  HemisphereLight,
  Mesh,
  MeshLambertMaterial,
  PerspectiveCamera,
  Scene,
  Vector3,
  WebGLRenderer,
} from 'three'
import { rowMajor } from './bodies'
import { geometryOf } from './meshes'

/** A mesh, its colour, and where it stands (3 × 4, row by row) if not where it was drawn; then nothing is moved apart. */
export interface Pictured {
  mesh: string
  colour: string
  matrix?: readonly number[]
}

const [WIDTH, HEIGHT] = [264, 264]

/** A picture (as a data address) of coloured meshes where they stand, moved apart a little, seen from a corner. */
export async function pictureOf(bodies: readonly Pictured[]): Promise<string> {
  const geometries = await Promise.all(bodies.map((b) => geometryOf(b.mesh)))
  const renderer = new WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true })
  const materials: MeshLambertMaterial[] = []
  try {
    renderer.setSize(WIDTH, HEIGHT, false)
    const scene = new Scene()
    const sun = new DirectionalLight('#fff6e6', 1.5)
    sun.position.set(-0.5, -1, 1.4)
    scene.add(new AmbientLight('#ffffff', 0.75), new HemisphereLight('#fffaf0', '#a8977c', 0.9), sun)
    const places = bodies.map((b) => (b.matrix ? rowMajor(b.matrix) : null))
    const boxes = geometries.map((g, k) => {
      const own = g.boundingBox!.clone()
      return places[k] ? own.applyMatrix4(places[k]) : own
    })
    const whole = new Box3()
    for (const own of boxes) whole.union(own)
    const middle = whole.getCenter(new Vector3())
    const box = new Box3()
    geometries.forEach((geometry, k) => {
      const material = new MeshLambertMaterial({ color: new Color(bodies[k]!.colour) })
      materials.push(material)
      const body = new Mesh(geometry, material)
      const place = places[k]
      if (place) {
        body.matrixAutoUpdate = false
        body.matrix.copy(place)
        box.union(boxes[k]!)
      } else {
        const own = boxes[k]!.getCenter(new Vector3()).sub(middle).multiplyScalar(0.16)
        body.position.copy(own)
        box.union(boxes[k]!.clone().translate(own))
      }
      scene.add(body)
    })
    const camera = new PerspectiveCamera(28, WIDTH / HEIGHT, 1, 50_000)
    camera.up.set(0, 0, 1)
    const centre = box.getCenter(new Vector3())
    const away = box.getSize(new Vector3()).length() / 2 / Math.sin((14 * Math.PI) / 180)
    camera.position.copy(centre).addScaledVector(new Vector3(0.62, -0.85, 0.5).normalize(), away)
    camera.lookAt(centre)
    camera.near = away / 100
    camera.far = away * 4
    camera.updateProjectionMatrix()
    renderer.render(scene, camera)
    return renderer.domElement.toDataURL('image/png')
  } finally {
    for (const material of materials) material.dispose()
    renderer.dispose()
    renderer.forceContextLoss()
  }
}
