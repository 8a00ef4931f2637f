/** Light drawing: fewer pixels, plain edges and no animation, for machines that draw slowly. Kept in this browser. */
import { ref, watchEffect } from 'vue'

const KEY = 'hinoki.light-drawing'
/** shares of a screen's pixel that are drawn each way */
const LIGHT_RATIO = 0.5
const FINEST_RATIO = 2

function kept(): boolean {
  try {
    return localStorage.getItem(KEY) === 'yes'
  } catch {
    return false // a browser that keeps nothing draws as usual
  }
}

export const lightDrawing = ref(kept())

/** Switch it, for now and for the next visits. */
export function setLightDrawing(on: boolean): void {
  lightDrawing.value = on
  try {
    localStorage.setItem(KEY, on ? 'yes' : 'no')
  } catch {
    // it holds until the page is left
  }
}

/** How many pixels are drawn for each of the page's. */
export const pixelRatio = (): number =>
  lightDrawing.value ? LIGHT_RATIO : Math.min(FINEST_RATIO, window.devicePixelRatio)

/** Keep the page's class in step, so that styles know of it. */
export function followLightDrawing(): void {
  watchEffect(() => document.documentElement.classList.toggle('light-drawing', lightDrawing.value))
}
