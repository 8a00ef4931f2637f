/** What makers called their things: it stays as they typed it, in whatever language the screens are read. */
import { watch } from 'vue'
import { chosen } from './chosen'

const names = new Set<string>()
export const typedNames = (): ReadonlySet<string> => names

/** Keep all names in `source` (plans, printers, projects: whatever the server gave) from now on, before they are drawn. */
export function useTypedNames(source: () => unknown): void {
  if (!chosen.value) return // in English nothing is said anew; another language is taken up by loading the page anew
  watch(source, (now) => note(now), { immediate: true, flush: 'sync' })
}

/** Note what stands under a key for names, and all notes. */
function note(thing: unknown, typed = false): void {
  if (typeof thing === 'string') {
    if (typed) names.add(thing)
  } else if (Array.isArray(thing)) thing.forEach((one) => note(one, typed))
  else if (thing && typeof thing === 'object')
    for (const [key, value] of Object.entries(thing))
      note(
        value,
        key === 'notes' || (typeof value === 'string' && /(^|_)name$|^(text|note|reason|printer)$/.test(key)),
      )
}
