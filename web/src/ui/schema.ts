/** What the API's document says about the fields of a kind. */
import forms from '../api/forms.json'

export interface Field {
  type?: string
  title?: string
  description?: string
  enum?: string[]
  anyOf?: Field[]
  prefixItems?: Field[]
  default?: unknown
  minimum?: number
  maximum?: number
  exclusiveMinimum?: number
  pattern?: string
  maxLength?: number
}

const all = forms as unknown as Record<string, Record<string, Field>>

/** The fields of a kind by name. */
export function fieldsOf(schema: string): Record<string, Field> {
  return all[schema] ?? {}
}

/** The values of a new thing of a kind: the defaults of its schema. */
export function defaultsOf(schema: string): Record<string, unknown> {
  const values = Object.entries(fieldsOf(schema)).map(([name, field]) => [name, field.default ?? null])
  return Object.fromEntries(values) as Record<string, unknown>
}
