/** Light drawing: fewer pixels, plain edges and no animation, for machines that draw slowly. Kept in this browser. */
import { useLocalStorage } from '@vueuse/core'
import { readonly, watchEffect } from 'vue'

const KEY = 'hinoki.light-drawing'
/** shares of a screen's pixel that are drawn each way */
const LIGHT_RATIO = 0.5
const FINEST_RATIO = 2

/** where a browser keeps nothing, it holds until the page is left */
const kept = useLocalStorage(KEY, false, {
  serializer: { read: (text) => text === 'yes', write: (on) => (on ? 'yes' : 'no') },
  writeDefaults: false,
  onError: () => undefined,
})
export const lightDrawing = readonly(kept)

/** Switch it, for now and for the next visits. */
export function setLightDrawing(on: boolean): void {
  kept.value = on
}

/** How many pixels are drawn for each of the page's. */
export const pixelRatio = (): number =>
  lightDrawing.value ? LIGHT_RATIO : Math.min(FINEST_RATIO, window.devicePixelRatio)

/** Keep the page's class in step, so that styles know of it. */
export function followLightDrawing(): void {
  watchEffect(() => document.documentElement.classList.toggle('light-drawing', lightDrawing.value))
}
