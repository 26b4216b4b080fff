import { chiSquaredLimit } from '../../testing/estimators.ts'
import type { Grown } from '../../testing/fields.ts'
import { meshOf, assetOf, boxShape, condition, rowsOf, solidOf, spreadOf, terrainOf, roomsOfRows, surroundingsOf } from '../../testing/fields.ts'
import { shapeOfFile, trianglesOf } from '../../testing/shapes.ts'
import { mixAssets, preparePlanting } from '../grow.ts'
import type { Solid } from '../grounds/solid.ts'
import { createSolid, toWorld } from '../grounds/solid.ts'
import { treeOf } from '../grounds/mesh-tree.ts'
import { clearSites, createArena } from '../stages/arena.ts'
import { sourceOnSolid } from '../stages/candidates/on-solid.ts'
import type { SpreadValues } from './spread-params.ts'
import type { ParamValue } from '../kinds.ts'
import type { ConditionUse } from '../meadow.ts'
import { NOTHING_AROUND } from '../surroundings.ts'
import { areaSums } from '../stages/candidates/surface.ts'

const flat = terrainOf(() => 0)

/** Grows a planting over solids, all pieces. */
function growOn(solids: readonly Solid[], params: Record<string, ParamValue>, rest: { seed?: number; habitat?: ConditionUse[] } = {}, standing: readonly Grown[] = []): Grown[] {
  const planting = spreadOf({ room: 0, size: { from: 1, to: 1 }, lean: { from: 0, to: 0 }, follow: 1, seat: 'centre', ...params }, { grounds: solids.map(({ placed }) => placed.id), ...rest })
  const assets = [assetOf('a', 0.05)]
  const prepared = preparePlanting(planting, mixAssets(planting, assets), surroundingsOf(flat, { solids }))
  const near = { known: { x0: -1e3, z0: -1e3, x1: 1e3, z1: 1e3 }, around: NOTHING_AROUND, elsewhere: [], rooms: roomsOfRows(standing) }
  return rowsOf(
    prepared.plots.map(({ bounds: rect }, plot) => {
      const grown = prepared.grow({ plot, rect }, near, 1)
      if (!('block' in grown)) throw new Error('a plot asked for more reach')
      return grown.block
    }),
  )
}

/** How many are expected of a planting over solids. */
function expectedOn(solids: readonly Solid[], params: Record<string, ParamValue>): number {
  const planting = spreadOf({ by: 'density', density: 1, ...params }, { grounds: solids.map(({ placed }) => placed.id) })
  return preparePlanting(planting, mixAssets(planting, [assetOf('a', 0.05)]), surroundingsOf(flat, { solids })).expected()
}

describe('throws', () => {
  it.each(['above', 'side'])('are cast at the mesh alone, not at all that its own origin is far from (from %s)', (fill) => {
    // A block 60 m off its origin: by that origin alone the throw would be a hundred times as wide.
    const block = boxShape(5, 5, 5)
    const moved = { ...block, positions: block.positions.map((value, i) => (i % 3 === 0 ? value + 60 : value)) }
    let casts = 0
    const solid = createSolid(meshOf({ position: [-60, 0, 0] }), moved, (shape) => {
      const tree = treeOf(shape)
      return { ...tree, hits: (...ray) => (casts++, tree.hits(...ray)) }
    })
    const values = spreadOf({ placing: 'random', fill, fromCompass: 90, fromAbove: 0 }).params as unknown as SpreadValues
    const arena = createArena()
    clearSites(arena)
    sourceOnSolid(solid, values, 7, 20, 20).fill(arena)
    // 100 m² at 20 each; four standard errors of a Poisson count.
    expect(Math.abs(arena.sites.count - 2000)).toBeLessThan(4 * Math.sqrt(2000))
    expect(casts).toBeLessThan(1.05 * arena.sites.count)
  })
})

