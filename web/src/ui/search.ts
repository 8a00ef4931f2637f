import { told } from '@/words/language'

/** Whether texts hold, as they are shown, every word that is looked for, in any order; all do when nothing is. */
export function holds(texts: (string | number)[], looked: string): boolean {
  const lower = texts
    .map((text) => told(String(text)))
    .join(' ')
    .toLowerCase()
  return looked
    .toLowerCase()
    .split(/\s+/)
    .every((word) => lower.includes(word))
}
