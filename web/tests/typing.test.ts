/** Whether a keystroke belongs to a text or to the plan. */
import { expect, it } from 'vitest'
import { isTyping } from '@/ui/typing'

const made = (html: string): Element => {
  document.body.innerHTML = html
  return document.body.firstElementChild!
}

it.each([
  ['<input>', true],
  ['<input type="number">', true],
  ['<textarea></textarea>', true],
  ['<div contenteditable="true"><b></b></div>', true],
  ['<input type="checkbox">', false],
  ['<input type="range">', false],
  ['<button></button>', false],
])('%s', (html, wanted) => {
  expect(isTyping(made(html))).toBe(wanted)
})
it('nothing is typed into what is no element', () => {
  expect(isTyping(null)).toBe(false)
})
