/** Measures of joints: which of them were typed, and how one is given back. */
import { expect, test } from 'vitest'
import type { Joint } from '@/api/client'
import { withChosen, withTyped } from '@/stations/join/joints'

const face = { parting: 'p1', member: 0, a: 'a', b: 'b' }
const pins = (more: object = {}): Joint =>
  ({
    kind: 'pin',
    id: 'j1',
    face,
    fit: 'snug',
    count: 2,
    diameter_mm: 5,
    length_mm: 6,
    typed: [],
    ...more,
  }) as unknown as Joint

test('a number that is changed was typed, a choice was not, and what was typed before stays so', () => {
  const longer = withTyped(pins(), pins({ length_mm: 9 }))
  expect(longer.typed).toEqual(['length_mm'])
  expect(withTyped(longer, { ...longer, fit: 'loose' }).typed).toEqual(['length_mm'])
  expect(withTyped(longer, { ...longer, count: 3 } as Joint).typed).toEqual(['length_mm', 'count'])
  expect(withTyped(longer, { ...longer, length_mm: 8 } as Joint).typed).toEqual(['length_mm'])
})

test('of a joint that Hinoki did not make nothing is told', () => {
  expect(withTyped(pins({ typed: null }), pins({ typed: null, length_mm: 9 })).typed).toBeNull()
})

test('what is given back is as Hinoki chose it; the rest stays', () => {
  const typed = pins({ length_mm: 9, count: 4, typed: ['length_mm', 'count'] })
  expect(withChosen(typed, 'length_mm', pins({ length_mm: 6.5, diameter_mm: 4 }))).toEqual(
    pins({ length_mm: 6.5, count: 4, typed: ['count'] }),
  )
})
