/** Pictures behind the model: planes with a photograph or drawing on them, which are only looked at. */
import {
  DoubleSide,
  Group,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  PlaneGeometry,
  SRGBColorSpace,
  TextureLoader,
  Vector3,
  type Texture,
} from 'three'
import type { Plan } from '@/api/client'
import type { Plane } from './plane'

export type BackPicture = NonNullable<Plan['pictures']>[number]

/** Where a picture lies: its middle, its directions to the right and up as it is seen, and towards the eye. */
export function planeOf(picture: BackPicture): Plane & { middle: Vector3 } {
  const [right, up, away] = [picture.right_mm ?? 0, picture.up_mm ?? 0, picture.away_mm ?? 0]
  const view = picture.view ?? 'front'
  const [u, v] = {
    front: [new Vector3(1, 0, 0), new Vector3(0, 0, 1)],
    side: [new Vector3(0, 1, 0), new Vector3(0, 0, 1)],
    top: [new Vector3(1, 0, 0), new Vector3(0, 1, 0)],
  }[view] as [Vector3, Vector3]
  const n = u.clone().cross(v)
  const at = { front: [right, away, up], side: [away, right, up], top: [right, up, away] }[view]
  const middle = new Vector3(...(at as [number, number, number]))
  return { origin: middle, middle, u, v, n }
}

/** How far right and up a point is, as a picture has its middle. */
export function seenAt(picture: BackPicture, point: readonly number[]): [number, number] {
  const [x, y, z] = point as [number, number, number]
  return { front: [x, z], side: [y, z], top: [x, y] }[picture.view ?? 'front'] as [number, number]
}

export class Pictures {
  readonly group = new Group()
  private readonly loader = new TextureLoader()
  private readonly textures = new Map<string, Promise<Texture>>()
  private wish = 0

  /** Show these; resolves when all are there, or a newer wish came. */
  async show(pictures: readonly BackPicture[]): Promise<boolean> {
    const wish = ++this.wish
    const textures = await Promise.all(pictures.map((p) => this.texture(p.source)))
    if (wish !== this.wish) return false
    for (const child of [...this.group.children]) {
      const mesh = child as Mesh<PlaneGeometry, MeshBasicMaterial>
      mesh.geometry.dispose()
      mesh.material.dispose()
      this.group.remove(mesh)
    }
    pictures.forEach((picture, k) => this.group.add(sheet(picture, textures[k]!)))
    return true
  }

  /** Whether they lie over everything, so that they can be pointed at. */
  over(all: boolean): void {
    for (const child of this.group.children) {
      const mesh = child as Mesh<PlaneGeometry, MeshBasicMaterial>
      mesh.material.depthTest = !all
      mesh.renderOrder = all ? 5 : -1
    }
  }

  private texture(source: string): Promise<Texture> {
    const known = this.textures.get(source)
    if (known) return known
    const wanted = this.loader.loadAsync(`/api/pictures/${source}`).then((texture) => {
      texture.colorSpace = SRGBColorSpace
      return texture
    })
    this.textures.set(source, wanted)
    return wanted
  }
}

function sheet(picture: BackPicture, texture: Texture): Mesh<PlaneGeometry, MeshBasicMaterial> {
  const wide = picture.across_mm ?? 200
  const { middle, u, v, n } = planeOf(picture)
  const strength = (picture.strength_percent ?? 70) / 100
  const mesh = new Mesh(
    new PlaneGeometry(wide, (wide * picture.high_px) / picture.wide_px),
    new MeshBasicMaterial({
      map: texture,
      transparent: true,
      opacity: strength,
      side: DoubleSide,
      depthWrite: false,
    }),
  )
  mesh.matrixAutoUpdate = false
  mesh.matrix
    .makeBasis(u, v, n)
    .setPosition(middle)
    .multiply(new Matrix4().makeRotationZ(((picture.turn_deg ?? 0) * Math.PI) / 180))
  mesh.renderOrder = -1
  return mesh
}
