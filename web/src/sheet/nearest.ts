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
  for (const point of points.flat(2) as unknown as Point[])
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

/** An outline moved. */
export const moved = (outline: Outline, du: number, dv: number): Outline =>
  outline.map((rings) => rings.map((ring) => ring.map(([x, y]) => [x + du, y + dv] as const)))
