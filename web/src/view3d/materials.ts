/** Materials of lines and planes: made once each, since a card builds a programme anew for one that was given back. */
import {
  DoubleSide,
  LineBasicMaterial,
  MeshBasicMaterial,
  type BufferGeometry,
  type Group,
  type Material,
  type Mesh,
} from 'three'
import { LineMaterial } from 'three/addons/lines/LineMaterial.js'

const made = new Map<string, Material>()

function once<M extends Material>(key: string, make: () => M): M {
  const there = made.get(key)
  if (there) return there as M
  const material = make()
  made.set(key, material)
  return material
}

/** A line one pixel wide; `over` draws it also where something lies before it. */
export const thinLine = (colour: string, opacity: number, over = false): LineBasicMaterial =>
  once(
    `thin ${colour} ${opacity} ${over}`,
    () => new LineBasicMaterial({ color: colour, transparent: opacity < 1, opacity, depthTest: !over }),
  )

/** A line of a width in pixels. */
export const broadLine = (colour: string, width: number, over: boolean): LineMaterial =>
  once(
    `broad ${colour} ${width} ${over}`,
    () => new LineMaterial({ color: colour, linewidth: width, depthTest: !over }),
  )

/** The sheet of a parting plane, seen through. */
export const planeSheet = (opacity: number): MeshBasicMaterial =>
  once(
    `sheet ${opacity}`,
    () =>
      new MeshBasicMaterial({
        color: '#e0a890',
        transparent: true,
        opacity,
        side: DoubleSide,
        depthWrite: false,
      }),
  )

/** Empty a group whose materials are those above, and give back what its shapes hold on the graphics card. */
export function discard(group: Group): void {
  for (const drawn of group.children as Mesh<BufferGeometry, Material>[]) drawn.geometry.dispose()
  group.clear()
}