describe('how many are expected', () => {
  it('from above goes by the true plan area, however a mesh is turned', () => {
    // A slab of 40 × 2 × 40 m: level, turned 30° about the vertical, and tilted by 60°.
    const slab = boxShape(20, 1, 20)
    const density = 4
    for (const [turn, plan] of [[[0, 0, 0], 1600], [[0, 30, 0], 1600], [[60, 0, 0], 40 * (40 * Math.cos(Math.PI / 3) + 2 * Math.sin(Math.PI / 3))]] as const)
      expect(expectedOn([solidOf(slab, { turn: [...turn] })], { fill: 'above', density }) / density).toBeCloseTo(plan, 3)
    // Every level of two slabs, one above the other, and a slab half as large.
    expect(expectedOn([solidOf(slab), solidOf(slab, { id: 'other', position: [0, 9, 0], size: 0.5 })], { fill: 'levels' })).toBeCloseTo(1600 + 400, 3)
  })
})

/** Least distance of any two, straight through space. */
function leastApart(rows: readonly Grown[]): number {
  const sorted = [...rows].sort((a, b) => a.x - b.x)
  let best = Infinity
  for (let i = 0; i < sorted.length; i++)
    for (let j = i + 1; j < sorted.length && sorted[j].x - sorted[i].x < best; j++)
      best = Math.min(best, Math.hypot(sorted[j].x - sorted[i].x, sorted[j].y - sorted[i].y, sorted[j].z - sorted[i].z))
  return best
}

/** Distance of a point to a triangle (Ericson 2005, 5.1.5), written apart from the tree. */
function toTriangle(p: readonly number[], a: readonly number[], b: readonly number[], c: readonly number[]): number {
  const sub = (u: readonly number[], v: readonly number[]) => [u[0] - v[0], u[1] - v[1], u[2] - v[2]]
  const dot = (u: readonly number[], v: readonly number[]) => u[0] * v[0] + u[1] * v[1] + u[2] * v[2]
  const at = (o: readonly number[], d: readonly number[], t: number) => [o[0] + d[0] * t, o[1] + d[1] * t, o[2] + d[2] * t]
  const far = (q: readonly number[]) => Math.hypot(...sub(p, q))
  const [ab, ac, ap] = [sub(b, a), sub(c, a), sub(p, a)]
  const [d1, d2] = [dot(ab, ap), dot(ac, ap)]
  if (d1 <= 0 && d2 <= 0) return far(a)
  const bp = sub(p, b)
  const [d3, d4] = [dot(ab, bp), dot(ac, bp)]
  if (d3 >= 0 && d4 <= d3) return far(b)
  const vc = d1 * d4 - d3 * d2
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return far(at(a, ab, d1 / (d1 - d3)))
  const cp = sub(p, c)
  const [d5, d6] = [dot(ab, cp), dot(ac, cp)]
  if (d6 >= 0 && d5 <= d6) return far(c)
  const vb = d5 * d2 - d1 * d6
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return far(at(a, ac, d2 / (d2 - d6)))
  const va = d3 * d6 - d5 * d4
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return far(at(b, sub(c, b), (d4 - d3) / (d4 - d3 + d5 - d6)))
  const total = va + vb + vc
  return far(at(at(a, ab, vb / total), ac, vc / total))
}

