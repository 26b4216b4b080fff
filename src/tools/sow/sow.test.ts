import { POINT } from '../../core/fields/coverage.ts'
import { valuesOf } from '../../core/long-list.ts'
import type { Meadow } from '../../core/meadow.ts'
import { edit, startHistory, undo } from '../../document/history.ts'
import { newMeadow } from '../../document/new-planting.ts'
import { assetOf, spreadOf } from '../../testing/fields.ts'
import { startPass } from './pass.ts'
import { touchesOf } from './touches.ts'

const ASSETS = [assetOf('a', 0.2), assetOf('b', 0.2)]
const start: Meadow = { ...newMeadow('M', 'a'.repeat(64), { samples: 3, size: 100 }), assets: ASSETS, plantings: [spreadOf({}, { id: 'thrift', name: 'Thrift', kind: 'sown' }), spreadOf({}, { id: 'grass', name: 'Grass' }), spreadOf({}, { id: 'kept', name: 'Kept', locked: true })] }

function desk() {
  let history = startHistory(start)
  return {
    meadow: () => history.meadow,
    steps: () => history.past.map(({ name }) => name),
    undo: () => void (history = undo(history)),
    edit(name: string, recipe: (draft: Meadow) => void, gesture?: string) {
      history = edit(history, name, recipe, gesture ?? null)
      return true
    },
  }
}

const SETTING = { act: 'sow', width: 4, soft: 0.5, strength: 1 } as const
const at = (x: number, z: number, ground = 'terrain') => ({ ground, place: { x, y: 0, z, normal: null } })
const placesOf = (meadow: Meadow, k = 0) => {
  const values = valuesOf(meadow.strokes[k].lines[0])
  return Array.from({ length: values.length / POINT }, (_, i) => [values[POINT * i], values[POINT * i + 2]])
}

describe('a pass of the brush', () => {
  it('is one step, keeps to where it was drawn, and leaves out what lies straight between', () => {
    const on = desk()
    let time = 0
    const pass = startPass(on, SETTING, () => (time += 15))
    const way = Array.from({ length: 60 }, (_, k) => [k / 2, k < 30 ? 0 : (k - 30) / 2] as const)
    for (const [x, z] of way) pass.to(at(x, z), 1, ['thrift'])
    expect(pass.end()).toBe(true)
    expect(on.steps()).toEqual(['Sow Thrift'])
    const points = placesOf(on.meadow())
    expect(points.length).toBeLessThan(20)
    expect(points[0]).toEqual([0, 0])
    expect(points.at(-1)?.[0]).toBeGreaterThan(29)
    for (const [x, z] of way.slice(0, -1)) {
      const away = points.slice(1).reduce((least, [bx, bz], k) => {
        const [ax, az] = points[k]
        const t = Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (z - az) * (bz - az)) / ((bx - ax) ** 2 + (bz - az) ** 2)))
        return Math.min(least, Math.hypot(ax + t * (bx - ax) - x, az + t * (bz - az) - z))
      }, Infinity)
      expect(away).toBeLessThan(0.3)
    }
    on.undo()
    expect(on.meadow()).toEqual(start)
  })

  it('gives a planting that is met on the way the whole line, and ends where a step of undo takes it', () => {
    const on = desk()
    const pass = startPass(on, { ...SETTING, act: 'clear' }, () => 0)
    pass.to(at(0, 0), 1, ['thrift'])
    pass.to(at(5, 1), 1, ['thrift', 'grass'])
    pass.to(at(9, 4), 1, ['grass'])
    pass.end()
    expect(on.meadow().strokes.map(({ planting }) => planting)).toEqual(['thrift', 'grass'])
    expect(placesOf(on.meadow(), 0)).toEqual(placesOf(on.meadow(), 1))
    expect(on.steps().length).toBe(1)
    const next = startPass(on, SETTING, () => 0)
    next.to(at(0, 0), 1, ['thrift'])
    on.undo()
    next.to(at(20, 0), 1, ['thrift'])
    next.end()
    expect(on.meadow().strokes.length).toBe(2)
  })

  it('begins anew on another ground, and is taken back whole', () => {
    const on = desk()
    const pass = startPass(on, SETTING, () => 0)
    pass.to(at(0, 0), 1, ['thrift'])
    pass.to(at(4, 0, 'hull'), 1, ['thrift'])
    pass.to(at(8, 0), 1, ['thrift'])
    expect(on.meadow().strokes.map(({ ground }) => ground)).toEqual(['terrain', 'hull', 'terrain'])
    pass.giveUp()
    expect(on.meadow()).toEqual(start)
  })
})

describe('what a brush touches', () => {
  const [a, b] = ASSETS.map(({ number }) => number)
  const under = new Map([['grass', new Map([[a, 30], [b, 11]])], ['kept', new Map([[a, 5]])]])
  const of = (values: Parameters<typeof touchesOf>[2], act: 'sow' | 'clear' | 'thin' = 'clear', open: string | null = 'thrift') => touchesOf(start, open, values, act, under, 'terrain')

  it('is said before, with counts, and what it does not touch with the way to it', () => {
    expect(of({ of: 'open', asset: '' })).toMatchObject({ plantings: [], words: 'Nothing here belongs to Thrift; 41 others under the brush', wider: { of: 'all' } })
    expect(of({ of: 'open', asset: '' }, 'clear', 'grass')).toMatchObject({ plantings: [{ id: 'grass' }], words: '41 Grass under the brush, to be cleared', wider: null })
    // What is locked is not touched.
    expect(of({ of: 'all', asset: '' }, 'thin')).toMatchObject({ plantings: [{ id: 'grass' }], words: '41 of Grass under the brush, to be thinned' })
    expect(of({ of: 'asset', asset: 'b' })).toMatchObject({ plantings: [{ id: 'grass' }], only: 'b', words: `11 ${ASSETS[1].name} under the brush, to be cleared` })
    expect(of({ of: 'asset', asset: 'gone' })).toMatchObject({ plantings: [], words: 'Choose the asset first' })
    expect(of({ of: 'open', asset: '' }, 'sow')).toMatchObject({ plantings: [{ id: 'thrift' }], words: 'Drag to sow Thrift' })
    expect(of({ of: 'open', asset: '' }, 'sow', 'grass').words).toContain('grows here by rule')
    expect(of({ of: 'open', asset: '' }, 'clear', null)).toMatchObject({ plantings: [], wider: { of: 'all' } })
  })
})
