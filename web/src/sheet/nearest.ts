/** The shortest way between two outlines on a flat drawing. */
type Point = readonly [number, number]
type Outline = readonly (readonly (readonly Point[])[])[]

export interface Way {
  from: Point
  to: Point
  long: number
}

/** The shortest way between the rings of two outlines; none where either is empty. */
export function nearestBetween(one: Outline, two: Outline): Way | null {
  const there = nearestFrom(one, two)
  const back = nearestFrom(two, one)
  if (!there || !back) return null
  return there.long <= back.long ? there : { from: back.to, to: back.from, long: back.long }
}

function nearestFrom(points: Outline, outline: Outline): Way | null {
  let best: Way | null = null
  for (const point of points.flatMap((rings) => rings.flatMap((ring) => [...ring])))
    for (const ring of outline.flat())
      for (let k = 0; k < ring.length; k++) {
        const to = onSegment(point, ring[k]!, ring[(k + 1) % ring.length]!)
        const long = Math.hypot(to[0] - point[0], to[1] - point[1])
        if (!best || long < best.long) best = { from: point, to, long }
      }
  return best
}

function onSegment(p: Point, a: Point, b: Point): Point {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]]
  const square = dx * dx + dy * dy
  const share = square > 0 ? Math.min(1, Math.max(0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / square)) : 0
  return [a[0] + share * dx, a[1] + share * dy]
}

/** The ways from the two long sides of a shape about `at` to an outline beyond them: for shapes that run out of the outline. */
export function sideways(shape: Outline, outline: Outline, at: Point): Way[] {
  const along = longestSide(shape)
  if (!along) return []
  return [1, -1].flatMap((side) => {
    const way: Point = [-along[1] * side, along[0] * side]
    const from = Math.max(...crossings(shape, at, way), 0)
    const to = Math.min(...crossings(outline, at, way).filter((t) => t > from))
    if (!Number.isFinite(to)) return []
    const on = (t: number): Point => [at[0] + t * way[0], at[1] + t * way[1]]
    return [{ from: on(from), to: on(to), long: to - from }]
  })
}

function longestSide(shape: Outline): Point | null {
  let best: Point | null = null
  let most = 0
  for (const ring of shape.flat())
    ring.forEach((a, k) => {
      const b = ring[(k + 1) % ring.length]!
      const long = Math.hypot(b[0] - a[0], b[1] - a[1])
      if (long > most) [most, best] = [long, [(b[0] - a[0]) / long, (b[1] - a[1]) / long]]
    })
  return best
}

/** How far along a ray an outline is crossed. */
function crossings(outline: Outline, at: Point, way: Point): number[] {
  return outline.flat().flatMap((ring) =>
    ring.flatMap((a, k) => {
      const b = ring[(k + 1) % ring.length]!
      const side = (p: Point) => (p[0] - at[0]) * way[1] - (p[1] - at[1]) * way[0]
      const [s, t] = [side(a), side(b)]
      if (s > 0 === t > 0) return []
      const share = s / (s - t)
      const x = a[0] + share * (b[0] - a[0]) - at[0]
      const y = a[1] + share * (b[1] - a[1]) - at[1]
      const far = x * way[0] + y * way[1]
      return far > 0 ? [far] : []
    }),
  )
}

/** An outline moved. */
export const moved = (outline: Outline, du: number, dv: number): [number, number][][][] =>
  outline.map((rings) => rings.map((ring) => ring.map(([x, y]) => [x + du, y + dv])))
