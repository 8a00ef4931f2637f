/** Ticks that could not be sent, as where no network reaches: kept in this browser, and sent when Hinoki answers again. */
import { useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, type ComputedRef } from 'vue'
import { Refusal } from '@/api/client'

type Ticks = Record<string, boolean>
const AGAIN_MS = 4000
const kept = useLocalStorage<Record<string, Ticks>>('hinoki.ticks', {}, { onError: () => undefined })

export interface KeptTicks {
  /** how many wait to be sent */
  waiting: ComputedRef<number>
  /** the units that are ticked, with those that wait */
  with: (ticked: readonly string[]) => string[]
  /** Send a tick, or keep it. Throws what the server refuses. */
  tick: (unit: string, done: boolean) => Promise<void>
  /** Those that wait are not wanted any more. */
  forget: () => void
}

/** The ticks of the project that is open; `send` throws a Refusal where the server answered, anything else where it did not. */
export function useKeptTicks(
  project: () => string,
  send: (project: string, unit: string, done: boolean) => Promise<void>,
  refused: (error: unknown) => Promise<void>,
): KeptTicks {
  const own = computed<Ticks>(() => kept.value[project()] ?? {})
  const waiting = computed(() => Object.keys(own.value).length)

  function keep(id: string, ticks: Ticks): void {
    const others = Object.entries(kept.value).filter(([other]) => other !== id)
    kept.value = Object.fromEntries(Object.keys(ticks).length ? [...others, [id, ticks]] : others)
  }
  const drop = (id: string, unit: string): void =>
    keep(id, Object.fromEntries(Object.entries(kept.value[id] ?? {}).filter(([other]) => other !== unit)))
  async function tick(id: string, unit: string, done: boolean): Promise<void> {
    try {
      await send(id, unit, done)
      drop(id, unit)
    } catch (error) {
      if (error instanceof Refusal) throw error
      keep(id, { ...kept.value[id], [unit]: done })
    }
  }
  let sending = false
  async function again(): Promise<void> {
    if (sending || !navigator.onLine) return
    sending = true
    const id = project() // another may be opened meanwhile
    try {
      for (const [unit, done] of Object.entries(own.value))
        try {
          await tick(id, unit, done)
        } catch (error) {
          drop(id, unit) // there is no such step any more: that is said
          await refused(error)
        }
    } finally {
      sending = false
    }
  }
  useIntervalFn(() => waiting.value && void again(), AGAIN_MS)
  useEventListener(window, 'online', again)

  return {
    waiting,
    with: (ticked) => {
      const all = new Set(ticked)
      for (const [unit, done] of Object.entries(own.value))
        if (done) all.add(unit)
        else all.delete(unit)
      return [...all]
    },
    tick: (unit, done) => tick(project(), unit, done),
    forget: () => keep(project(), {}),
  }
}
