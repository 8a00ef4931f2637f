/** The figures of a division as rows of words and numbers; the same for proposals and variants. */
import type { Schemas } from '@/api/client'
import { mm } from '@/api/format'

export interface FigureRow {
  name: string
  text: string
  bad: boolean
}

export function figureRows(f: Schemas['Figures']): FigureRow[] {
  const row = (name: string, text: string, bad = false): FigureRow => ({ name, text, bad })
  return [
    row(
      'pieces',
      f.fitting < f.pieces ? `${f.pieces}, ${f.pieces - f.fitting} over` : String(f.pieces),
      f.fitting < f.pieces,
    ),
    row('batches', String(f.batches)),
    row('seams', `${Math.round(f.seam_mm)} mm`),
    row('on show', `${Math.round(f.seam_show_mm)} mm`),
    row('room', f.least_room_mm == null ? '–' : `⌀ ${mm(f.least_room_mm)}`),
    row('wall', f.least_wall_mm == null ? '–' : mm(f.least_wall_mm)),
    row('support', f.supported ? `${f.supported} of ${f.pieces}` : 'none'),
    row('overhang', f.supported ? `${Math.round(f.overhang_mm2 / 100)} cm²` : 'none'),
    row('balance', `${Math.round(f.balance * 100)} %`),
  ]
}
