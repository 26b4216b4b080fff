import type { Meadow, Planting } from '../core/meadow.ts'
import { newBeacon, newDriver, newMeadow, newOutline } from '../document/new-planting.ts'
import { partOf } from '../core/posy/posy.ts'
import { assetOf, condition, meshOf, spreadOf } from '../testing/fields.ts'
import { lostParts, sayMissing } from './missing.ts'

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

describe('what is known of a posy', () => {
  it('is that parts of it are gone, however deep they lie', () => {
    const model = { ...assetOf('a', 0.3), name: 'Stone' }
    const posyOf = (id: string, parts: readonly string[]) => ({ ...assetOf('b', 0.3), id, number: 7, name: id, blob: '' as const, parts: parts.map((part) => partOf(part, { place: [0, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] })) })
    const words = (assets: Meadow['assets'], asset: string) => lostParts({ assets }, spreadOf({}, { mix: [{ asset: model.id, share: 1 }, { asset, share: 1 }] }))
    expect(words([model, posyOf('heap', [model.id])], 'heap')).toBeNull()
    expect(words([model, posyOf('heap', [model.id, 'gone'])], 'heap')).toBe('“heap” has parts whose asset is gone: they do not stand. Open it from the shelf and swap or take them out, or bring the asset back.')
    expect(words([model, posyOf('heap', ['gone']), posyOf('heaps', [model.id, 'heap'])], 'heaps')).toContain('“heaps” has parts')
    // A circle is refused elsewhere; here it ends.
    expect(words([model, posyOf('round', ['round', model.id])], 'round')).toBeNull()
  })
})
