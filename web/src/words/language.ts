/** The language the screens are read in: English as they are written, or one of the catalogues, as this browser was told. */
import { readonly, ref } from 'vue'
import { api, got } from '@/api/client'
import { chosen } from './chosen'
import { sayPage } from './page'
import { teller, type Said, type Tell } from './telling'
import { typedNames } from './typedNames'

export const language = readonly(chosen)
const trouble = ref('')
/** why the language that was chosen is not used */
export const languageTrouble = readonly(trouble)

/** how dates are written */
export const dateLanguage = (): string => chosen.value.replaceAll('_', '-') || 'en-GB'

let tell: Tell = (text) => text
/** A text in the language that is read, for what is not part of the page: drawings, and what is searched in. */
export const told = (text: string): string => tell(text)

/** Take up the language that was chosen, before the first screen is drawn; where it cannot be had the screens stay English. */
export async function takeUpLanguage(): Promise<void> {
  if (!chosen.value) return
  try {
    const path = { language: chosen.value }
    tell = teller(got<Said>(await api.GET('/api/languages/{language}', { params: { path } })), typedNames)
    document.documentElement.lang = dateLanguage()
    sayPage(document, tell)
  } catch (problem) {
    trouble.value = problem instanceof Error ? problem.message : String(problem)
  }
}

/** Read Hinoki in another language from now on: the page is loaded anew. */
export function readIn(code: string): void {
  chosen.value = code
  window.location.reload()
}
