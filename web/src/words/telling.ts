/**
 * Sentences in another language. A catalogue holds what Hinoki says, with numbered holes for what changes (`{0} pieces on {1} beds`);
 * a sentence on the screen is found in it by the words around its holes. What stands in a hole is said as well where it is known: a number and
 * a name stay as they are. Of several ways to read a text the one is taken that leaves the fewest letters in English.
 */
import { catalogueOf, lettersIn, type Said } from './catalogue'

export type { Said } from './catalogue'
export type Tell = (text: string) => string

interface Telling {
  text: string
  /** letters that stay in English */
  left: number
}

/** what stands for a name that a maker gave while the words around it are said: characters that no language uses */
const FIRST_NAME = 0xe000
const MOST_NAMES = 6000
const NAME = '\\uE000-\\uF8FF'
/** a figure (5.2, ø6, 12mm, (3), M), a name, a unit or a mark by itself */
const FIGURE = `(?:\\p{L}{0,2}[^\\s\\p{L}]*[\\d${NAME}][^\\s\\p{L}]*(?:\\p{L}{1,2}[^\\s\\p{L}]*)?|\\p{Lu}|[^\\s\\p{L}]+|(?:[mc]?m|k?g|h|min|s|N)[²³]?)`
/** what holds sentences and lists together, from the loosest to the tightest; figures and names stay, and so do marks */
const JOINTS = [
  `((?<=[.?!:…]) (?=[\\p{Lu}\\d“${NAME}]))`,
  '( · )',
  '(; )',
  '(: )',
  '( – )',
  '( \\(|\\) ?)',
  '(, )',
  '( and | or )',
  `((?:^|\\s)${FIGURE}(?:\\s${FIGURE})*(?:\\s|$))`,
].map((joint) => new RegExp(joint, 'u'))
const MARKED = new RegExp(`^([^\\p{L}\\p{N}${NAME}]*)(.+?)([^\\p{L}\\p{N}${NAME})]*)$`, 'su')
const NAMES = new RegExp(`[${NAME}]`, 'gu')
/** words that are tried one by one at most */
const FEW = 6
const MOST_KEPT = 8000
/** texts and parts of texts that are looked at for one sentence at most */
const MOST_LOOKS = 600

/**
 * What says a text in the language of a catalogue; a text that is not in it comes back as it is. `names` gives what makers called their
 * things, which stays as it was typed wherever it stands.
 */
export function teller(said: Said, names: () => ReadonlySet<string> = () => new Set()): Tell {
  const { whole, fitting } = catalogueOf(said)
  const kept = new Map<string, Telling>()
  let known = 0
  let looks = 0
  let own: string[] = []
  let ownNames: RegExp | null = null

  /** Take up names that came since. */
  function takeUpNames(): void {
    if (names().size === known) return
    known = names().size
    own = [...names()].filter((name) => name.length > 2 && /\p{L}/u.test(name)).slice(0, MOST_NAMES)
    ownNames = anyOf(own)
    kept.clear()
  }

  function tellAll(text: string): string {
    takeUpNames()
    looks = 0
    const hidden =
      !ownNames || whole(text.trim()) ? text : text.replace(ownNames, (name) => token(own.indexOf(name)))
    return tell(hidden).text.replace(NAMES, (one) => own[one.charCodeAt(0) - FIRST_NAME] ?? one)
  }

  function tell(text: string): Telling {
    const [, before, words, after] = /^([\s,;:·(–]*)(.*?)(\s*)$/su.exec(text)!
    if (!/\p{L}/u.test(words!)) return { text, left: 0 }
    const plain = words!.replace(/\s+/gu, ' ')
    let best = kept.get(plain)
    if (!best) {
      best = fewestLeft(plain)
      if (kept.size >= MOST_KEPT) kept.clear()
      if (looks < MOST_LOOKS) kept.set(plain, best)
    }
    return { text: before! + (best.text === plain ? words! : best.text) + after!, left: best.left }
  }

  /** The reading of a text that leaves the fewest letters; of equal ones the first. */
  function fewestLeft(text: string): Telling {
    let best = { text, left: lettersIn(text) || 1 }
    if (looks++ > MOST_LOOKS) return best
    for (const reading of readings(text)) {
      if (reading.left < best.left) best = reading
      if (!best.left) break
    }
    return best
  }

  function* readings(text: string): Generator<Telling> {
    const known = word(text)
    if (known !== undefined) yield { text: known, left: 0 }
    for (const one of fitting(text)) {
      const values = one.values.map(tell)
      yield { text: one.said(values.map((value) => value.text)), left: sum(values) }
    }
    for (const joint of JOINTS) {
      const parts = text.split(joint)
      if (parts.length < 2) continue
      const told = parts.map((part, k) => (k % 2 ? link(part) : tell(part)))
      yield { text: told.map((part) => part.text).join(''), left: sum(told) }
    }
    yield* words(text.split(' '))
  }

  /** A few words one after the other, as parts that are all known: “cuts | across Z”. */
  function* words(all: string[]): Generator<Telling> {
    if (all.length > FEW) return
    for (let k = all.length - 1; k > 0; k--) {
      const told = [all.slice(0, k), all.slice(k)].map((some) => tell(some.join(' ')))
      if (!sum(told)) yield { text: told.map((part) => part.text).join(' '), left: 0 }
    }
  }

  /** A text without holes, or one between marks. */
  function word(text: string): string | undefined {
    const known = whole(text)
    if (known !== undefined) return known
    const marked = MARKED.exec(text)
    if (!marked || marked[2] === text) return undefined
    const within = whole(marked[2]!)
    return within && marked[1]! + within + marked[3]!
  }

  /** What joins two parts: “and” and “or” are words. */
  function link(text: string): Telling {
    const known = /\p{L}/u.test(text) ? whole(text.trim()) : undefined
    return { text: known ? ` ${known} ` : text, left: 0 }
  }

  return tellAll
}

const sum = (parts: Telling[]): number => parts.reduce((all, part) => all + part.left, 0)
const token = (at: number): string => String.fromCharCode(FIRST_NAME + at)
const literal = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

/** What finds any of these names where it stands as a whole, the longest first; nothing where there are none. */
function anyOf(names: string[]): RegExp | null {
  const sorted = [...names].sort((a, b) => b.length - a.length).map(literal)
  return sorted.length
    ? new RegExp(`(?<![\\p{L}\\p{N}])(?:${sorted.join('|')})(?![\\p{L}\\p{N}])`, 'gu')
    : null
}
