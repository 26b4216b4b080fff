import { hilly, terrainOf } from '../../testing/fields.ts'
import { createSites } from '../columns.ts'
import { sinkOfBase } from './footprint.ts'
import { pickTerrain, slopeAt } from './pick.ts'
import type { Terrain } from './terrain.ts'
import { createTerrain, heightAt, inHole, landGradients, landHeights, nodeGradient } from './terrain.ts'

function sitesAt(points: readonly (readonly [number, number])[]) {
  const sites = createSites(points.length)
  sites.count = points.length
  points.forEach(([x, z], i) => {
    sites.x[i] = x
    sites.z[i] = z
  })
  return sites
}

const columns = (count: number) => ({
  x: new Float64Array(count),
  y: new Float64Array(count),
  z: new Float64Array(count),
})

const everyRow = (count: number) => Uint32Array.from({ length: count }, (_, i) => i)

/** A slow reading by barycentric coordinates: the one triangle of all that a place lies in. */
function slowHeight(t: Terrain, x: number, z: number): number {
  const px = Math.min(t.sizeX / 2, Math.max(-t.sizeX / 2, x))
  const pz = Math.min(t.sizeZ / 2, Math.max(-t.sizeZ / 2, z))
  const corner = (i: number, j: number) => [-t.sizeX / 2 + i * t.stepX, -t.sizeZ / 2 + j * t.stepZ, t.heights[j * t.columns + i]]
  for (let j = 0; j + 1 < t.rows; j++)
    for (let i = 0; i + 1 < t.columns; i++)
      for (const [a, b, c] of [
        [corner(i, j), corner(i, j + 1), corner(i + 1, j)],
        [corner(i + 1, j), corner(i, j + 1), corner(i + 1, j + 1)],
      ]) {
        const area = (b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1])
        const l1 = ((px - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (pz - a[1])) / area
        const l2 = ((b[0] - a[0]) * (pz - a[1]) - (px - a[0]) * (b[1] - a[1])) / area
        if (l1 > -1e-9 && l2 > -1e-9 && l1 + l2 < 1 + 1e-9) return a[2] + l1 * (b[2] - a[2]) + l2 * (c[2] - a[2])
      }
  return NaN
}

describe('terrain', () => {
  const t = hilly(40, 21)
  const points = Array.from({ length: 60 }, (_, i) => [20 * Math.sin(i * 1.7), 20 * Math.cos(i * 2.3)] as const)

  it('has the height of the triangle there, alone and in columns', () => {
    const sites = sitesAt(points)
    landHeights(t, sites)
    points.forEach(([x, z], i) => {
      expect(heightAt(t, x, z)).toBeCloseTo(slowHeight(t, x, z), 9)
      expect(sites.y[i]).toBe(heightAt(t, x, z))
    })
  })

  it('has Horn’s gradient at the nodes, as his 3 × 3 window gives it', () => {
    const step = 40 / 20
    for (const [i, j] of [[5, 5], [10, 3], [17, 18], [1, 1]]) {
      const h = (a: number, b: number) => t.heights[(j + b) * 21 + i + a]
      const dx = (h(1, -1) + 2 * h(1, 0) + h(1, 1) - h(-1, -1) - 2 * h(-1, 0) - h(-1, 1)) / (8 * step)
      const dz = (h(-1, 1) + 2 * h(0, 1) + h(1, 1) - h(-1, -1) - 2 * h(0, -1) - h(1, -1)) / (8 * step)
      const sites = sitesAt([[-20 + i * step, -20 + j * step]])
      const gradient = columns(1)
      landGradients(t, sites, everyRow(1), 1, gradient.x, gradient.z)
      expect(gradient.x[0]).toBeCloseTo(dx, 6)
      expect(gradient.z[0]).toBeCloseTo(dz, 6)
      const [gx, gz] = nodeGradient(t, i, j)
      expect(gx).toBeCloseTo(dx, 6)
      expect(gz).toBeCloseTo(dz, 6)
    }
  })

  it('knows the slope of an even incline', () => {
    const incline = terrainOf((x) => x * Math.tan((25 * Math.PI) / 180))
    expect(slopeAt(incline, 3.3, -7.1)).toBeCloseTo(25, 4)
  })

  it('refuses grids that cannot be, by name and value', () => {
    expect(() => createTerrain(new Float32Array(3), 2, 2, 1, 1)).toThrow('got 3 heights')
    expect(() => createTerrain(Float32Array.of(0, 1, Infinity, 2), 2, 2, 1, 1)).toThrow('height 2 is not a finite number')
    expect(() => createTerrain(new Float32Array(4).fill(NaN), 2, 2, 1, 1)).toThrow('no sample has a height')
    expect(() => createTerrain(new Float32Array(4), 2, 2, 0, 1)).toThrow('got 0 × 1 m')
    expect(() => createTerrain(new Float32Array(1), 1, 1, 1, 1)).toThrow('got 1 × 1')
  })

  it('is met by a ray where the surface is', () => {
    const hit = pickTerrain(t, [3, 60, -4], [0.05, -0.99, 0.02], 500)
    expect(hit).not.toBeNull()
    const [x, y, z] = hit ?? [0, 0, 0]
    expect(y).toBeCloseTo(slowHeight(t, x, z), 6)
    // On the ray: the cross product with its direction vanishes.
    expect((x - 3) * -0.99 - (y - 60) * 0.05).toBeCloseTo(0, 4)
    expect(pickTerrain(t, [0, 60, 0], [0, 1, 0], 500)).toBeNull()
  })
})

