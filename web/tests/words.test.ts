/** The words that are explained: every heading that offers an explanation has one. */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { WORDS, meaningOf, wordsWith } from '@/ui/words'

const folder = join(__dirname, '../src')
const screens = (readdirSync(folder, { recursive: true }) as string[]).filter((f) => f.endsWith('.vue'))

test('every word that a screen offers to explain is explained', () => {
  const asked = screens.flatMap((file) =>
    [...readFileSync(join(folder, file), 'utf8').matchAll(/<WhatIs word="([^"]+)"/g)].map((m) => m[1]!),
  )
  expect(asked.length).toBeGreaterThan(6)
  for (const word of asked) expect(meaningOf(word)).not.toBe('')
  expect(() => meaningOf('flux')).toThrow('does not explain')
})

test('words stand in the order of the alphabet, each once, with a meaning in plain text', () => {
  const words = WORDS.map((one) => one.word)
  expect(words).toEqual([...new Set(words)].sort((a, b) => a.localeCompare(b)))
  for (const one of WORDS) expect(one.meaning).toMatch(/^[^|*`\\]{8,}[^|*`\\.]$|5\|6/)
})

test('what is looked for comes first where a word begins so', () => {
  expect(wordsWith('lip')[0]!.word).toBe('lip')
  expect(wordsWith('  BED ')[0]!.word).toBe('bed')
  expect(wordsWith('no such thing')).toEqual([])
})
