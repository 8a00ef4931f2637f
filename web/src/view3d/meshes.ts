/** Fetches display meshes by name and keeps them; see hinoki/present/display_mesh.py for the layout. */
import { BufferAttribute, BufferGeometry } from 'three'
import { MeshBVH } from 'three-mesh-bvh'
import { GenerateMeshBVHWorker } from 'three-mesh-bvh/worker'
import { Refusal } from '@/api/client'

const kept = new Map<string, Promise<BufferGeometry>>()
const MOST_KEPT = 200

export function geometryOf(name: string): Promise<BufferGeometry> {
  const there = kept.get(name)
  if (there) return there
  const asked = fetchGeometry(name)
  kept.set(name, asked)
  asked.catch(() => kept.delete(name))
  if (kept.size > MOST_KEPT) {
    const [oldest, geometry] = kept.entries().next().value!
    kept.delete(oldest)
    void geometry.then((g) => g.dispose())
  }
  return asked
}

async function fetchGeometry(name: string): Promise<BufferGeometry> {
  const answer = await fetch(`/api/meshes/${name}`)
  if (!answer.ok) throw new Refusal('A drawing is missing; load the page again.', answer.status)
  const buffer = await answer.arrayBuffer()
  const head = new DataView(buffer)
  if (head.getUint32(0, false) !== 0x484e4b31) throw new Refusal('A drawing arrived damaged.', 0)
  const vertices = head.getUint32(4, true)
  const triangles = head.getUint32(8, true)
  const geometry = new BufferGeometry()
  const normalsAt = 12 + vertices * 12
  geometry.setAttribute('position', new BufferAttribute(new Float32Array(buffer, 12, vertices * 3), 3))
  geometry.setAttribute('normal', new BufferAttribute(new Float32Array(buffer, normalsAt, vertices * 3), 3))
  geometry.setIndex(new BufferAttribute(new Uint32Array(buffer, normalsAt + vertices * 12, triangles * 3), 1))
  geometry.computeBoundingBox()
  return geometry
}

const trees = new WeakMap<BufferGeometry, Promise<MeshBVH>>()
let builder: GenerateMeshBVHWorker | null = null
let line: Promise<unknown> = Promise.resolve()

/** The search tree of a geometry, built off the main thread, one after the other. */
export function treeOf(geometry: BufferGeometry): Promise<MeshBVH> {
  const there = trees.get(geometry)
  if (there) return there
  const made = line.then(async () => {
    builder ??= new GenerateMeshBVHWorker()
    // the worker takes the arrays it is given; it gets copies, so that the drawn ones stay
    const copy = new BufferGeometry()
    copy.setAttribute('position', geometry.getAttribute('position').clone())
    copy.setIndex(geometry.getIndex()!.clone())
    return builder.generate(copy, {})
  })
  line = made.catch(() => undefined)
  trees.set(geometry, made)
  return made
}
