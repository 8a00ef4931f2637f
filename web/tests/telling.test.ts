/** Sentences in another language: found by the words around their holes, with names and figures as they are. */
import { expect, test } from 'vitest'
import { sayPage } from '@/words/page'
import { teller } from '@/words/telling'

const GERMAN = {
  piece: 'Teil',
  pieces: 'Teile',
  and: 'und',
  fits: 'passt',
  tower: 'Turm',
  'Pieces on beds': 'Teile auf Betten',
  '{0} pieces on {1} beds': '{1} Betten mit {0} Teilen',
  '{0} pins': '{0} Stifte',
  'wall {0} at least': 'Wand mindestens {0}',
  '{0} with {1}': '{0} mit {1}',
  '{0} tips over, with {1} mm² on the bed.': '{0} kippt um; {1} mm² liegen auf.',
  'Lay it on another side.': 'Lege es auf eine andere Seite.',
  'such as {0}': 'etwa {0}',
}
const tell = teller(GERMAN)

test.each([
  ['what stands in the catalogue is said', 'Pieces on beds', 'Teile auf Betten'],
  ['spaces around it stay', '  pieces\n', '  Teile\n'],
  ['spaces within are one', 'Pieces on\n   beds', 'Teile auf Betten'],
  ['a capital letter stays one', 'Piece', 'Teil'],
  ['holes may change places', '12 pieces on 3 beds', '3 Betten mit 12 Teilen'],
  ['what stands in a hole is said too', 'such as pieces', 'etwa Teile'],
  [
    'of several that fit, the one with most words is meant',
    'Roof tips over, with 5 mm² on the bed.',
    'Roof kippt um; 5 mm² liegen auf.',
  ],
  ['a few known words one after the other are said', '3 pieces with 2 pins', '3 Teile mit 2 Stifte'],
  ['words are not said one by one where one is not known', 'pieces unknown', 'pieces unknown'],
  ['a mark at the end of a sentence stays', 'wall 2.4 at least.', 'Wand mindestens 2.4.'],
  ['lists are said word by word', 'piece, fits and 3 pins', 'Teil, passt und 3 Stifte'],
  ['marks before a part of a sentence stay', ', wall 2.4 at least', ', Wand mindestens 2.4'],
  [
    'sentences are said one by one',
    'A tips over, with 5 mm² on the bed. Lay it on another side.',
    'A kippt um; 5 mm² liegen auf. Lege es auf eine andere Seite.',
  ],
  ['a figure is no word', '12.5', '12.5'],
  ['what is not known stays', 'Something nobody put into words', 'Something nobody put into words'],
])('%s', (_why, english, german) => {
  expect(tell(english)).toBe(german)
})

test('what makers called their things stays, within a sentence too, even where it is a word of the catalogue', () => {
  const named = teller(GERMAN, () => new Set(['piece with pins', 'tower']))
  expect(named('piece with pins, 3 pins')).toBe('piece with pins, 3 Stifte')
  expect(named('tower with 3 pins')).toBe('tower mit 3 Stifte')
  expect(named('towers')).toBe('towers')
})

test('a name given later is known from then on', () => {
  const names = new Set<string>()
  const named = teller(GERMAN, () => names)
  expect(named('fits with 3 pins')).toBe('passt mit 3 Stifte')
  names.add('fits')
  expect(named('fits with 3 pins')).toBe('fits mit 3 Stifte')
})

test('a page is said, what comes onto it and what changes on it, but for names', async () => {
  document.body.innerHTML = `<h1>pieces</h1><p translate="no">pieces</p><input placeholder="piece">
    <code translate="no" title="pieces"></code>`
  const stop = sayPage(document, tell)
  const seen = () => document.body.textContent.replace(/\s+/g, ' ').trim()
  expect(seen()).toBe('Teilepieces')
  expect(document.querySelector('input')!.placeholder).toBe('Teil')
  expect(document.querySelector('code')!.title).toBe('pieces')
  document.body.append('; fits')
  document.querySelector('h1')!.firstChild!.nodeValue = '3 pieces on 1 beds'
  document.querySelector('input')!.placeholder = '2 pins'
  await new Promise((done) => setTimeout(done))
  expect(seen()).toBe('1 Betten mit 3 Teilenpieces ; passt')
  expect(document.querySelector('input')!.placeholder).toBe('2 Stifte')
  stop()
  document.body.append('piece')
  await new Promise((done) => setTimeout(done))
  expect(seen()).toContain('piece')
})
