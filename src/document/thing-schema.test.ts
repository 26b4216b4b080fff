import { ValidationError } from 'yup'
import type { Thing, ThingKind } from '../core/things/define.ts'
import { anyThing, defineThing } from '../core/things/define.ts'
import type { Field } from '../core/things/fields.ts'
import { thingSchema } from './thing-schema.ts'

interface Lamp extends Thing {
  readonly value: unknown
}

/** A made-up kind with one field. */
function kindWith(value: Field, taken?: readonly string[]): ThingKind {
  return anyThing(
    defineThing<Lamp, Lamp>({ kind: 'lamp', list: 'lamps', one: 'lamp', many: 'lamps', most: 3, taken, fields: { value }, references: [], blobs: () => [], grownBlobs: () => [], bare: (lamp) => lamp, long: false, ready: (lamp) => lamp, near: () => '' }),
  )
}

function refused(kind: ThingKind, thing: object): string | null {
  try {
    thingSchema(kind).validateSync(thing, { strict: true })
    return null
  } catch (error) {
    if (error instanceof ValidationError) return error.message
    throw error
  }
}

/** What each type of field takes, and what it refuses. */
const CASES: { readonly field: Field; readonly takes: readonly unknown[]; readonly refuses: readonly unknown[] }[] = [
  { field: { type: 'text', max: 4 }, takes: ['', 'four'], refuses: ['fives', 4, null, undefined] },
  { field: { type: 'flag' }, takes: [true, false], refuses: ['true', 1, null, undefined] },
  { field: { type: 'number', min: -2, max: 3 }, takes: [-2, 0.5, 3], refuses: [-2.1, 3.1, NaN, Infinity, '1', null, undefined] },
  { field: { type: 'size', max: 3 }, takes: [1e-9, 3], refuses: [0, -1, 3.1, null] },
  { field: { type: 'whole', min: 1, max: 3 }, takes: [1, 3], refuses: [0, 1.5, 4, null] },
  { field: { type: 'one-of', options: ['a', 'b'] }, takes: ['a', 'b'], refuses: ['c', '', null, 1] },
  { field: { type: 'colour' }, takes: ['#00ff7a'], refuses: ['#00FF7A', '#0f7', 'red', 'x#00ff7a', null] },
  { field: { type: 'blob' }, takes: ['0a'.repeat(32)], refuses: ['0a'.repeat(31), '0A'.repeat(32), 'g'.repeat(64), null] },
  { field: { type: 'vector' }, takes: [[0, -1.5, 2]], refuses: [[0, 1], [0, 1, 2, 3], [0, 1, NaN], [0, 1, '2'], 7, null] },
  {
    field: { type: 'lines', most: 2, points: 3, farthest: 10 },
    takes: [[], [[]], [[0, 0, 1, 1]], [[0, 0], [10, -10, 3, 3]]],
    refuses: [[[0]], [[0, 0], [1, 1], [2, 2]], [[0, 0, 1, 1, 2, 2, 3, 3]], [[0, 11]], [[0, NaN]], [['0', 0]], [7], null],
  },
]

describe('the schema of a thing, made of what it says it holds', () => {
  for (const { field, takes, refuses } of CASES)
    it(`${field.type}: takes and refuses`, () => {
      const kind = kindWith(field)
      for (const value of takes) expect([value, refused(kind, { id: 'l', name: 'Lamp', value })]).toEqual([value, null])
      for (const value of refuses) expect([value, refused(kind, { id: 'l', name: 'Lamp', value })]).toEqual([value, expect.any(String)])
    })

  it('refuses what it does not know, a name that is too long, and an id that is taken', () => {
    const kind = kindWith({ type: 'flag' }, ['terrain'])
    const lamp = { id: 'l', name: 'Lamp', value: true }
    expect(refused(kind, lamp)).toBeNull()
    expect(refused(kind, { ...lamp, more: 1 })).toContain('more')
    expect(refused(kind, { ...lamp, name: 'x'.repeat(201) })).toContain('name')
    expect(refused(kind, { ...lamp, id: '' })).toContain('id')
    expect(refused(kind, { ...lamp, id: 'terrain' })).toBe('id is taken')
  })
})