describe('all over a mesh', () => {
  it('even spacing is kept straight through space on real meshes, and filled well', async () => {
    for (const name of ['fandisk.glb', 'cylinder_locally_refined.glb', 'mech_holes_shark.glb']) {
      const solid = solidOf(await shapeOfFile(name))
      const sums = areaSums(solid.shape)
      const spacing = Math.sqrt(sums[sums.length - 1] / 2500)
      const rows = growOn([solid], { fill: 'all-over', spacing })
      expect(leastApart(rows)).toBeGreaterThanOrEqual(spacing * (1 - 1e-5))
      // A maximal set of darts holds some 0.7 for each square of the spacing on a plane.
      expect((rows.length * spacing * spacing) / sums[sums.length - 1]).toBeGreaterThan(0.55)
    }
  }, 120000)

  it('every one stands on the surface to 1 mm, with its own up along the face’s normal', async () => {
    const solid = solidOf(await shapeOfFile('fandisk.glb'), { position: [3, 2, -5], turn: [20, 40, -30], size: 2 })
    const triangles = trianglesOf(solid)
    const rows = growOn([solid], { fill: 'all-over', by: 'density', density: 60 / (4 * areaSums(solid.shape).at(-1)!), placing: 'random' })
    expect(rows.length).toBeGreaterThan(30)
    for (const { x, y, z, rotation: [qx, qy, qz, qw] } of rows) {
      let best = Infinity
      let on = triangles[0]
      for (const triangle of triangles) {
        if (Math.abs(triangle[0][0] - x) > 1 || Math.abs(triangle[0][1] - y) > 1) continue
        const d = toTriangle([x, y, z], triangle[0], triangle[1], triangle[2])
        if (d < best) {
          best = d
          on = triangle
        }
      }
      expect(best).toBeLessThan(1e-3)
      const [u, v] = [1, 2].map((k) => on[k].map((value, c) => value - on[0][c]))
      const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]
      const up = [2 * (qx * qy - qw * qz), 1 - 2 * (qx * qx + qz * qz), 2 * (qy * qz + qw * qx)]
      expect((up[0] * n[0] + up[1] * n[1] + up[2] * n[2]) / Math.hypot(...n)).toBeGreaterThan(0.999)
    }
  }, 60000)

  it.each(['random', 'even'] as const)('placed %sly, patches of surface get as many as their area asks for: χ² over equal-area bins', async (placing) => {
    const solid = solidOf(await shapeOfFile('cylinder_locally_refined.glb'))
    const sums = areaSums(solid.shape)
    const total = sums[sums.length - 1]
    const BINS = 40
    const rows = growOn([solid], { fill: 'all-over', by: 'density', density: 2000 / total, placing })
    const triangles = trianglesOf(solid)
    const reach = triangles.map(([a, b, c]) => Math.max(Math.hypot(...b.map((v, k) => v - a[k])), Math.hypot(...c.map((v, k) => v - a[k]))))
    const first = Float64Array.from(triangles.flatMap(([a]) => a))
    const counts = new Float64Array(BINS)
    for (const { x, y, z } of rows) {
      let best = Infinity
      let at = 0
      for (let t = 0; t < triangles.length; t++) {
        const d = Math.sqrt((first[3 * t] - x) ** 2 + (first[3 * t + 1] - y) ** 2 + (first[3 * t + 2] - z) ** 2)
        if (d - reach[t] > best) continue
        const exact = toTriangle([x, y, z], triangles[t][0], triangles[t][1], triangles[t][2])
        if (exact < best) {
          best = exact
          at = t
        }
      }
      counts[Math.min(BINS - 1, Math.floor(((at > 0 ? sums[at - 1] : 0) / total) * BINS))]++
    }
    // Bins end on triangles, so their shares are taken as they are.
    const shares = new Float64Array(BINS)
    for (let t = 0; t < sums.length; t++) shares[Math.min(BINS - 1, Math.floor(((t > 0 ? sums[t - 1] : 0) / total) * BINS))] += (sums[t] - (t > 0 ? sums[t - 1] : 0)) / total
    const chi = counts.reduce((sum, count, b) => sum + (count - rows.length * shares[b]) ** 2 / (rows.length * shares[b]), 0)
    expect(chi).toBeLessThan(chiSquaredLimit(BINS - 1))
  }, 120000)

  it('a smaller spacing only adds within an octave, and moving, turning and sizing the ground carries its plants along', () => {
    const shape = boxShape(6, 4, 5)
    const wide = growOn([solidOf(shape)], { fill: 'all-over', spacing: 0.9 })
    const close = new Map(growOn([solidOf(shape)], { fill: 'all-over', spacing: 0.6 }).map((row) => [row.id, row]))
    expect(close.size).toBeGreaterThan(1.5 * wide.length)
    for (const { id, x, y, z } of wide) expect(close.get(id)).toMatchObject({ x, y, z })
    const moved = solidOf(shape, { position: [10, -3, 7], turn: [15, 50, -20], size: 2 })
    const there = new Map(growOn([moved], { fill: 'all-over', spacing: 1.8 }).map((row) => [row.id, row]))
    expect(there.size).toBe(wide.length)
    const out = new Float64Array(3)
    for (const { id, x, y, z } of wide) {
      toWorld(moved, x, y, z, out)
      const row = there.get(id)
      expect(Math.hypot((row?.x ?? 1e9) - out[0], (row?.y ?? 1e9) - out[1], (row?.z ?? 1e9) - out[2])).toBeLessThan(1e-4)
    }
  })

  it('rooms are kept straight through space, and where two grounds overlap the first holds', () => {
    const boxes = [solidOf(boxShape(4, 4, 4), { id: 'one' }), solidOf(boxShape(4, 3, 3), { id: 'two', position: [5, 0, 0] })]
    const rows = growOn(boxes, { fill: 'all-over', by: 'density', density: 3, placing: 'random', room: 6 })
    const own = ({ x, y, z }: Grown) => Math.max(Math.abs(x), Math.abs(y), Math.abs(z)) > 4 - 1e-5 && x < 4 + 1e-5
    expect(leastApart(rows.filter(own))).toBeGreaterThanOrEqual(2 * 6 * 0.05 - 1e-5)
    expect(rows.some(({ x, y, z }) => x > 1.01 && x < 3.99 && Math.abs(y) < 3.99 && Math.abs(z) < 3.99)).toBe(false)
    expect(rows.some(({ x }) => x > 8.9)).toBe(true)
  })

  it('keeps out of the rooms of earlier plantings on the mesh, straight through space', () => {
    const box = solidOf(boxShape(2, 1, 2), { position: [0, 4, 0] })
    const earlier = growOn([box], { fill: 'all-over', spacing: 0.9, room: 4 })
    expect(earlier.length).toBeGreaterThan(20)
    const overlap = (a: Grown, b: Grown) => Math.hypot(a.x - b.x, a.y - b.y, a.z - b.z) < a.room + b.room - 1e-5
    const alone = growOn([box], { fill: 'all-over', spacing: 0.25, room: 1 }, { seed: 3 })
    const beside = growOn([box], { fill: 'all-over', spacing: 0.25, room: 1 }, { seed: 3 }, earlier)
    expect(beside.some((row) => earlier.some((one) => overlap(row, one)))).toBe(false)
    // Just those are gone whose rooms would meet.
    expect(beside.length).toBe(alone.filter((row) => !earlier.some((one) => overlap(row, one))).length)
    expect(beside.length).toBeLessThan(alone.length)
    // Those who do not yield stand as before.
    expect(growOn([box], { fill: 'all-over', spacing: 0.25, room: 1, yields: false }, { seed: 3 }, earlier).length).toBe(alone.length)
  })

  it('an exact count is offered more than enough, the lowest keys first', () => {
    const rows = growOn([solidOf(boxShape(3, 3, 3))], { fill: 'all-over', by: 'count', count: 300 })
    expect(rows.length).toBeGreaterThan(300)
  })
})

