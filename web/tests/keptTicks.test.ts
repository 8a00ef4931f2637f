import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import { Refusal } from '@/api/client'
import { useKeptTicks } from '@/stores/keptTicks'

describe('ticks that wait for the network', () => {
  const open = ref('harbour')
  const refused = vi.fn(async () => undefined)
  const sent: string[] = []
  let answers: (of: string) => Promise<void> = async () => undefined
  const scope = effectScope()
  const ticks = scope.run(() =>
    useKeptTicks(
      () => open.value,
      async (project, unit, done) => {
        await answers(unit)
        sent.push(`${project} ${unit} ${done}`)
      },
      refused,
    ),
  )!
  const noNetwork = async (): Promise<void> => Promise.reject(new TypeError('no network'))
  const online = (): void => void window.dispatchEvent(new Event('online'))

  beforeEach(() => {
    open.value = 'harbour'
    sent.length = 0
    refused.mockClear()
  })
  afterEach(() => ticks.forget())

  it('go to the project they were made in, though another is opened while they are sent', async () => {
    answers = noNetwork
    await ticks.tick('1', true)
    await ticks.tick('2', false)
    expect(ticks.waiting.value).toBe(2)
    let reach: () => void = () => undefined
    answers = (of) => (of === '1' ? new Promise((done) => (reach = done)) : Promise.resolve())
    online()
    open.value = 'mill'
    await nextTick()
    reach()
    await vi.waitFor(() => expect(sent).toEqual(['harbour 1 true', 'harbour 2 false']))
    open.value = 'harbour'
    expect(ticks.waiting.value).toBe(0)
  })

  it('are shown with those that are known, in their own project alone', async () => {
    answers = noNetwork
    await ticks.tick('1', true)
    await ticks.tick('3', false)
    expect(ticks.with(['2', '3'])).toEqual(['2', '1'])
    open.value = 'mill'
    expect([ticks.with(['2', '3']), ticks.waiting.value]).toEqual([['2', '3'], 0])
    open.value = 'harbour'
  })

  it('are given up where the server refuses them, and that is said; the others are sent', async () => {
    answers = noNetwork
    await ticks.tick('gone', true)
    await ticks.tick('4', true)
    answers = async (of) => {
      if (of === 'gone') throw new Refusal('There is no such step.', 404)
    }
    online()
    await vi.waitFor(() => expect(ticks.waiting.value).toBe(0))
    expect([sent, refused.mock.calls.length]).toEqual([['harbour 4 true'], 1])
  })
})
