import { solidOf } from '../../testing/fields.ts'
import { shapeOfFile, trianglesOf } from '../../testing/shapes.ts'
import { blockOf } from '../columns.ts'
import { mix } from '../math/random.ts'
import { createBase } from './footprint.ts'
import { seatOnSolid } from './mesh-seat.ts'
import type { Solid } from './solid.ts'

const dice = (n: number) => mix(n) / 4294967296

/** Way along a ray to a triangle (Möller & Trumbore 1997); infinite where it is missed. */
function wayTo(o: readonly number[], d: readonly number[], [a, b, c]: readonly (readonly number[])[]): number {
  const sub = (u: readonly number[], v: readonly number[]) => [u[0] - v[0], u[1] - v[1], u[2] - v[2]]
  const cross = (u: readonly number[], v: readonly number[]) => [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]
  const dot = (u: readonly number[], v: readonly number[]) => u[0] * v[0] + u[1] * v[1] + u[2] * v[2]
  const [e, f, s] = [sub(b, a), sub(c, a), sub(o, a)]
  const h = cross(d, f)
  const det = dot(e, h)
  if (Math.abs(det) < 1e-14) return Infinity
  const u = dot(s, h) / det
  const q = cross(s, e)
  const v = dot(d, q) / det
  const t = dot(f, q) / det
  return u < 0 || v < 0 || u + v > 1 || t < 0 ? Infinity : t
}

function turned([x, y, z, w]: readonly number[], [a, b, c]: readonly number[]): number[] {
  const [tx, ty, tz] = [2 * (y * c - z * b), 2 * (z * a - x * c), 2 * (x * b - y * a)]
  return [a + w * tx + y * tz - z * ty, b + w * ty + z * tx - x * tz, c + w * tz + x * ty - y * tx]
}

/** One of many instances: where it stands, how it is turned, how large it is. */
function scattered(solid: Solid, count: number, seed: number) {
  const triangles = trianglesOf(solid)
  return Array.from({ length: count }, (_, i) => {
    const [a, b, c] = triangles[Math.floor(dice(seed + 11 * i) * triangles.length)]
    const [u, v] = [dice(seed + 11 * i + 1), dice(seed + 11 * i + 2)].map((one) => 0.5 * one)
    const q = [0, 1, 2, 3].map((k) => dice(seed + 11 * i + 3 + k) - 0.5)
    const long = Math.hypot(...q)
    return { place: a.map((value, k) => Math.fround(value + u * (b[k] - value) + v * (c[k] - value))), turn: q.map((value) => Math.fround(value / long)), size: 0.4 + dice(seed + 11 * i + 8) }
  })
}

describe('seating bases on a mesh', () => {
  const outline = [-0.3, -0.2, 0.25, -0.22, 0.3, 0.2, 0.05, 0.3, -0.25, 0.2]
  const base = createBase(outline)

  // Seen by eye, the base is a fraction of a facet of the first, and covers hundreds of the second, where rays are asked.
  it.each([
    ['fandisk.glb', 6],
    ['fandisk.glb', 0.7],
  ])('sinks each by what rays through all triangles find, on %s of size %d', async (name, size) => {
    const solid = solidOf(await shapeOfFile(name), { position: [2, 1, -3], turn: [25, -40, 10], size })
    const triangles = trianglesOf(solid)
    const all = scattered(solid, 60, 5000)
    const block = blockOf(all.length)
    all.forEach(({ place, turn }, i) => {
      block.position.set(place, 3 * i)
      block.rotation.set(turn, 4 * i)
    })
    const rows = Uint32Array.from(all, (_, i) => i)
    const sizes = Float64Array.from(all, (one) => one.size)
    seatOnSolid(solid)(rows, rows, sizes, new Uint16Array(all.length), [base], block)
    if (size < 1) {
      // More of it lies about a base than is listed.
      const { box } = solid
      expect(solid.tree().around(0.5 * (box[0] + box[3]), 0.5 * (box[1] + box[4]), 0.5 * (box[2] + box[5]), (Math.SQRT2 * base.reach) / size, new Uint32Array(512))).toBe(-1)
    }
    let sunk = 0
    all.forEach(({ place, turn, size: own }, i) => {
      const up = turned(turn, [0, 1, 0])
      const high = base.reach * own
      let sink = 0
      for (let n = 0; n < outline.length; n += 2) {
        const corner = turned(turn, [outline[n] * own, 0, outline[n + 1] * own]).map((value, k) => place[k] + value + up[k] * high)
        const down = up.map((value) => -value)
        const gap = triangles.reduce((least, triangle) => Math.min(least, wayTo(corner, down, triangle)), Infinity) - high
        if (gap > sink && gap <= high) sink = gap
      }
      if (sink > 0.01) sunk++
      for (let k = 0; k < 3; k++) expect(block.position[3 * i + k]).toBeCloseTo(place[k] - up[k] * sink, 4)
    })
    expect(sunk).toBeGreaterThan(10)
  }, 60000)

  it('takes no notice of what hangs higher above a base than it reaches', () => {
    // A floor that falls by a quarter to the east, and a ceiling that follows it 1.35 reaches above.
    const corners = [-4, 4].flatMap((x) => [-4, 4].flatMap((z) => [x, -0.25 * x, z]))
    const ceiling = corners.map((value, k) => (k % 3 === 1 ? value + 1.35 * base.reach : value))
    const shape = { positions: Float32Array.from([...corners, ...ceiling]), indices: Uint32Array.of(0, 1, 2, 1, 3, 2, 4, 5, 6, 5, 7, 6) }
    const block = blockOf(1)
    block.rotation.set([0, 0, 0, 1])
    seatOnSolid(solidOf(shape))(Uint32Array.of(0), Uint32Array.of(0), Float64Array.of(1), Uint16Array.of(0), [base], block)
    // The farthest corner to the east floats most.
    expect(block.position[1]).toBeCloseTo(-0.25 * 0.3, 6)
  })
})