describe('thrown at a mesh', () => {
  // A table: a deck over a floor.
  const deck = solidOf(boxShape(5, 0.5, 5), { id: 'deck', position: [0, 4, 0] })
  const floor = solidOf(boxShape(8, 0.5, 8), { id: 'floor', position: [0, 0, 0] })
  const table = solidOf({ positions: Float32Array.from([...boxShape(5, 0.5, 5).positions].map((v, i) => (i % 3 === 1 ? v + 4 : v)).concat([...boxShape(8, 0.5, 8).positions])), indices: Uint32Array.from([...boxShape(5, 0.5, 5).indices, ...Array.from(boxShape(8, 0.5, 8).indices, (i) => i + 8)]) })

  it('from above everything lands on what a falling thing would hit first', () => {
    for (const { x, y, z } of growOn([table], { fill: 'above', spacing: 0.7 })) expect(y).toBeCloseTo(Math.abs(x) <= 5 && Math.abs(z) <= 5 ? 4.5 : 0.5, 5)
    expect(growOn([deck, floor], { fill: 'above', spacing: 0.7 }).length).toBeGreaterThan(300)
  })

  it('every level below is filled too when asked for, none from beneath', () => {
    const rows = growOn([table], { fill: 'levels', spacing: 0.7 })
    const heights = new Set(rows.map(({ y }) => y.toFixed(3)))
    expect(heights).toEqual(new Set(['4.500', '0.500']))
    const under = rows.filter(({ x, y, z }) => y < 1 && Math.abs(x) < 4.9 && Math.abs(z) < 4.9)
    // As many under the deck as on it.
    expect(Math.abs(under.length / rows.filter(({ y }) => y > 4).length - 1)).toBeLessThan(0.1)
    expect(new Set(rows.map(({ id }) => id)).size).toBe(rows.length)
  })

  it('from one side only walls that look that way are hit', () => {
    const rows = growOn([solidOf(boxShape(4, 4, 4))], { fill: 'side', fromCompass: 270, fromAbove: 0, spacing: 0.6 })
    expect(rows.length).toBeGreaterThan(100)
    // Thrown from the west, they hit the western wall.
    for (const { x } of rows) expect(x).toBeCloseTo(-4, 5)
  })

  it('seated by the base, no corner floats over a ball, each sinks by the rise of its cap, and edges hold nobody up', () => {
    const [R, rings, around] = [5, 300, 600]
    const positions = Float32Array.from({ length: 3 * (rings + 1) * around }, (_, n) => {
      const [i, c] = [Math.floor(n / 3), n % 3]
      const [theta, phi] = [(Math.PI * Math.floor(i / around)) / rings, (2 * Math.PI * (i % around)) / around]
      return R * [Math.sin(theta) * Math.cos(phi), Math.cos(theta), Math.sin(theta) * Math.sin(phi)][c]
    })
    const faces = Array.from({ length: rings * around }, (_, n) => {
      const [r, a] = [Math.floor(n / around), n % around]
      const [p, q, s, t] = [r * around + a, r * around + ((a + 1) % around), (r + 1) * around + a, (r + 1) * around + ((a + 1) % around)]
      return [...(r > 0 ? [p, q, s] : []), ...(r < rings - 1 ? [q, t, s] : [])]
    })
    const ball = solidOf({ positions, indices: Uint32Array.from(faces.flat()) }, { position: [10, 20, -5], turn: [30, 10, 0] })
    const from = (row: Grown) => Math.hypot(row.x - 10, row.y - 20, row.z + 5)
    const seated = growOn([ball], { fill: 'all-over', spacing: 0.6, seat: 'base' })
    expect(seated.length).toBeGreaterThan(300)
    // The base of the test's asset is a square of 40 cm: its corners are 0.283 m from its middle, and a
    // face of the ball, up to 0.6° off the true normal, turns them by 3 mm.
    const cap = R - Math.sqrt(R * R - 0.08)
    for (const row of seated) expect(Math.abs(R - cap - from(row))).toBeLessThan(3e-3)
    for (const row of growOn([ball], { fill: 'all-over', spacing: 0.6 })) expect(R - from(row)).toBeLessThan(1e-3)

    const box = solidOf(boxShape(2, 1, 2), { position: [0, 4, 0] })
    const onTop = growOn([box], { fill: 'above', spacing: 0.4, seat: 'base' })
    expect(onTop.some(({ x, z }) => Math.max(Math.abs(x), Math.abs(z)) > 1.85)).toBe(true)
    for (const { y } of onTop) expect(y).toBeCloseTo(5, 4)
  })

  it('conditions see the mesh’s own steepness', () => {
    const walls = growOn([solidOf(boxShape(4, 4, 4))], { fill: 'all-over', spacing: 0.5 }, { habitat: [condition('slope', { slope: { from: 60, to: 120 }, soft: 0 })] })
    expect(walls.length).toBeGreaterThan(300)
    for (const { y } of walls) expect(Math.abs(y)).toBeLessThan(4)
    const under = growOn([solidOf(boxShape(4, 4, 4))], { fill: 'all-over', spacing: 0.5 }, { habitat: [condition('slope', { slope: { from: 150, to: null }, soft: 0 })] })
    for (const { y } of under) expect(y).toBeCloseTo(-4, 5)
  })
})
