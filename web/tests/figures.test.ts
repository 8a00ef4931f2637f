import { describe, expect, it } from 'vitest'
import { figureRows } from '@/stations/divide/figures'
import type { Schemas } from '@/api/client'

const FIGURES = {
  pieces: 8,
  fitting: 7,
  batches: 3,
  seam_mm: 1234.4,
  seam_show_mm: 0,
  least_room_mm: 7.25,
  least_wall_mm: null,
  supported: 2,
  overhang_mm2: 912,
  balance: 0.37,
} as Schemas['Figures']

describe('the figures of a division', () => {
  const told = (f: Schemas['Figures']) => Object.fromEntries(figureRows(f).map((r) => [r.name, r.text]))

  it('tells how many pieces need support, and how much hangs over, each by itself', () => {
    expect(told(FIGURES)).toMatchObject({ support: '2 of 8', overhang: '9 cm²', wall: '–', balance: '37 %' })
    expect(told({ ...FIGURES, supported: 0 })).toMatchObject({ support: 'none', overhang: 'none' })
  })

  it('marks pieces that do not fit', () => {
    const rows = figureRows(FIGURES)
    expect(rows.filter((r) => r.bad).map((r) => r.text)).toEqual(['8, 1 over'])
  })
})
