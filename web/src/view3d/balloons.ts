/** Places numbered balloons beside what they name, on the nearer side, without covering one another. */
export interface Anchor {
  number: number
  /** what stands in it, where that is not the number */
  text?: string
  x: number
  y: number
}

export interface Balloon extends Anchor {
  bx: number
  by: number
}

const RADIUS = 12
const GAP = 2 * RADIUS + 6

export function balloonsFor(anchors: readonly Anchor[], width: number, height: number): Balloon[] {
  if (anchors.length === 0) return []
  const middle = (Math.min(...anchors.map((a) => a.x)) + Math.max(...anchors.map((a) => a.x))) / 2
  const sides: [Anchor[], Anchor[]] = [[], []]
  for (const anchor of [...anchors].sort((a, b) => a.y - b.y || a.number - b.number)) {
    const clear = anchors.length > 1 && anchor.x < middle - 8
    sides[clear ? 0 : 1].push(anchor)
  }
  return sides.flatMap((side, right) => column(side, right === 1, width, height))
}

function column(side: readonly Anchor[], right: boolean, width: number, height: number): Balloon[] {
  const reach = 92
  const spots = side.map((a) => ({
    ...a,
    bx: clamp(right ? a.x + reach : a.x - reach, RADIUS + 4, width - RADIUS - 4),
    by: clamp(a.y - 26, RADIUS + 36, height - RADIUS - 8),
  }))
  for (let i = 1; i < spots.length; i++) spots[i]!.by = Math.max(spots[i]!.by, spots[i - 1]!.by + GAP)
  const over = (spots.at(-1)?.by ?? 0) - (height - RADIUS - 8)
  if (over > 0)
    for (let i = spots.length - 1; i >= 0; i--) {
      const most = i === spots.length - 1 ? height - RADIUS - 8 : spots[i + 1]!.by - GAP
      spots[i]!.by = Math.min(spots[i]!.by, most)
    }
  return spots
}

const clamp = (v: number, low: number, high: number) => Math.max(low, Math.min(high, v))
