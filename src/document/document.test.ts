import { TERRAIN_ID } from '../core/grounds/ground.ts'
import { newBeacon, newDriver, newOutline } from './new-planting.ts'
import { makeDemo } from '../demo/demo-meadow.ts'
import { bytesToHeights, heightsToBytes } from './blobs.ts'
import { edit, redo, startHistory, undo } from './history.ts'
import { readMeadow, thrownAnew } from './migrations.ts'

const { meadow } = await makeDemo()

describe('history', () => {
  it('takes back and makes again any number of named steps', () => {
    let history = startHistory(meadow)
    for (let k = 0; k < 300; k++) history = edit(history, `Step ${k}`, (draft) => void (draft.name = `Name ${k}`))
    expect(history.past.at(-1)?.name).toBe('Step 299')
    for (let k = 0; k < 300; k++) history = undo(history)
    expect(history.meadow).toEqual(meadow)
    expect(undo(history)).toBe(history)
    for (let k = 0; k < 300; k++) history = redo(history)
    expect(history.meadow.name).toBe('Name 299')
    expect(redo(history)).toBe(history)
  })

  it('makes one drag one step, and the next drag another', () => {
    let history = startHistory(meadow)
    for (const [gesture, spacing] of [['a', 3], ['a', 4], ['a', 5], ['b', 6]] as const)
      history = edit(history, 'Change spacing', (draft) => void (draft.plantings[0].params.spacing = spacing), gesture)
    expect(history.past.length).toBe(2)
    history = undo(history)
    expect(history.meadow.plantings[0].params.spacing).toBe(5)
    history = undo(history)
    expect(history.meadow.plantings[0].params.spacing).toBe(meadow.plantings[0].params.spacing)
  })

  it('leaves no step for an edit that changes nothing, and forgets the future on a new one', () => {
    let history = edit(startHistory(meadow), 'Nothing', (draft) => void (draft.name = meadow.name))
    expect(history.past.length).toBe(0)
    history = undo(edit(history, 'One', (draft) => void (draft.name = 'one')))
    expect(edit(history, 'Two', (draft) => void (draft.name = 'two')).future).toEqual([])
  })
})

