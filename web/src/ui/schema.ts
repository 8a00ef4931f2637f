/** What forms are drawn from, as the server says it: the fields of all that is edited, and the kinds there are. */
import { api, got, type Schemas } from '@/api/client'

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
export type Kind = Schemas['KindForm']
type Forms = Schemas['FormsView']
export type Family = 'joints' | 'partings' | 'prepare' | 'ways' | 'makers' | 'movements' | 'own_sizes'

let all: Forms | null = null

/** Ask for them, once, before the first screen is drawn that shows any. */
export async function loadForms(): Promise<void> {
  all ??= got<Forms>(await api.GET('/api/forms'))
}
function forms(): Forms {
  if (!all) throw new Error('forms are read before the first screen is drawn')
  return all
}

/** What is done where a field is left empty, as its description says: “half the wall”. */
export function leftTo(field: Field): string {
  if (!field.anyOf?.some((one) => one.type === 'null')) return ''
  return /(?:^|; )(?:none|empty)(?::| for) (.+)$/.exec(field.description ?? '')?.[1] ?? ''
}

/** The fields of a model by name. */
export const fieldsOf = (model: string): Record<string, Field> => forms().fields[model] ?? {}

/** The kinds of a family, in the order in which they are offered. */
export const kindsOf = (family: Family): Kind[] => forms()[family]
/** The kinds of joint of which one side can stand on a face where nothing was cut. */
export const onFaceKinds = (): Kind[] => forms().on_face.map((kind) => kindOf('joints', kind))
export const holeForm = (): Kind => forms().hole

/** A kind by its name; the first of its family for a name that is none. */
export const kindOf = (family: Family, kind: string): Kind =>
  kindsOf(family).find((k) => k.kind === kind) ?? kindsOf(family)[0]!

/** The fields of a kind that its form shows for such values. */
export function shownFields(kind: Kind, values: object): string[] {
  const now = values as Record<string, unknown>
  const holds = ([other, wanted]: [string, (string | null)[] | string]) =>
    typeof wanted === 'string' ? Boolean(now[other]) : wanted.includes((now[other] ?? null) as string | null)
  return kind.fields.filter((f) => Object.entries(kind.only_if[f] ?? {}).every(holds))
}

/** The values of a new thing of a kind: the defaults of its schema. */
export function defaultsOf(model: string): Record<string, unknown> {
  const values = Object.entries(fieldsOf(model)).map(([name, field]) => [name, field.default ?? null])
  return Object.fromEntries(values) as Record<string, unknown>
}
