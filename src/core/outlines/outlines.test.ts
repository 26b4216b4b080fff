import fc from 'fast-check'
import { flatten, FLATNESS } from './curve.ts'
import { createLineIndex } from './distance.ts'

type Point = readonly [number, number]

const pairs = (line: readonly number[]): Point[] => Array.from({ length: line.length / 2 }, (_, i) => [line[2 * i], line[2 * i + 1]])

const column = (sites: readonly Point[], c: 0 | 1) => Float64Array.from(sites, (p) => p[c])

function segmentsOf(lines: readonly (readonly number[])[], closed: boolean): [Point, Point][] {
  return lines.flatMap((line) => {
    const points = pairs(line)
    const open = points.slice(1).map((p, i): [Point, Point] => [points[i], p])
    return closed && points.length > 2 ? [...open, [points[points.length - 1], points[0]] as [Point, Point]] : open
  })
}

/** Distance by a loop over all segments, side by the crossings of a ray. */
function slowly(lines: readonly (readonly number[])[], closed: boolean, [x, z]: Point): number {
  let best = Infinity
  let inside = false
  for (const [[ax, az], [bx, bz]] of segmentsOf(lines, closed)) {
    const length2 = (bx - ax) ** 2 + (bz - az) ** 2
    const t = length2 > 0 ? Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (z - az) * (bz - az)) / length2)) : 0
    best = Math.min(best, Math.hypot(ax + t * (bx - ax) - x, az + t * (bz - az) - z))
    if (az <= z !== bz <= z && x < ax + ((z - az) / (bz - az)) * (bx - ax)) inside = !inside
  }
  return closed && inside ? -best : best
}

function compare(lines: readonly (readonly number[])[], closed: boolean, sites: readonly Point[]) {
  const out = new Float64Array(sites.length)
  createLineIndex(lines, closed).distances(column(sites, 0), column(sites, 1), sites.length, closed, Infinity, out)
  sites.forEach((site, i) => {
    const slow = slowly(lines, closed, site)
    // On the line itself either side is right.
    if (Math.abs(slow) > 1e-9) expect(Math.abs(out[i] - slow)).toBeLessThan(1e-9)
    else expect(Math.abs(out[i])).toBeLessThan(1e-8)
  })
}

const coordinate = fc.double({ min: -50, max: 50, noNaN: true })
const point = fc.tuple(coordinate, coordinate)
const line = fc.array(point, { minLength: 3, maxLength: 40 }).map((points) => points.flat())

describe('distance to lines', () => {
  it('is that of a loop over all segments, on the right side, for crossing outlines with holes and islands', () => {
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 4 }), fc.array(point, { minLength: 1, maxLength: 60 }), (lines, sites) => {
        compare(lines, true, sites)
        compare(lines, false, sites)
      }),
      { numRuns: 200 },
    )
  })

  it('is exact for 10,000 points, near and far, for sites in order and in none', () => {
    const wavy = Array.from({ length: 10000 }, (_, i) => {
      const a = (2 * Math.PI * i) / 10000
      const r = 100 + 20 * Math.sin(9 * a) + 3 * Math.sin(311 * a)
      return [r * Math.cos(a), r * Math.sin(a)]
    }).flat()
    const sites: Point[] = []
    for (let i = 0; i < 150; i++) {
      sites.push([((i * 0.7548776662) % 1) * 400 - 200, ((i * 0.5698402909) % 1) * 400 - 200])
      sites.push([120 * Math.cos(i / 40), 120 * Math.sin(i / 40)])
    }
    compare([wavy], true, sites)
    compare([wavy], true, sites.filter((_, i) => i % 2 === 1))
  })

  it('with a limit gives the same within it, and beyond it only the side', () => {
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 3 }), fc.array(point, { minLength: 1, maxLength: 60 }), fc.double({ min: 0, max: 20, noNaN: true }), (lines, sites, limit) => {
        const index = createLineIndex(lines, true)
        const [full, within] = [Infinity, limit].map((most) => {
          const out = new Float64Array(sites.length)
          index.distances(column(sites, 0), column(sites, 1), sites.length, true, most, out)
          return out
        })
        full.forEach((d, i) => {
          if (Math.abs(Math.abs(d) - limit) < 1e-9) return
          expect(within[i]).toBe(Math.abs(d) < limit ? d : Math.sign(d) * Infinity)
        })
      }),
      { numRuns: 200 },
    )
  })

  it('knows a ring: closed form', () => {
    const n = 4096
    const ring = Array.from({ length: n }, (_, i) => [10 * Math.cos((2 * Math.PI * i) / n), 10 * Math.sin((2 * Math.PI * i) / n)]).flat()
    const sites: Point[] = [[0, 0], [3, 4], [10, 10], [-20, 0], [0, 9.5]]
    const out = new Float64Array(sites.length)
    createLineIndex([ring], true).distances(column(sites, 0), column(sites, 1), sites.length, true, Infinity, out)
    sites.forEach(([x, z], i) => expect(out[i]).toBeCloseTo(Math.hypot(x, z) - 10, 4))
  })

  it('of nothing is infinite, of one point its distance', () => {
    const out = new Float64Array(1)
    createLineIndex([], true).distances(Float64Array.of(1), Float64Array.of(1), 1, true, Infinity, out)
    expect(out[0]).toBe(Infinity)
    createLineIndex([[4, 5]], false).distances(Float64Array.of(1), Float64Array.of(1), 1, false, Infinity, out)
    expect(out[0]).toBe(5)
  })
})

