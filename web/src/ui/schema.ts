/** What a kind's JSON Schema says about a new one of it. */
import document from '../../openapi.json'

type Properties = Record<string, { default?: unknown }>

/** The values of a new thing of a kind: the defaults of its schema. */
export function defaultsOf(schema: string): Record<string, unknown> {
  const all = document.components.schemas as unknown as Record<string, { properties: Properties }>
  const values = Object.entries(all[schema]!.properties).map(([name, field]) => [name, field.default ?? null])
  return Object.fromEntries(values) as Record<string, unknown>
}