describe('reading a document', () => {
  it('takes the demo as it is', () => {
    expect(readMeadow(JSON.parse(JSON.stringify(meadow)))).toEqual({ meadow })
  })

  const broken: [string, (draft: Record<string, never> & typeof meadow) => void, string][] = [
    ['an unknown member', (draft) => Object.assign(draft, { surprise: 1 }), 'surprise'],
    ['a misspelt parameter', (draft) => Object.assign(draft.plantings[0].params, { spaceing: 2 }), 'spaceing'],
    ['a spacing of NaN', (draft) => Object.assign(draft.plantings[0].params, { spacing: NaN }), 'spacing'],
    ['a word for a number', (draft) => Object.assign(draft.water, { level: '1' }), 'water.level'],
    ['a blob of another name', (draft) => Object.assign(draft.ground, { blob: '../../etc' }), 'ground.blob is not the name of a blob'],
    ['two plantings of one id', (draft) => void (draft.plantings[1].id = draft.plantings[0].id), 'is given to two things'],
    ['an unknown condition', (draft) => void (draft.plantings[0].habitat[0].kind = 'mood'), 'kind must be one of'],
    ['an absurd ground', (draft) => void (draft.ground.columns = 100000), 'columns'],
  ]
  for (const [what, spoil, word] of broken)
    it(`refuses ${what} and says where`, () => {
      const draft = structuredClone(meadow)
      spoil(draft as never)
      const checked = readMeadow(draft)
      expect('problem' in checked && checked.problem).toContain(word)
    })

  /** The demo as earlier versions could have it: with nothing done by hand, and no posies. */
  const ruled = () => {
    const assets = meadow.assets.filter(({ parts }) => parts.length === 0)
    const ids = new Set(assets.map(({ id }) => id))
    return { ...meadow, strokes: [], hands: [], groups: [], assets, nextAsset: assets.length, plantings: meadow.plantings.filter(({ kind, mix }) => kind === 'spread' && mix.every(({ asset }) => ids.has(asset))) }
  }

  it('takes a document of version 1, which had no outlines, and of version 2, which had no drivers, meshes and the like', () => {
    const { outlines, images: _images, beacons: _beacons, meshes: _meshes, habitats: _habitats, nextAsset: _next, assets, ...rest } = structuredClone(ruled())
    const old = { ...rest, assets: assets.map(({ number: _number, ...asset }) => asset) }
    const plantings = old.plantings.map(({ combine: _combine, drivers: _drivers, grounds: _grounds, params, habitat, ...one }) => {
      // Values that the kind has gained since are not there yet.
      const { arrangement: _arrangement, fill: _fill, ...rest } = params
      return { ...one, params: rest, habitat: habitat.map(({ invert: _invert, ...use }) => use) }
    })
    const expected = {
      ...ruled(),
      images: [],
      beacons: [],
      meshes: [],
      habitats: [],
      plantings: ruled().plantings.map((one) => ({ ...one, drivers: [], grounds: [TERRAIN_ID], params: { ...one.params, arrangement: 0.88, fill: 'above' } })),
    }
    expect(readMeadow({ ...old, plantings, version: 1 })).toEqual({ meadow: { ...expected, outlines: [] } })
    expect(readMeadow({ ...old, plantings, outlines, version: 2 })).toEqual({ meadow: expected })
  })

  it('takes a document of version 7: its preferences grow nothing elsewhere, the soft edge of its patches is kept', () => {
    const [planting] = ruled().plantings
    const { freeWhileHidden: _free, ...before } = planting
    const patch = { id: 'c', kind: 'patch', on: true, invert: false, params: { patch: 'p', side: 'outside', feather: 2.5 } }
    const today = { ...patch, params: { patch: 'p', side: 'outside', soft: 2.5 } }
    const mix = (where: object, more: object) => [{ asset: planting.mix[0].asset, share: 1, where, ...more }]
    const old = { ...ruled(), version: 7, plantings: [{ ...before, habitat: [patch], mix: mix(patch, {}) }], habitats: [{ id: 'h', name: 'Kept', combine: 'all', uses: [patch] }] }
    expect(readMeadow(old)).toEqual({
      meadow: {
        ...ruled(),
        plantings: [{ ...planting, freeWhileHidden: false, habitat: [today], mix: mix(today, { elsewhere: 0 }) }],
        habitats: [{ id: 'h', name: 'Kept', combine: 'all', uses: [today] }],
      },
    })
  })

  it('says what stands elsewhere since a version whose rules were others, and nothing of what stands as it stood', () => {
    const [even] = meadow.plantings
    const named = (name: string, placing: string, grounds: string[] = []) => ({ ...even, name, grounds, params: { ...even.params, placing } })
    expect(thrownAnew({ version: 4, plantings: [named('Grass', 'even')] })).toBeNull()
    expect(thrownAnew({ version: 3, plantings: [named('Grass', 'even'), named('Moss', 'even', ['hull']), named('Pines', 'natural')] })).toBe('“Moss”, “Pines”: thrown anew, by the rules of this version. As many stand as before, in other places.')
    expect(thrownAnew({ version: 2, plantings: Array.from({ length: 9 }, (_, k) => named(`P${k}`, 'random')) })).toContain('“P0”, “P1”, “P2” and 6 more plantings')
    expect(thrownAnew({ ...meadow, plantings: [named('Pines', 'natural')] })).toBeNull()
    for (const odd of [null, 7, [], { version: 1 }, { version: 1, plantings: 'x' }, { version: 1, plantings: [null] }]) expect(typeof thrownAnew(odd)).toMatch(/string|object/)
  })

  it('refuses drivers, beacons, images and meshes that cannot be', () => {
    const [planting] = meadow.plantings
    const use = newDriver('height', 'size')
    const driven = (driver: object) => ({ ...meadow, plantings: [{ ...planting, drivers: [driver] }] })
    expect(readMeadow(driven(use))).toHaveProperty('meadow')
    for (const bad of [{ kind: 'mood' }, { target: 'mood' }, { low: '#ffffff' }, { curve: [0, 0, 0.5] }, { over: { from: 0 } }, { target: 'tint', low: 1 }, { more: 1 }])
      expect(readMeadow(driven({ ...use, ...bad }))).toHaveProperty('problem')
    expect(readMeadow(driven({ ...use, target: 'tint', low: '#102030', high: '#ffffff' }))).toHaveProperty('meadow')
    const beacon = newBeacon({ name: 'B', colour: '#112233', x: 0, z: 0 })
    for (const bad of [{ reach: 0 }, { falloff: 'odd' }, { strength: 2 }, { x: NaN }]) expect(readMeadow({ ...meadow, beacons: [{ ...beacon, ...bad }] })).toHaveProperty('problem')
    const [mesh] = meadow.meshes
    for (const bad of [{ role: 'odd' }, { size: 0 }, { shape: 'x' }, { position: [0, 0] }, { triangles: 9e9 }]) expect(readMeadow({ ...meadow, meshes: [{ ...mesh, ...bad }] })).toHaveProperty('problem')
    expect(readMeadow({ ...meadow, beacons: [beacon, beacon] })).toEqual({ problem: expect.stringContaining('given to two things') })
  })

  it('refuses outlines that are no lines', () => {
    for (const lines of [[[1, 2, 3]], [[1, Infinity]], [['a', 'b']], [Array.from({ length: 60000 }, () => 0)], 7])
      expect(readMeadow({ ...meadow, outlines: [{ ...newOutline({ kind: 'patch', name: 'P', colour: '#112233', lines: [] }), lines }] })).toHaveProperty('problem')
    const drawn = newOutline({ kind: 'path', name: 'P', colour: '#112233', lines: [[0, 0, 5, 5]] })
    expect(readMeadow({ ...meadow, outlines: [drawn] })).toHaveProperty('meadow')
  })

  it('refuses what is no meadow, or from the future', () => {
    for (const value of [null, 3, [], {}, { version: 'x' }]) expect(readMeadow(value)).toHaveProperty('problem')
    const newer = readMeadow({ ...meadow, version: 14 })
    expect('problem' in newer && newer.problem).toContain('newer Wayward Meadow (format 14')
  })
})

describe('heights as a blob', () => {
  it('come back as they were', () => {
    const heights = Float32Array.of(1.5, -2, 3e5, 0)
    expect(bytesToHeights(heightsToBytes(heights))).toEqual(heights)
    expect(() => bytesToHeights(new Uint8Array(5))).toThrow('5 bytes are not whole heights')
  })
})
