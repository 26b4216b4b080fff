import { NOTHING_AROUND } from '../surroundings.ts'
import { createHash } from 'node:crypto'
import fc from 'fast-check'
import { assetOf, condition, growAll, hilly, idsOf, leastDistance, rowsOf, slowNormal, spreadOf, terrainOf, roomsOfRows } from '../../testing/fields.ts'
import { heightAt } from '../grounds/terrain.ts'
import { slopeAt } from '../grounds/pick.ts'
import { poisson16 } from '../stages/candidates/plan.ts'

const flat = terrainOf(() => 0)
const hills = hilly()
const digest = (blocks: ReturnType<typeof growAll>) => {
  const hash = createHash('sha256')
  for (const row of rowsOf(blocks)) hash.update(JSON.stringify(row))
  return hash.digest('hex')
}
const subset = (small: Set<string>, large: Set<string>) => [...small].every((id) => large.has(id))

const MIXED = {
  assets: [assetOf('a', 0.25), assetOf('b', 0.6), assetOf('c', 1.4)],
  mix: [
    { asset: 'a', share: 3 },
    { asset: 'b', share: 2 },
    { asset: 'c', share: 1 },
  ],
}

describe('P1 and P2: order, tiles and cuts change nothing', () => {
  for (const placing of ['even', 'random']) {
    it(`grows the same from other tiles, in another order (${placing}, mixed rooms)`, () => {
      const planting = spreadOf(
        { spacing: 0.9, placing, follow: 0.5 },
        { mix: MIXED.mix, habitat: [condition('slope', { slope: { from: null, to: 30 } }), condition('patchiness', { size: 9 })] },
      )
      const options = { assets: MIXED.assets }
      const whole = digest(growAll(planting, hills, { ...options, side: 128 }))
      expect(digest(growAll(planting, hills, { ...options, side: 16 }))).toBe(whole)
      expect(digest(growAll(planting, hills, { ...options, side: 8, reverse: true }))).toBe(whole)
      expect(digest(growAll(planting, hills, { ...options, side: 27.3 }))).toBe(whole)
    })
  }

  it('grows one tile alone as within the whole', () => {
    const planting = spreadOf({ spacing: 1.1 }, { mix: MIXED.mix })
    const all = rowsOf(growAll(planting, flat, { assets: MIXED.assets, side: 100 }))
    const tile = rowsOf(growAll(planting, flat, { assets: MIXED.assets, side: 20 }).slice(7, 8))
    const ids = new Set(tile.map((row) => row.id))
    expect(tile.length).toBeGreaterThan(50)
    expect(all.filter((row) => ids.has(row.id))).toEqual(tile)
  })
})

describe('P3: more only adds, less only removes', () => {
  it('within an octave of spacing, and those that stay do not move', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.58, max: 1.12, noNaN: true }), fc.nat(1000), (spacing, seed) => {
        // 0.562 … 1.123 m lie in one octave of the pattern's period.
        const close = rowsOf(growAll(spreadOf({ spacing: 0.57 }, { seed }), flat))
        const wide = rowsOf(growAll(spreadOf({ spacing }, { seed }), flat))
        const text = (row: (typeof close)[number] | undefined) => JSON.stringify({ ...row, key: 0 })
        const byId = new Map(close.map((row) => [row.id, text(row)]))
        expect(wide.filter((row) => byId.get(row.id) !== text(row))).toEqual([])
      }),
      { seed: 3, numRuns: 8 },
    )
  })

  it('for random placing and densities', () => {
    const less = idsOf(growAll(spreadOf({ by: 'density', density: 0.6, placing: 'random', room: 0 }), flat))
    const more = idsOf(growAll(spreadOf({ by: 'density', density: 0.95, placing: 'random', room: 0 }), flat))
    expect(less.size).toBeGreaterThan(5000)
    expect(subset(less, more)).toBe(true)
  })

  it('a coarse look is a part of the whole', () => {
    const planting = spreadOf({ spacing: 0.8 })
    expect(subset(idsOf(growAll(planting, hills, { part: 0.1 })), idsOf(growAll(planting, hills)))).toBe(true)
  })

  it('with rooms of one size; with mixed rooms nobody goes but for somebody larger', () => {
    const one = (spacing: number) => growAll(spreadOf({ spacing, placing: 'random' }), flat, { assets: [assetOf('a', 0.5)] })
    expect(subset(idsOf(one(1.3)), idsOf(one(0.9)))).toBe(true)
    const mixed = (spacing: number) => rowsOf(growAll(spreadOf({ spacing }, { mix: MIXED.mix }), flat, { assets: MIXED.assets }))
    const large = (rows: ReturnType<typeof mixed>) => rows.filter((row) => row.asset === 2).map((row) => row.id)
    const many = new Set(large(mixed(0.75)))
    expect(large(mixed(1.1)).every((id) => many.has(id))).toBe(true)
  })
})

