/** Whether a text holds every word that is looked for, in any order; all do when nothing is. */
export function holds(text: string, looked: string): boolean {
  const lower = text.toLowerCase()
  return looked
    .toLowerCase()
    .split(/\s+/)
    .every((word) => lower.includes(word))
}
