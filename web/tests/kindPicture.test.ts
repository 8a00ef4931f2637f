/** Every kind of parting and of joint that can be chosen has its small drawing. */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { mount } from '@vue/test-utils'
import { expect, test } from 'vitest'
import KindPicture from '@/ui/KindPicture.vue'

const schema = readFileSync(join(__dirname, '../src/api/schema.d.ts'), 'utf8')
const kinds = (ending: string): string[] =>
  [...schema.matchAll(new RegExp(`^ {8}\\w+${ending}: \\{[\\s\\S]*?^ {8}\\};`, 'gm'))].flatMap(
    ([text]) => /kind: "([a-z-]+)"/.exec(text)?.[1] ?? [],
  )

test('every kind has its drawing', () => {
  const all = [...kinds('Joint'), ...kinds('Parting')]
  expect(all.length).toBeGreaterThan(20)
  for (const kind of all)
    expect(mount(KindPicture, { props: { kind } }).find('svg').exists(), kind).toBe(true)
  expect(
    mount(KindPicture, { props: { kind: 'nail' } })
      .find('svg')
      .exists(),
  ).toBe(false)
})
