/** How numbers, times and overhangs are written. */
import { describe, expect, it } from 'vitest'
import { cm3, count, duration, fixed, mm, mm2, overBy, pigment, size } from '@/api/format'

describe('numbers', () => {
  it('have one decimal for lengths, thin spaces between thousands', () => {
    expect([mm(3), mm(12.34), mm(1234.56)]).toEqual(['3.0', '12.3', '1234.6'])
    expect(size([1, 2.25, 30])).toBe('1.0 × 2.3 × 30.0')
    expect([count(999), count(12345)]).toEqual(['999', '12\u2009345'])
    expect([fixed(-0.04, 1), fixed(-0, 2), fixed(-1.25, 1), fixed(7, 0)]).toEqual([
      '0.0',
      '0.00',
      '-1.3',
      '7',
    ])
    expect(mm2(12345.6)).toBe('12\u2009346 mm²')
  })
  it('have two decimals for small volumes and one for large ones', () => {
    expect([cm3(1234), cm3(12_345_678)]).toEqual(['1.23 cm³', '12\u2009345.7 cm³'])
  })
})

describe('times', () => {
  it('are said as people say them', () => {
    expect([duration(35), duration(59.6), duration(340), duration(1445)]).toEqual([
      '35 min',
      '1 h 00',
      '5 h 40',
      '24 h 05',
    ])
  })
})

describe('a box in a room', () => {
  it('may be turned by quarter turns', () => {
    expect(overBy([10, 20, 30], [30, 10, 20])).toBe(0)
    expect(overBy([10, 20, 31], [30, 10, 20])).toBe(1)
    expect(overBy([25, 25, 25], [30, 10, 20])).toBe(15)
  })
})

it('pieces have twelve colours, in turn', () => {
  expect(pigment(1)).toBe(pigment(13))
  expect(new Set(Array.from({ length: 12 }, (_, k) => pigment(k + 1))).size).toBe(12)
})