describe('P4: narrowing a condition only removes', () => {
  const cases: [string, Record<string, never> | object, object][] = [
    ['slope', { slope: { from: null, to: 35 } }, { slope: { from: 5, to: 22 } }],
    ['height', { height: { from: -4, to: 4 } }, { height: { from: -1, to: 3 } }],
    ['above-water', { above: { from: 0, to: null } }, { above: { from: 1, to: 4 } }],
    ['patchiness', { coverage: 0.7 }, { coverage: 0.3 }],
  ]
  for (const [kind, wide, narrow] of cases)
    it(kind, () => {
      const grow = (params: object) =>
        idsOf(growAll(spreadOf({ spacing: 0.9 }, { habitat: [condition(kind, params as never)] }), hills, { water: -3 }))
      const all = grow(wide)
      const few = grow(narrow)
      expect(few.size).toBeGreaterThan(100)
      expect(few.size).toBeLessThan(all.size)
      expect(subset(few, all)).toBe(true)
    })
})

describe('P5: one setting leaves the draws of the others alone', () => {
  const base = { spacing: 1.2, lean: { from: 0, to: 0 }, follow: 0 }
  const before = rowsOf(growAll(spreadOf(base), flat))
  it('size does not reshuffle the turns', () => {
    const after = rowsOf(growAll(spreadOf({ ...base, size: { from: 2, to: 3 }, room: 0 }), flat))
    expect(after.map((row) => row.rotation)).toEqual(before.map((row) => row.rotation))
    expect(after.map((row) => row.size)).not.toEqual(before.map((row) => row.size))
  })
  it('turn does not reshuffle the sizes', () => {
    const after = rowsOf(growAll(spreadOf({ ...base, turn: { from: 0, to: 90 } }), flat))
    expect(after.map((row) => row.size)).toEqual(before.map((row) => row.size))
  })
  it('another share of the mix moves nobody', () => {
    const two = (share: number) =>
      rowsOf(
        growAll(spreadOf(base, { mix: [{ asset: 'a', share: 1 }, { asset: 'b', share }] }), flat, {
          assets: [assetOf('a', 0.1), assetOf('b', 0.1)],
        }),
      )
    const strip = (rows: ReturnType<typeof two>) => rows.map((row) => ({ ...row, asset: 0 }))
    expect(strip(two(4))).toEqual(strip(two(1)))
  })
})

describe('P6: even spacing', () => {
  for (const spacing of [0.63, 1, 1.41]) {
    it(`keeps ${spacing} m over tile borders and fills at least 0.62 per spacing²`, () => {
      const rows = rowsOf(growAll(spreadOf({ spacing }), flat, { side: 8 }))
      expect(leastDistance(rows)).toBeGreaterThanOrEqual(spacing - 2e-5)
      expect((rows.length / 10000) * spacing * spacing).toBeGreaterThan(0.62)
    })
  }
})

