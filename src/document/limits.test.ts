import { produce } from 'immer'
import type * as yup from 'yup'
import { makeDemo } from '../demo/demo-meadow.ts'
import type { Meadow } from '../core/meadow.ts'
import { imageOf, strokeOf } from '../testing/fields.ts'
import { checkChange } from './check-change.ts'
import { readMeadow, openMeadow } from './migrations.ts'
import { newBeacon, newCondition, newDriver } from './new-planting.ts'
import { CONDITIONS } from '../core/fields/conditions/index.ts'
import { DRIVERS } from '../core/fields/drivers/index.ts'
import { LIMITS } from '../core/limits.ts'
import { LIST_WORDS, listsOf, MEMBERS, NAME } from './schema.ts'

/**
 * Every limit of the schema, found in the schema itself: an edit that sets a value at it is kept and opens
 * again; one beyond it is refused with a sentence. Nothing is kept that does not open.
 */

type Plain = Record<string, unknown>

interface Limit {
  readonly path: string
  /** Writes the value into a draft of a meadow. */
  readonly set: (draft: Meadow, value: unknown) => void
  readonly at: readonly unknown[]
  readonly beyond: readonly unknown[]
}

const demo = (await makeDemo()).meadow

/** A meadow that holds one of everything, every condition and driver among them. */
const full: Meadow = produce(demo, (draft) => {
  // As few of everything as there can be, so that each reading is quick.
  for (const name of LIST_WORDS.keys()) (listsOf(draft as Meadow)[name] as unknown[]).splice(1)
  const turn: [number, number, number, number] = [0, 0, 0, 1]
  Object.assign(draft.assets[0], { blob: '', parts: [{ asset: 'gone', place: [1, 2, 3], turn, size: [1, 1, 1], tint: 7 }] })
  draft.opened = { asset: draft.assets[0].id, planting: draft.plantings[0].id, place: [0, 0, 0], turn, size: 1, instead: { planting: 'p', low: 1, high: 2 } }
  draft.nextAsset = LIMITS.assetNumbers
  const [planting] = draft.plantings
  planting.habitat = CONDITIONS.all.map(({ kind }) => newCondition(kind, {}, `c-${kind}`))
  planting.drivers = DRIVERS.all.map(({ kind }) => newDriver(kind, 'size', { id: `d-${kind}` }))
  planting.mix[0].where = newCondition('slope', {}, 'where')
  draft.images.push({ ...imageOf(2, 2, () => [0, 0, 0, 0]).placed, blob: '0'.repeat(64) })
  draft.beacons.push(newBeacon({ name: 'B', colour: '#112233', x: 0, z: 0 }))
  draft.groups.push({ id: 'g', name: 'G', plantings: ['p'], members: [[0, 1, 2]], groups: ['o'] })
  draft.runs.push({ id: 'r', name: 'R', kind: 'line', plantings: ['p'], members: [[0, 1, 2]], ground: 'terrain', from: [0, 0, 0], to: [1, 0, 0], spacing: 1, arc: 0, path: '' })
  draft.pegs.push({ id: 'e', name: 'E', ground: 'terrain', place: [0, 0, 0] })
  draft.selections.push({ id: 's', name: 'S', plantings: ['p'], members: [[0, 1, 2]] })
  draft.hands.push({ id: 'p', name: '', grounds: ['terrain'], singles: [new Array<number>(15).fill(1)], touched: [new Array<number>(20).fill(1)] })
  draft.strokes.push(strokeOf('p', 'clear', [0, 0, 3, 4], { only: ['a'] }) as never)
  draft.habitats.push({ id: 'h', name: 'H', combine: 'all', uses: [newCondition('height', {}, 'x')] })
  draft.ground.georeference = { system: 'EPSG:3067', degrees: false, x: 1, y: 2, metresX: 1, metresY: 1 }
})

interface Described {
  readonly type: string
  readonly tests?: readonly { readonly name?: string; readonly params?: { min?: number; max?: number; more?: number; length?: number } }[]
  readonly fields?: Readonly<Record<string, Described>>
}

/** Values at and beyond the limits that a schema tells of itself. */
function edges({ type, tests = [] }: Described): Pick<Limit, 'at' | 'beyond'> {
  const at: unknown[] = []
  const beyond: unknown[] = []
  const whole = tests.some(({ name }) => name === 'integer')
  const step = (value: number) => (whole ? 1 : Math.max(1e-9, Math.abs(value) * 1e-9))
  const both = (limit: unknown, past: unknown) => {
    at.push(limit)
    beyond.push(past)
  }
  for (const { name, params = {} } of tests) {
    const { min, max, more } = params
    if (type === 'number' && name === 'min' && min !== undefined) both(min, min - step(min))
    if (type === 'number' && name === 'min' && more !== undefined) beyond.push(more)
    if (type === 'number' && name === 'max' && max !== undefined) both(max, max + step(max))
    if (type === 'string' && name === 'max' && max !== undefined) both('x'.repeat(max), 'x'.repeat(max + 1))
  }
  if (type === 'number') beyond.push(NaN, Infinity, -Infinity, '1', null)
  if (type === 'boolean') beyond.push('yes', null)
  return { at, beyond }
}

