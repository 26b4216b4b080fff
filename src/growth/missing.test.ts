import type { Meadow, Planting } from '../core/meadow.ts'
import { newBeacon, newDriver, newMeadow, newOutline } from '../document/new-planting.ts'
import { condition, meshOf, spreadOf } from '../testing/fields.ts'
import { sayMissing } from './missing.ts'

const path = newOutline({ id: 'path', kind: 'path', name: 'Track', colour: '#112233', lines: [[0, 0, 5, 5]] })
const start: Meadow = {
  ...newMeadow('Test', 'a'.repeat(64), { samples: 9, size: 40 }),
  outlines: [path],
  beacons: [{ ...newBeacon({ name: 'Spring', colour: '#112233', x: 0, z: 0 }), id: 'beacon' }],
  meshes: [meshOf({ id: 'hull', name: 'Hull' })],
}

/** What is said of the last planting among others. */
function said(planting: Partial<Planting>, others: readonly Planting[] = [], after: readonly Planting[] = []): string | null {
  const own = spreadOf({}, { id: 'own', name: 'Own', ...planting })
  try {
    sayMissing({ ...start, plantings: [...others, own, ...after] }, own)
    return null
  } catch (error) {
    return (error as Error).message
  }
}

const byPath = (id: string, on = true) => ({ habitat: [{ ...condition('path', { path: id }), on }] })
const near = (id: string) => ({ habitat: [condition('planting', { planting: id })] })

describe('what a planting names', () => {
  it('is said when it is gone, with its sort and who names it', () => {
    expect(said(byPath('path'))).toBeNull()
    expect(said(byPath('gone'))).toBe('Its condition “Distance to a path” names a path that is gone; choose another one there, switch it off, or undo the removal. What grew before still stands.')
    expect(said({ drivers: [newDriver('beacon', 'size', { params: { beacon: 'gone' } })] })).toMatch(/^Its driver “Nearness to a beacon” names a beacon that is gone/)
    expect(said({ grounds: ['hull', 'terrain'] })).toBeNull()
    expect(said({ grounds: ['wreck'] })).toMatch(/^Its list of grounds names a mesh that is gone/)
    expect(said({ mix: [{ asset: 'a', share: 1, where: condition('patch', { patch: 'gone' }) }] })).toMatch(/^Its condition “Patch” names a patch that is gone/)
  })

  it('counts as gone when it is of another sort: a path where a patch is asked for', () => {
    expect(said({ habitat: [condition('patch', { patch: 'path' })] })).toMatch(/names a patch that is gone/)
  })

  it('is nothing while nobody looks at it: switched off, or not chosen yet', () => {
    expect(said(byPath('gone', false))).toBeNull()
    expect(said(byPath(''))).toBeNull()
  })

  it('other plantings must come before, never be itself, nor wait for it in turn', () => {
    const other = spreadOf({}, { id: 'other', name: 'Other' })
    expect(said(near('other'), [other])).toBeNull()
    expect(said(near('other'), [], [other])).toBe('Its condition “Another planting” names “Other”, which grows after it; move “Other” above it in the list. What grew before still stands.')
    expect(said(near('own'))).toMatch(/names this planting itself; choose another one there/)
    expect(said(near('other'), [], [spreadOf({}, { id: 'other', name: 'Other', ...near('own') })])).toMatch(/names “Other”, which in turn waits for this one: a circle/)
  })

  it('a formula that cannot be read is said before anything grows', () => {
    expect(said({ habitat: [condition('formula', { text: 'slope <' })] })).toMatch(/What grew before still stands\.$/)
    expect(said({ habitat: [condition('formula', { text: 'slope < 20' })] })).toBeNull()
  })
})
