/** Which language this browser was told to be read in. */
import { useLocalStorage } from '@vueuse/core'

/** the code of a language; empty: English, as it is written */
export const chosen = useLocalStorage('hinoki.language', '', {
  writeDefaults: false,
  onError: () => undefined,
})