describe('a terrain with holes', () => {
  const whole = hilly(40, 21)
  const stored = whole.stored.slice()
  stored[10 * 21 + 10] = NaN
  stored[3] = NaN
  const t = createTerrain(stored, 21, 21, 40, 40)

  it('has none of the cells of which a corner is missing, and all others as they were', () => {
    for (let k = 0; k < 2000; k++) {
      const [x, z] = [40 * (((k * 0.7548776662) % 1) - 0.5), 40 * (((k * 0.569840291) % 1) - 0.5)]
      const [i, j] = [Math.floor((x + 20) / 2), Math.floor((z + 20) / 2)]
      const corners = [stored[j * 21 + i], stored[j * 21 + i + 1], stored[(j + 1) * 21 + i], stored[(j + 1) * 21 + i + 1]]
      const hole = corners.some(Number.isNaN)
      expect(inHole(t, x, z)).toBe(hole)
      if (!hole) expect(heightAt(t, x, z)).toBe(heightAt(whole, x, z))
      else expect(Number.isFinite(heightAt(t, x, z))).toBe(true)
    }
    expect(t.lowest).toBe(Math.min(...stored.filter((h) => h === h)))
  })

  it('lets a ray through its holes, and does not show its underside', () => {
    expect(pickTerrain(t, [0.5, 60, 0.5], [0, -1, 0], 500)).toBeNull()
    expect(pickTerrain(whole, [0.5, 60, 0.5], [0, -1, 0], 500)).not.toBeNull()
    const hit = pickTerrain(t, [0.5, 60, 5.5], [0, -1, 0], 500)
    expect(hit?.[1]).toBeCloseTo(heightAt(t, 0.5, 5.5), 3)
    // Down through the hole and on below the ground.
    expect(pickTerrain(t, [0, 20, 0], [0.05, -1, 0.03], 500)).toBeNull()
  })
})

describe('seating a base', () => {
  const t = hilly(40, 41)
  for (const seed of [1, 2, 3, 4, 5, 6, 7, 8]) {
    it(`finds the smallest sink that puts all of it under ground, case ${seed}`, () => {
      const roll = (k: number) => Math.abs(Math.sin(seed * 127.1 + k * 311.7) * 43758.5453) % 1
      const corners = 3 + Math.floor(roll(1) * 6)
      const cx = 30 * (roll(2) - 0.5)
      const cz = 30 * (roll(3) - 0.5)
      const radius = 0.1 + 4 * roll(4)
      const x = Float64Array.from({ length: corners }, (_, k) => cx + radius * Math.cos((2 * Math.PI * k) / corners + seed))
      const z = Float64Array.from({ length: corners }, (_, k) => cz + radius * Math.sin((2 * Math.PI * k) / corners + seed))
      const plane = Float64Array.of(2 + roll(5), roll(6) - 0.5, roll(7) - 0.5)
      const sink = sinkOfBase(t, x, z, corners, plane)
      // Brute force: a dense fan of points over the polygon.
      let most = -Infinity
      const n = 160
      for (let k = 0; k < corners; k++) {
        const m = (k + 1) % corners
        for (let a = 0; a <= n; a++)
          for (let b = 0; b <= n - a; b++) {
            const px = cx + ((x[k] - cx) * a + (x[m] - cx) * b) / n
            const pz = cz + ((z[k] - cz) * a + (z[m] - cz) * b) / n
            most = Math.max(most, plane[0] + plane[1] * px + plane[2] * pz - heightAt(t, px, pz))
          }
      }
      expect(sink).toBeGreaterThanOrEqual(most - 1e-9)
      expect(sink).toBeLessThan(most + 0.004 * radius + 1e-6)
    })
  }
})
