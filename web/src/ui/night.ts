/** Day and night: the same drawing office on light paper or on dark, as the machine is set or as this browser was told. */
import { useLocalStorage, usePreferredDark } from '@vueuse/core'
import { computed, watchSyncEffect } from 'vue'

const KEY = 'hinoki.light'
const dark = usePreferredDark()
/** what was chosen here; where nothing was, or a browser keeps nothing, the machine decides */
const told = useLocalStorage<'' | 'day' | 'night'>(KEY, '', {
  writeDefaults: false,
  onError: () => undefined,
})

export const night = computed(() => (told.value ? told.value === 'night' : dark.value))

/** Change between day and night, for now and for the next visits. */
export function turnLight(): void {
  told.value = night.value ? 'day' : 'night'
}

/** A colour of the page as it is now, such as `--ink`, for what no style draws. */
export function tone(token: `--${string}`): string {
  void night.value // what is computed of it follows
  return getComputedStyle(document.documentElement).getPropertyValue(token).trim()
}

/** Keep the page in step at once, before anything reads a colour: styles by an attribute, and the library of controls by the name of its theme. */
export function followNight(use: (theme: 'day' | 'night') => void): void {
  watchSyncEffect(() => {
    const now = night.value ? 'night' : 'day'
    document.documentElement.dataset['light'] = now
    use(now)
  })
}
