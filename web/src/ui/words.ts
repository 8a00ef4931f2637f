/** The words of the trade and of Hinoki, as docs/words.md explains them. */
import { told } from '@/words/language'
import text from '../../../docs/words.md?raw'

export interface Word {
  word: string
  meaning: string
}

/** The rows of the table, without the marks of Markdown. */
export const WORDS: readonly Word[] = text
  .split('\n')
  .filter((line) => line.startsWith('| ') && !line.startsWith('| word |') && !line.startsWith('| ---'))
  .map((line) => {
    const [word, meaning] = line.slice(2, -2).split(/ (?<!\\)\| /)
    return { word: word!, meaning: meaning!.replace(/[*`]/g, '').replaceAll('\\|', '|') }
  })

/** What a word means. */
export function meaningOf(word: string): string {
  const found = WORDS.find((one) => one.word === word)
  if (!found) throw new Error(`docs/words.md does not explain “${word}”`)
  return found.meaning
}

/** The words that hold what is looked for, those that begin with it first. */
export function wordsWith(looked: string): Word[] {
  const wanted = looked.trim().toLowerCase()
  const found = WORDS.filter((one) => `${told(one.word)} ${told(one.meaning)}`.toLowerCase().includes(wanted))
  const first = (one: Word) => {
    const word = told(one.word).toLowerCase()
    return word.startsWith(wanted) ? 0 : word.includes(wanted) ? 1 : 2
  }
  return found.sort((a, b) => first(a) - first(b))
}
