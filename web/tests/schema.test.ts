/** Forms as the server describes them: which fields are shown, what a new thing begins with. */
import { beforeAll, describe, expect, it } from 'vitest'
import { defaultsOf, fieldsOf, kindOf, kindsOf, leftTo, loadForms, shownFields } from '@/ui/schema'
import { serverOf } from './server'

const screw = {
  kind: 'screw',
  model: 'ScrewJoint',
  name: 'Screws',
  says: '',
  when: '',
  group: '',
  fields: ['count', 'nut_mm', 'tilt_to_deg', 'start_deg'],
  words: {},
  only_if: { nut_mm: { into: ['nut'] }, tilt_to_deg: { tilt_deg: 'set' }, start_deg: { angles: [null] } },
  beside_fit: [],
  picks: [],
}

beforeAll(async () => {
  const fields = { ScrewJoint: { count: { type: 'integer', default: 2 }, name: { type: 'string' } } }
  const json = { fields, joints: [screw, { ...screw, kind: 'pin' }], partings: [], prepare: [], ways: [], own_sizes: [], hole: screw } // prettier-ignore
  serverOf({ 'GET /api/forms': () => ({ json }) })
  await loadForms()
})

describe('a form', () => {
  it('shows a field only with the values it goes with', () => {
    expect(shownFields(kindOf('joints', 'screw'), { into: 'nut', tilt_deg: 0, angles: null })).toEqual([
      'count',
      'nut_mm',
      'start_deg',
    ])
    expect(shownFields(kindOf('joints', 'screw'), { into: 'insert', tilt_deg: 5, angles: [1] })).toEqual([
      'count',
      'tilt_to_deg',
    ])
  })
  it('begins with the defaults, and nothing where there is none', () => {
    expect(defaultsOf('ScrewJoint')).toEqual({ count: 2, name: null })
  })
  it('has no fields for a model that is not known, and the first kind for a name that is none', () => {
    expect(fieldsOf('Nothing')).toEqual({})
    expect(kindOf('joints', 'nail').kind).toBe('screw')
    expect(kindsOf('joints').map((k) => k.kind)).toEqual(['screw', 'pin'])
  })
})

it('says in words what is done where a field is left empty', () => {
  const empty = { anyOf: [{ type: 'number' }, { type: 'null' }] }
  expect(leftTo({ ...empty, description: 'mm; none: half the wall' })).toBe('half the wall')
  expect(leftTo({ ...empty, description: 'along its turn; empty for the middle' })).toBe('the middle')
  expect(leftTo({ ...empty, description: 'none: all' })).toBe('all')
  expect(leftTo({ ...empty, description: 'hours a batch may print' })).toBe('')
  expect(leftTo({ type: 'number', description: 'mm; none: nothing' })).toBe('')
})
