/** A catalogue of sentences, quick to look into: those without holes by themselves, those with holes by a word that stands fast in them. */

/** what is said, by what it is in English; `{0}` stands for what changes */
export type Said = Record<string, string>

/** A template that fits a text: the words that stand fast, what stands in its holes, and how it is said with them. */
export interface Fitting {
  /** letters of the words that stand fast */
  fast: number
  values: string[]
  said: (values: string[]) => string
}

interface Template {
  /** the words before, between and after the holes */
  between: string[]
  fast: number
  holes: string[]
  said: string
}

const HOLE = /\{(\d+)\}/
const END = /[.,;:…]$/
const MOST_FITTING = 12
const upper = (text: string): string => text.slice(0, 1).toUpperCase() + text.slice(1)
const lower = (text: string): string => text.slice(0, 1).toLowerCase() + text.slice(1)

/** Words of three letters and more: shorter ones are units and the like, and say nothing about how much of a text is known. */
const wordsIn = (text: string): string[] => text.match(/\p{L}{3,}/gu) ?? []
export const lettersIn = (text: string): number => wordsIn(text).reduce((sum, word) => sum + word.length, 0)

/** Gives what looks up a text without holes, and what finds the templates that fit a text, those with most words first. */
export function catalogueOf(said: Said): {
  whole: (text: string) => string | undefined
  fitting: (text: string) => Fitting[]
} {
  const byWord = templatesOf(said)

  /** A text without holes, as it is or with another first letter. */
  function whole(text: string): string | undefined {
    if (Object.hasOwn(said, text)) return said[text]
    const small = lower(text)
    return Object.hasOwn(said, small) ? upper(said[small]!) : undefined
  }

  function fitting(text: string): Fitting[] {
    const found: Fitting[] = []
    for (const word of new Set(['', ...wordsIn(text).map((one) => one.toLowerCase())]))
      for (const template of byWord.get(word) ?? []) {
        const fits = fit(template, text)
        if (fits) found.push(fits)
      }
    return found.sort((a, b) => b.fast - a.fast).slice(0, MOST_FITTING)
  }
  return { whole, fitting }
}

/** Templates by the longest word that stands fast in them, in small letters; nothing where they have no long word. */
function templatesOf(said: Said): Map<string, Template[]> {
  const found = new Map<string, Template[]>()
  for (const [source, text] of Object.entries(said)) {
    const parts = source.split(HOLE)
    const between = parts.filter((_, k) => k % 2 === 0)
    const fast = between.join(' ')
    if (parts.length < 2 || !/\p{L}/u.test(fast)) continue
    // a word that touches a hole may be a part of one: “{0}s”
    const lone = between
      .flatMap((part, k) =>
        [...` ${part} `.matchAll(/\p{L}{3,}/gu)].filter((m) =>
          clear(part, m.index - 1, m[0].length, k, between.length),
        ),
      )
      .map((m) => m[0].toLowerCase())
    const key = lone.reduce((a, b) => (b.length > a.length ? b : a), '')
    const template = {
      between,
      fast: lettersIn(fast),
      holes: parts.filter((_, k) => k % 2 === 1),
      said: text,
    }
    found.set(key, [...(found.get(key) ?? []), template])
  }
  return found
}

/** Whether a word in the part `k` of several does not touch a hole. */
function clear(part: string, at: number, length: number, k: number, parts: number): boolean {
  return (at > 0 || k === 0) && (at + length < part.length || k === parts - 1)
}

/** What stands in the holes of a template where it fits; its first letter may be a capital, and a mark may follow. */
function fit(template: Template, text: string): Fitting | undefined {
  const mark = END.exec(text)?.[0] ?? ''
  const bare = text.slice(0, text.length - mark.length)
  const small = lower(text) === text ? undefined : lower(text)
  const values =
    holesOf(template.between, text) ??
    (mark ? holesOf(template.between, bare) : undefined) ??
    (small && template.between[0]
      ? (holesOf(template.between, small) ?? holesOf(template.between, lower(bare)))
      : undefined)
  if (!values) return undefined
  const { between, holes, fast } = template
  const length = between.join('').length + values.join('').length
  const raised = between[0] !== '' && !text.startsWith(between[0]!)
  return {
    fast,
    values,
    said(told) {
      const of = new Map(holes.map((hole, k) => [hole, told[k]!]))
      const sentence = template.said.replace(/\{(\d+)\}/g, (all, hole: string) => of.get(hole) ?? all)
      return (raised ? upper(sentence) : sentence) + text.slice(length)
    },
  }
}

/** What stands between fixed parts of a text, each of them where it comes first; nothing where they do not fit. */
function holesOf(between: string[], text: string): string[] | undefined {
  const last = between.at(-1)!
  if (!text.startsWith(between[0]!) || !text.endsWith(last)) return undefined
  const end = text.length - last.length
  const values: string[] = []
  let from = between[0]!.length
  for (const part of between.slice(1, -1)) {
    const at = part ? text.indexOf(part, from) : from
    if (at < 0 || at + part.length > end) return undefined
    values.push(text.slice(from, at))
    from = at + part.length
  }
  if (from > end) return undefined
  return [...values, text.slice(from, end)]
}
