/** The thickness map: a colour for every corner of a mesh, thin to thick. */
import { BufferAttribute, type BufferGeometry } from 'three'
import { refusalOf } from '@/api/client'

/** Colours from thin to thick; the first stands for what is below the least wall. */
export const SHADES = ['#b3321f', '#d98a3d', '#e8cf9f', '#9db08c', '#5f7f8f'] as const

const kept = new Map<string, Promise<Float32Array>>()

/** Thickness under every corner of a display mesh, in mm. */
export function thicknessOf(name: string): Promise<Float32Array> {
  const there = kept.get(name)
  if (there) return there
  const asked = fetch(`/api/meshes/${name}/thickness`).then(async (answer) => {
    if (!answer.ok) throw refusalOf(await answer.json().catch(() => undefined), answer.status)
    return new Float32Array(await answer.arrayBuffer())
  })
  kept.set(name, asked)
  asked.catch(() => kept.delete(name))
  return asked
}

/** Limits between the shades for a least wall: below it, to twice, to four times, to eight times, more. */
export const limits = (leastWall: number): number[] => [1, 2, 4, 8].map((f) => f * leastWall)

/** Colour a geometry by its thickness. */
export const colourWalls = (geometry: BufferGeometry, thickness: Float32Array, leastWall: number): void =>
  colour(geometry, thickness, limits(leastWall), SHADES)

/** Gaps that part the shades of the play between two parts: run into each other, tight, to slide, loose, more. */
export const GAPS = [0, 0.1, 0.25, 0.5] as const
const PLAIN = '#d9cfbd'

/** Colour a geometry by the gaps before it, mm; what looks at nothing stays plain. */
export const colourGaps = (geometry: BufferGeometry, gaps: Float32Array): void =>
  colour(geometry, gaps, [...GAPS, 1e8], [...SHADES, PLAIN])

function colour(
  geometry: BufferGeometry,
  thickness: Float32Array,
  bounds: readonly number[],
  hexes: readonly string[],
): void {
  const shades = hexes.map((hex) => [1, 3, 5].map((at) => linear(parseInt(hex.slice(at, at + 2), 16) / 255)))
  const colours = new Float32Array(thickness.length * 3)
  for (let i = 0; i < thickness.length; i++) {
    let k = 0
    while (k < bounds.length && thickness[i]! >= bounds[k]!) k++
    colours.set(shades[k]!, i * 3)
  }
  geometry.setAttribute('color', new BufferAttribute(colours, 3))
}

const linear = (v: number): number => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)
