/** Long lists: found by words, walked through by keys. */
import { expect, test } from 'vitest'
import { movedInList } from '@/ui/listKeys'
import { holds } from '@/ui/search'

test('every word that is looked for must be there, in any order', () => {
  expect(holds(['2|5', 3, 'pins', 'Tower, lower'], 'lower PINS')).toBe(true)
  expect(holds(['2|5', 3, 'pins', 'Tower, lower'], 'pins roof')).toBe(false)
  expect(holds(['anything'], '  ')).toBe(true)
})

test('arrows lead from row to row, past those that are hidden, and stay at the ends', () => {
  document.body.innerHTML = `<ul>
    <li><button id="a"></button></li>
    <li style="display: none"><button></button></li>
    <li tabindex="0" id="b"><input id="typed"></li>
    <li><input type="checkbox" id="c"></li></ul>`
  const pressed = (key: string) => {
    const event = new KeyboardEvent('keydown', { key, cancelable: true, bubbles: true })
    let moved = false
    document.body.addEventListener('keydown', (heard) => (moved = movedInList(heard)), { once: true })
    document.activeElement!.dispatchEvent(event)
    return moved
  }
  document.getElementById('a')!.focus()
  const way = ['ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowUp'].map((key) => {
    pressed(key)
    return document.activeElement!.id
  })
  expect(way).toEqual(['b', 'c', 'c', 'b'])
  expect(pressed('Enter')).toBe(false)
  document.getElementById('typed')!.focus()
  expect(pressed('ArrowDown')).toBe(false) // a field has its own use for them
})
