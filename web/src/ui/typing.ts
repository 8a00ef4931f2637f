/** Elements in which letters are typed: there a keystroke belongs to the text, not to the plan. */
const TYPED =
  'textarea, [contenteditable=""], [contenteditable="true"], ' +
  'input:not([type="checkbox"]):not([type="radio"]):not([type="range"]):not([type="file"]):not([type="color"])'

/** Whether a keystroke goes into a text that is being typed. */
export function isTyping(target: EventTarget | null): boolean {
  return target instanceof Element && target.closest(TYPED) !== null
}