describe('P7: uniform, and weights are true', () => {
  it('plan density is the same everywhere: χ² over 100 squares (random placing, p > 0.001)', () => {
    const rows = rowsOf(growAll(spreadOf({ by: 'density', density: 2, placing: 'random', room: 0 }), hills))
    const counts = new Array(100).fill(0)
    for (const { x, z } of rows) counts[Math.min(9, Math.floor((z + 50) / 10)) * 10 + Math.min(9, Math.floor((x + 50) / 10))]++
    const mean = rows.length / 100
    const chi = counts.reduce((sum, n) => sum + (n - mean) ** 2 / mean, 0)
    expect(rows.length).toBeGreaterThan(19000)
    // 99 degrees of freedom: 148.2 at p = 0.001, and not far too even either (57.0 at 0.999).
    expect(chi).toBeLessThan(148.2)
    expect(chi).toBeGreaterThan(57)
  })

  it('a weight of w gives w times the full density within 3 %', () => {
    const ramp = terrainOf((x) => x / 10, 200, 101)
    for (const placing of ['even', 'random']) {
      const habitat = [condition('height', { height: { from: -10, to: null }, soft: 20 })]
      const rows = rowsOf(growAll(spreadOf({ spacing: 0.5, placing, room: 0 }, { habitat }), ramp))
      const full = rowsOf(growAll(spreadOf({ spacing: 0.5, placing, room: 0 }), ramp)).length / 40000
      for (const [x0, x1] of [[-60, -20], [-20, 20], [20, 60], [60, 100]]) {
        // Mean of smoothstep((x + 100) / 200) over the strip, by Simpson's rule.
        const w = (x: number) => ((t) => t * t * (3 - 2 * t))((x + 100) / 200)
        const mean = (w(x0) + 4 * w((x0 + x1) / 2) + w(x1)) / 6
        const found = rows.filter(({ x }) => x >= x0 && x < x1).length / ((x1 - x0) * 200)
        expect(Math.abs(found / (full * mean) - 1)).toBeLessThan(0.03)
      }
    }
  })

  it('draws the counts of random cells from a Poisson distribution of mean 16', () => {
    const n = 20000
    let sum = 0
    let squares = 0
    for (let i = 0; i < n; i++) {
      const k = poisson16((i + 0.5) / n)
      sum += k
      squares += k * k
    }
    expect(sum / n).toBeCloseTo(16, 1)
    expect(squares / n - (sum / n) ** 2).toBeCloseTo(16, 0)
  })
})

