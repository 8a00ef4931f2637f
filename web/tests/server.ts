/** A server for tests: answers by method and path, and what it was asked. */

import { vi } from 'vitest'

export interface Asked {
  method: string
  path: string
  body: unknown
}
interface Told {
  status?: number
  json: unknown
}
type Answer = (asked: Asked) => Told | Promise<Told>

let answers: Record<string, Answer> = {}
let heard: Asked[] = []

/** Answer so from now on; gives the list of what is asked. */
export function serverOf(now: Record<string, Answer>): Asked[] {
  answers = now
  return (heard = [])
}

/** Put in the place of `fetch` before anything is read that keeps it. */
export async function fetched(input: RequestInfo | URL, init?: RequestInit): Promise<Response> {
  const given = input instanceof Request
  const url = new URL(given ? input.url : String(input), 'http://hinoki')
  const text = given ? await input.text() : String(init?.body ?? '')
  const asked = {
    method: given ? input.method : (init?.method ?? 'GET'),
    path: url.pathname,
    body: text ? (JSON.parse(text) as unknown) : null,
  }
  heard.push(asked)
  const answer = answers[`${asked.method} ${asked.path}`]
  if (!answer) throw new Error(`nobody answers ${asked.method} ${asked.path}`)
  const { status = 200, json } = await answer(asked)
  return new Response(JSON.stringify(json), { status, headers: { 'Content-Type': 'application/json' } })
}

/** A server that tells of nothing by itself. */
export function noEvents(): void {
  vi.stubGlobal(
    'EventSource',
    class {
      addEventListener(): void {}
      close(): void {}
    },
  )
}
