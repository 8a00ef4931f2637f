/** Sensible places for a peg: the centre lines, in line with another peg, its mirror image, else whole half millimetres. */
export interface Box {
  cx: number
  cy: number
}

export function snapped(
  u: number,
  v: number,
  box: Box,
  others: readonly { u: number; v: number }[],
  reach: number,
): [number, number] {
  const us = [box.cx, ...others.flatMap((o) => [o.u, 2 * box.cx - o.u])]
  const vs = [box.cy, ...others.flatMap((o) => [o.v, 2 * box.cy - o.v])]
  return [nearest(u, us, reach), nearest(v, vs, reach)]
}

function nearest(value: number, places: readonly number[], reach: number): number {
  let best = Math.round(value * 2) / 2
  let distance = reach
  for (const place of places)
    if (Math.abs(place - value) < distance) {
      distance = Math.abs(place - value)
      best = place
    }
  return best
}