/** Centripetal Catmull–Rom by the pyramid of Barry and Goldman. */
function pyramid(p: readonly Point[], u: number): Point {
  const t = [0]
  for (let i = 0; i < 3; i++) t.push(t[i] + Math.sqrt(Math.hypot(p[i + 1][0] - p[i][0], p[i + 1][1] - p[i][1])))
  const at = t[1] + u * (t[2] - t[1])
  const blend = (a: Point, b: Point, t0: number, t1: number): Point => {
    const w = (at - t0) / (t1 - t0)
    return [a[0] + w * (b[0] - a[0]), a[1] + w * (b[1] - a[1])]
  }
  const [a1, a2, a3] = [0, 1, 2].map((i) => blend(p[i], p[i + 1], t[i], t[i + 1]))
  return blend(blend(a1, a2, t[0], t[2]), blend(a2, a3, t[1], t[3]), t[1], t[2])
}

describe('a smooth line', () => {
  const spaced = fc
    .array(point, { minLength: 4, maxLength: 9 })
    .filter((points) => points.every((p, i) => Math.hypot(p[0] - points[(i + 1) % points.length][0], p[1] - points[(i + 1) % points.length][1]) > 0.5))

  it('is the centripetal Catmull–Rom curve, to within the stated flatness', () => {
    fc.assert(
      fc.property(spaced, (points) => {
        const flat = flatten(points.flat(), true, true)
        const n = points.length
        for (let i = 0; i < n; i++)
          for (let k = 0; k < 20; k++) {
            const four = [-1, 0, 1, 2].map((step) => points[(i + step + n) % n])
            const on = pyramid(four, k / 20)
            expect(Math.abs(slowly([flat], true, on))).toBeLessThan(FLATNESS + 1e-9)
          }
      }),
      { numRuns: 60 },
    )
  })

  it('goes through its points, open or closed, and straight lines stay as they are', () => {
    const points = [0, 0, 10, 2, 13, 9, 4, 12]
    for (const closed of [false, true]) {
      const flat = pairs(flatten(points, closed, true)).map(String)
      for (const p of pairs(points)) expect(flat).toContain(String(p))
    }
    expect(flatten(points, true, false)).toEqual(points)
    expect(flatten([1, 1, 1, 1, 2, 2, 1, 1], true, false)).toEqual([1, 1, 2, 2])
    expect(flatten([0, 0, 5, 0, 10, 0], false, true).filter((_, i) => i % 2 === 1).every((z) => z === 0)).toBe(true)
  })
})
