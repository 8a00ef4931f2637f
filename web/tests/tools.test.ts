/** Tools in the view: one at a time; who waits for points gets them, or nothing when something else is begun. */
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import { useTools, type Spot } from '@/stores/tools'
import { useViewport } from '@/stores/viewport'

const spot = (x: number): Spot => ({ at: [x, 0, 0], normal: [0, 0, 1], piece: 1 })
const line = { origin: [0, 0, 0], eye: [0, 0, 1], turn: 0, closed: false, points: [] } as const

beforeEach(() => setActivePinia(createPinia()))

describe('picking', () => {
  it('gives the points once all are there, and puts the tool away', async () => {
    const tools = useTools()
    const asked = tools.pick(['One.', 'Two.'])
    tools.took(spot(1))
    expect(tools.spots).toHaveLength(1)
    tools.took(spot(2))
    expect((await asked)?.map((s) => s.at[0])).toEqual([1, 2])
    expect([tools.picking, tools.spots]).toEqual([null, []])
  })
  it('gives nothing when another tool is taken, and the new one stays', async () => {
    const tools = useTools()
    const first = tools.pick(['One.'])
    const second = tools.pick(['Another.'])
    expect(await first).toBeNull()
    tools.took(spot(3))
    expect((await second)?.[0]?.at[0]).toBe(3)
  })
  it('is done on the model as it stands, not spread apart', () => {
    useViewport().spread = 0.6
    void useTools().pick(['One.'])
    expect(useViewport().spread).toBe(0)
  })
})

describe('drawing', () => {
  it('gives the line when it has enough points, and nothing when it has not', async () => {
    const tools = useTools()
    const point = { x_mm: 1, y_mm: 2, smooth: false }
    const short = tools.draw({ ...line, origin: [0, 0, 0], eye: [0, 0, 1], points: [point] })
    tools.drawn()
    expect(await short).toBeNull()
    const open = tools.draw({ ...line, origin: [0, 0, 0], eye: [0, 0, 1], points: [point, point] })
    tools.drawn()
    expect(await open).toHaveLength(2)
    const closed = tools.draw({
      ...line,
      origin: [0, 0, 0],
      eye: [0, 0, 1],
      closed: true,
      points: [point, point],
    })
    tools.drawn()
    expect(await closed).toBeNull()
    expect(tools.drawing).toBeNull()
  })
})

it('measuring begins anew after its last point', () => {
  const tools = useTools()
  tools.measure = 'distance'
  for (const x of [1, 2, 3]) tools.took(spot(x))
  expect(tools.spots.map((s) => s.at[0])).toEqual([3])
})