/** Walks a value beside its schema and gathers every limit of a leaf or a list. */
function limitsOf(schema: yup.Schema, value: unknown, path: string, reach: (draft: Meadow) => Plain | unknown[], key: string | number, out: Limit[]): void {
  const resolved = (schema as unknown as { resolve(options: object): yup.Schema }).resolve({ value })
  const described = resolved.describe() as unknown as Described
  const set = (draft: Meadow, wanted: unknown) => void ((reach(draft) as Plain)[key as string] = wanted)
  const here = (draft: Meadow) => (reach(draft) as Plain)[key as string] as Plain
  if (described.type === 'object' && typeof value === 'object' && value !== null) {
    const { fields } = resolved as unknown as { fields: Record<string, yup.Schema> }
    for (const [name, field] of Object.entries(fields)) if ((value as Plain)[name] !== undefined) limitsOf(field, (value as Plain)[name], `${path}.${name}`, here, name, out)
    out.push({ path: `${path} with a strange member`, set: (draft) => void (here(draft).stranger = 1), at: [], beyond: [1] })
    return
  }
  if (described.type === 'array' && Array.isArray(value)) {
    const most = described.tests?.find(({ name }) => name === 'max')?.params?.max
    if (most !== undefined && value.length > 0) out.push({ path: `${path}, how many`, set, at: [copies(value[0], most)], beyond: [copies(value[0], most + 1)] })
    const { innerType } = resolved as unknown as { innerType?: yup.Schema }
    if (innerType) value.forEach((one, i) => limitsOf(innerType, one, `${path}[${i}]`, (draft) => here(draft) as unknown as unknown[], i, out))
    return
  }
  const { at, beyond } = edges(described)
  if (at.length + beyond.length > 0) out.push({ path, set, at, beyond })
}

/** So many of a thing, each with a name of its own where things have one. */
function copies(one: unknown, count: number): unknown[] {
  const named = typeof one === 'object' && one !== null && 'id' in one
  return Array.from({ length: count }, (_, i) => (named ? { ...structuredClone(one), id: `copy ${i}`, ...('number' in one ? { number: i } : {}) } : typeof one === 'string' && one.length < 64 ? `copy ${i}` : one))
}

const limits: Limit[] = []
for (const [name, { schema, most }] of LIST_WORDS) {
  limitsOf(schema, listsOf(full)[name][0], `${name}[0]`, (draft) => listsOf(draft)[name] as unknown as unknown[], 0, limits)
  limits.push({ path: `${name}, how many`, set: (draft, value) => void ((draft as unknown as Plain)[name] = value), at: [copies(listsOf(full)[name][0], most)], beyond: [copies(listsOf(full)[name][0], most + 1)] })
}
for (const [name, schema] of Object.entries(MEMBERS)) limitsOf(schema, full[name as keyof typeof MEMBERS & keyof Meadow], name, (draft) => draft as unknown as Plain, name, limits)
limitsOf(NAME, full.name, 'name', (draft) => draft as unknown as Plain, 'name', limits)
// Downwards it is bound by the numbers that are given.
limits.push({ path: 'nextAsset', set: (draft, value) => void ((draft as unknown as Plain).nextAsset = value), at: [LIMITS.assetNumbers], beyond: [LIMITS.assetNumbers + 1, 0, -1, 2.5, NaN, null] })

const reopened = (meadow: Meadow) => readMeadow(JSON.parse(JSON.stringify(meadow)))

describe('the limits of the schema', () => {
  it('are found: of every list, of all parameters of all conditions and drivers', () => {
    expect(limits.length).toBeGreaterThan(250)
    expect(reopened(full)).toHaveProperty('meadow')
    for (const word of ['outlines, how many', 'beacons, how many', 'assets[0].category', 'assets[0].tags[0]', 'meshes[0].size', 'ground.sizeX', 'ground.name', 'plantings[0].habitat, how many']) expect(limits.map(({ path }) => path)).toContain(word)
  })

  it('are kept at, and what was kept opens again', () => {
    for (const { path, set, at } of limits)
      for (const value of at) {
        const next = produce(full, (draft) => set(draft, value))
        expect([path, checkChange(full, next)]).toEqual([path, null])
        expect([path, reopened(next)]).toEqual([path, expect.objectContaining({ meadow: expect.anything() })])
      }
  }, 600_000)

  it('are not passed: what would not open is refused with a sentence', () => {
    let refused = 0
    for (const { path, set, beyond } of limits)
      for (const value of beyond) {
        const next = produce(full, (draft) => set(draft, value))
        const sentence = checkChange(full, next)
        const opens = 'meadow' in reopened(next)
        // What is kept always opens; an infinite number turns to nothing on the way, so it must be refused too.
        if (sentence === null) expect([path, value, opens]).toEqual([path, value, true])
        else {
          refused++
          expect([path, sentence]).toEqual([path, expect.stringMatching(/nothing was changed\.$/)])
        }
      }
    expect(refused).toBeGreaterThan(400)
  }, 600_000)

  it('that a damaged document has passed all the same do not keep it from opening', () => {
    for (const { path, set, beyond } of limits) {
      const value = beyond[0]
      const damaged = JSON.parse(JSON.stringify(produce(full, (draft) => set(draft, value)))) as Meadow
      const opened = openMeadow(damaged, full.id)
      if ('problem' in opened) throw new Error(`${path}: ${opened.problem}`)
      const ground = opened.meadow.ground ?? full.ground
      expect([path, reopened({ ...opened.meadow, ground })]).toEqual([path, expect.objectContaining({ meadow: expect.anything() })])
      if (!('meadow' in readMeadow(damaged))) expect([path, opened.leftOut.length]).not.toEqual([path, 0])
    }
  }, 600_000)
})
