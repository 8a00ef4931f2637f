/** Keys of pieces: the path of sides that led to them, such as “p1+ p2-.1”. */

/** Whether a piece is one of those that `keys` name, or came of one of them by further cuts. */
export const cameOf = (keys: readonly string[], piece: string): boolean =>
  keys.some((key) => piece === key || piece.startsWith(`${key} `))

/** Where in a piece's key a parting cut it, and on which side of that it lies; none where it did not. */
export function sideOf(piece: string, parting: string): { at: number; side: '+' | '-' } | null {
  const words = piece.split(' ')
  const at = words.findIndex((word) => word.startsWith(`${parting}+`) || word.startsWith(`${parting}-`))
  return at < 0 ? null : { at, side: words[at]![parting.length] as '+' | '-' }
}