describe('P8: landed, up along the great circle, turn uniform', () => {
  const bare = { spacing: 0.8, lean: { from: 0, to: 0 }, seat: 'centre', room: 0 }
  it('stands within 1 mm of the ground', () => {
    const gaps = rowsOf(growAll(spreadOf(bare), hills)).map(({ x, y, z }) => Math.abs(y - heightAt(hills, x, z)))
    expect(gaps.length).toBeGreaterThan(9000)
    expect(Math.max(...gaps)).toBeLessThan(1e-3)
  })

  for (const follow of [0, 0.35, 1])
    it(`follows the slope by ${follow}`, () => {
      let worst = 0
      let unevenness = 0
      for (const { x, z, rotation } of rowsOf(growAll(spreadOf({ ...bare, follow }), hills)).slice(0, 2000)) {
        const slow = slowNormal(hills, x, z)
        const [qx, qy, qz, qw] = rotation
        const up = [2 * (qx * qy - qw * qz), 1 - 2 * (qx * qx + qz * qz), 2 * (qy * qz + qw * qx)]
        const normal = slow.map((v) => v / Math.hypot(...slow))
        const tilt = Math.acos(Math.min(1, normal[1]))
        // Slerp from (0, 1, 0) to the normal.
        const wanted = [0, 1, 0].map((u, c) =>
          tilt < 1e-6 ? u : (Math.sin((1 - follow) * tilt) * u + Math.sin(follow * tilt) * normal[c]) / Math.sin(tilt),
        )
        up.forEach((v, c) => (worst = Math.max(worst, Math.abs(v - wanted[c]))))
        unevenness = Math.max(unevenness, Math.abs(Math.hypot(...rotation) - 1))
      }
      // The place is read back from Float32, so the normal is that of a point up to 4 µm away.
      expect(worst).toBeLessThan(1e-4)
      expect(unevenness).toBeLessThan(1e-6)
    })

  it('turns uniformly: χ² over 36 classes, p > 0.001', () => {
    const counts = new Array(36).fill(0)
    const rows = rowsOf(growAll(spreadOf({ ...bare, follow: 0 }), flat))
    for (const { rotation } of rows) {
      const turn = 2 * Math.atan2(rotation[1], rotation[3])
      counts[Math.floor((((turn % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI)) / (2 * Math.PI / 36)) % 36]++
    }
    const mean = rows.length / 36
    expect(counts.reduce((sum, n) => sum + (n - mean) ** 2 / mean, 0)).toBeLessThan(66.6)
  })

  it('leans by no more than asked, and with the wind when it blows', () => {
    const ups = rowsOf(
      growAll(spreadOf({ ...bare, follow: 0, lean: { from: 5, to: 12 }, leanTo: 'wind', wind: 90 }), flat),
    ).map(({ rotation: [qx, qy, qz, qw] }) => [2 * (qx * qy - qw * qz), 1 - 2 * (qx * qx + qz * qz), 2 * (qy * qz + qw * qx)])
    const leans = ups.map((up) => (Math.acos(Math.min(1, up[1])) * 180) / Math.PI)
    expect(Math.min(...leans)).toBeGreaterThan(4.98)
    expect(Math.min(...leans)).toBeLessThan(5.1)
    expect(Math.max(...leans)).toBeLessThan(12.02)
    expect(Math.max(...leans)).toBeGreaterThan(11.9)
    expect(Math.min(...ups.map((up) => up[0]))).toBeGreaterThan(0)
    expect(Math.max(...ups.map((up) => Math.abs(up[2])))).toBeLessThan(1e-5)
  })
})

describe('P9: room', () => {
  it('no two rooms overlap, and nobody yields without a cause (slow rule over all pairs)', () => {
    for (const seed of [1, 2, 3]) {
      const small = terrainOf(() => 0, 40, 5)
      const planting = spreadOf({ spacing: 0.8, placing: 'random' }, { mix: MIXED.mix, seed })
      const grown = rowsOf(growAll(planting, small, { assets: MIXED.assets, side: 8 }))
      const all = rowsOf(growAll({ ...planting, params: { ...planting.params, room: 0 } }, small, { assets: MIXED.assets }))
      // The slow rule: by size of asset, then key; keep whoever overlaps nobody kept.
      const rooms = [0.25, 0.6, 1.4]
      const order = [...all].sort((a, b) => rooms[b.asset] - rooms[a.asset] || a.key - b.key)
      const kept: typeof all = []
      for (const row of order) {
        const radius = rooms[row.asset] * row.size
        if (kept.every((other) => Math.hypot(other.x - row.x, other.z - row.z) >= radius + rooms[other.asset] * other.size)) kept.push(row)
      }
      expect(grown.map((row) => row.id)).toEqual(kept.map((row) => row.id).sort())
    }
  })

  it('keeps out of the rooms of earlier plantings', () => {
    const first = growAll(spreadOf({ spacing: 4, room: 1 }, { seed: 2 }), flat, { assets: [assetOf('a', 1.5)] })
    const taken = rowsOf(first)
    const near = {
      around: NOTHING_AROUND,
      known: { x0: -1000, z0: -1000, x1: 1000, z1: 1000 },
      rooms: roomsOfRows(taken),
      elsewhere: [],
    }
    const planting = spreadOf({ spacing: 0.7 }, { seed: 9 })
    const rows = rowsOf(growAll(planting, flat, { near }))
    const overlaps = (slack: number) => (row: (typeof rows)[number]) =>
      taken.some((t) => Math.hypot(row.x - t.x, row.z - t.z) < row.room + t.room + slack)
    expect(rows.filter(overlaps(-1e-4))).toEqual([])
    // Nobody else has gone, save what Float32 leaves in doubt at the very edge.
    const free = rowsOf(growAll(planting, flat))
    expect(rows.length).toBeLessThanOrEqual(free.length - free.filter(overlaps(-1e-4)).length)
    expect(rows.length).toBeGreaterThanOrEqual(free.length - free.filter(overlaps(1e-4)).length)
  })
})

describe('P10: seated by the base', () => {
  it('leaves no point of any base above the ground, and sinks no further than it must', () => {
    const corners = [-0.5, 0.4, 0.1, 0.6, 0.5, 0.2, 0.4, -0.5, -0.4, -0.3]
    const planting = spreadOf({ spacing: 2.5, follow: 0.4, size: { from: 0.5, to: 2 }, lean: { from: 0, to: 10 } })
    let highest = -Infinity
    let deepest = Infinity
    for (const { x, y, z, rotation, size } of rowsOf(growAll(planting, hills, { assets: [assetOf('a', 0.4, corners)] }))) {
      // Beyond the rim there is no ground to be seated on.
      if (Math.abs(x) > 48 || Math.abs(z) > 48) continue
      const [qx, qy, qz, qw] = rotation
      let most = -Infinity
      for (let k = 0; k < 5; k++)
        for (let a = 0; a <= 20; a++)
          for (let b = 0; b <= 20 - a; b++) {
            const m = (k + 1) % 5
            const bx = (size * (corners[2 * k] * a + corners[2 * m] * b)) / 20
            const bz = (size * (corners[2 * k + 1] * a + corners[2 * m + 1] * b)) / 20
            const wx = (1 - 2 * (qy * qy + qz * qz)) * bx + 2 * (qx * qz + qw * qy) * bz
            const wy = 2 * (qx * qy + qw * qz) * bx + 2 * (qy * qz - qw * qx) * bz
            const wz = 2 * (qx * qz - qw * qy) * bx + (1 - 2 * (qx * qx + qy * qy)) * bz
            most = Math.max(most, y + wy - heightAt(hills, x + wx, z + wz))
          }
      highest = Math.max(highest, most)
      deepest = Math.min(deepest, most)
    }
    expect(highest).toBeLessThan(1e-4)
    // The brute force looks at points 5 cm apart, so it may miss the highest by a little.
    expect(deepest).toBeGreaterThan(-0.02)
  })
})

describe('conditions in the ground', () => {
  it('keeps to slopes below the limit, as the terrain itself measures them', () => {
    const habitat = [condition('slope', { slope: { from: null, to: 20 } })]
    const rows = rowsOf(growAll(spreadOf({ spacing: 0.8 }, { habitat }), hills))
    expect(Math.max(...rows.map(({ x, z }) => slopeAt(hills, x, z)))).toBeLessThan(20.01)
    const without = rowsOf(growAll(spreadOf({ spacing: 0.8 }), hills))
    expect(without.some(({ x, z }) => slopeAt(hills, x, z) > 30)).toBe(true)
  })

  for (const coverage of [0.1, 0.3, 0.75])
    it(`patchiness covers ${100 * coverage} % of the ground ± 1`, () => {
      const habitat = [condition('patchiness', { coverage, contrast: 1, size: 6 })]
      const full = growAll(spreadOf({ spacing: 0.4 }), flat).reduce((sum, b) => sum + b.count, 0)
      const part = growAll(spreadOf({ spacing: 0.4 }, { habitat }), flat).reduce((sum, b) => sum + b.count, 0)
      expect(Math.abs(part / full - coverage)).toBeLessThan(0.01)
    })
})
