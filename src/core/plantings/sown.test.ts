import type { Near } from '../stages/context.ts'
import { createCoverage } from '../fields/coverage.ts'
import type { PaintedStroke } from '../fields/coverage.ts'
import { assetOf, growAll, hilly, paintedOf, rowsOf, spreadOf } from '../../testing/fields.ts'
import type { Planting } from '../meadow.ts'

const terrain = hilly(80, 81)
const ASSETS = [assetOf('a', 0.2), assetOf('b', 0.5)]
const EVERYWHERE = { x0: -1e9, z0: -1e9, x1: 1e9, z1: 1e9 }

function near(strokes: readonly PaintedStroke[]): Near {
  return { known: EVERYWHERE, rooms: [], elsewhere: [], around: { plantings: new Map(), painted: new Map(strokes.length > 0 ? [['spread', createCoverage(strokes)]] : []) } }
}

const MIX = [{ asset: 'a', share: 3 }, { asset: 'b', share: 1 }]
const grow = (kind: string, strokes: readonly PaintedStroke[], params: Planting['params'] = {}, side?: number) =>
  rowsOf(growAll(spreadOf({ spacing: 0.8, room: 0, ...params }, { kind, mix: MIX }), terrain, { assets: ASSETS, near: near(strokes), side }))

const all = grow('spread', [])
const within = (row: { x: number; z: number }, x: number, z: number, radius: number) => Math.hypot(row.x - x, row.z - z) < radius
const ids = (rows: readonly { id: string }[]) => rows.map(({ id }) => id)

describe('what is sown by hand', () => {
  it('is what the same rule grows, where strokes lie: same names, places and sizes', () => {
    expect(grow('sown', [])).toEqual([])
    const line = paintedOf('sow', [-20, -10, 15, 12], { radius: 4 })
    const expected = all.filter(({ x, z }) => {
      const t = Math.max(0, Math.min(1, ((x + 20) * 35 + (z + 10) * 22) / (35 ** 2 + 22 ** 2)))
      return Math.hypot(x + 20 - 35 * t, z + 10 - 22 * t) < 4
    })
    expect(expected.length).toBeGreaterThan(200)
    expect(grow('sown', [line])).toEqual(expected)
    expect(grow('sown', [line], {}, 8)).toEqual(expected)
  })

  it('does not pile up, and only gains by more strokes', () => {
    const one = paintedOf('sow', [0, 0], { radius: 14, strength: 0.4 })
    const first = grow('sown', [one])
    expect(grow('sown', [one, one, one])).toEqual(first)
    const inReach = all.filter((row) => within(row, 0, 0, 14)).length
    // 0.4 of some 600, three standard deviations.
    expect(Math.abs(first.length / inReach - 0.4)).toBeLessThan(3 * Math.sqrt(0.24 / inReach))
    const more = new Set(ids(grow('sown', [one, paintedOf('sow', [8, 3], { radius: 9, soft: 0.7 })])))
    expect(ids(first).every((id) => more.has(id))).toBe(true)
    expect(more.size).toBeGreaterThan(first.length)
  })

  it('cleared is gone, thinned to one in three is a third, and sowing over it brings the same back', () => {
    const cleared = grow('spread', [paintedOf('clear', [5, 5], { radius: 10 })])
    expect(cleared).toEqual(all.filter((row) => !within(row, 5, 5, 10)))
    const thinned = grow('spread', [paintedOf('thin', [0, 0], { radius: 60, strength: 2 / 3 })])
    expect(Math.abs(thinned.length / all.length - 1 / 3)).toBeLessThan(3 * Math.sqrt(2 / 9 / all.length))
    const again = grow('spread', [paintedOf('clear', [5, 5], { radius: 10 }), paintedOf('sow', [5, 5], { radius: 12 })])
    expect(again.map(({ key: _key, ...row }) => row)).toEqual(all.map(({ key: _key, ...row }) => row))
  })

  it('is cleared or thinned of one asset only, wherever the other stands', () => {
    const [a, b] = ASSETS.map(({ number }) => all.filter(({ asset }) => asset === number))
    expect(a.length).toBeGreaterThan(2 * b.length)
    const cleared = grow('spread', [paintedOf('clear', [0, 0], { radius: 20, assets: [ASSETS[1].number] })])
    expect(ids(cleared)).toEqual(ids(all.filter((row) => row.asset !== ASSETS[1].number || !within(row, 0, 0, 20))))
    const half = grow('spread', [paintedOf('thin', [0, 0], { radius: 60, strength: 0.5, assets: [ASSETS[0].number] })])
    expect(half.filter(({ asset }) => asset === ASSETS[1].number).map(({ id }) => id)).toEqual(ids(b))
    expect(Math.abs(half.filter(({ asset }) => asset === ASSETS[0].number).length / a.length - 0.5)).toBeLessThan(3 * Math.sqrt(0.25 / a.length))
  })

  it('keeps its settings: another spacing grows anew under the same strokes', () => {
    const wide = grow('sown', [paintedOf('sow', [0, 0], { radius: 14 })], { spacing: 1.6 })
    expect(wide.every((row) => within(row, 0, 0, 14))).toBe(true)
    expect(wide.length / grow('sown', [paintedOf('sow', [0, 0], { radius: 14 })]).length).toBeCloseTo(1 / 4, 1)
  })
})
