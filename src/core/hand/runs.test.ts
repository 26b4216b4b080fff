import fc from 'fast-check'
import { alongPolyline } from '../outlines/along.ts'
import type { Vector } from './frames.ts'
import { lineAlong, lineThrough, pathThrough, placesOfRun, radiusOf, ringThrough, withRadius } from './runs.ts'
import type { RunShape } from './runs.ts'

const metres = fc.double({ min: -1000, max: 1000, noNaN: true })
const place = fc.tuple(metres, metres, metres) as fc.Arbitrary<Vector>
const shape = (rest: Partial<RunShape>): RunShape => ({ kind: 'line', from: [0, 0, 0], to: [1, 0, 0], spacing: 1, arc: 360, ...rest })
const away = (a: readonly (number | null)[], b: readonly (number | null)[]) => Math.hypot(...a.map((one, c) => (one ?? 0) - (b[c] ?? 0)))

describe('what is spaced out', () => {
  it('along a line: member k is k spacings from the beginning, in its direction', () => {
    fc.assert(
      fc.property(place, place, fc.double({ min: 0.01, max: 50, noNaN: true }), fc.integer({ min: 2, max: 60 }), (from, to, spacing, count) => {
        fc.pre(Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]) > 0.1)
        const places = placesOfRun(shape({ from: [...from], to: [...to], spacing }), count, null)
        const long = Math.hypot(...from.map((one, c) => to[c] - one))
        places.forEach((at, k) => at.forEach((one, c) => one !== null && expect(Math.abs(one - from[c] - ((to[c] - from[c]) / long) * spacing * k)).toBeLessThan(1e-6)))
        // A level line leaves each its own height.
        expect(placesOfRun(shape({ from: [...from], to: [to[0], from[1], to[2]], spacing }), 2, null)[1][1]).toBeNull()
      }),
    )
  })

  it('round a ring: all as far from its middle; closed, nine are 40° apart and none doubled; open, both ends are taken', () => {
    const ring = shape({ kind: 'ring', from: [3, 1, -2], to: [8, 1, -2] })
    const nine = placesOfRun(ring, 9, null)
    nine.forEach(([x, , z], k) => {
      expect(Math.hypot(x - 3, z + 2)).toBeCloseTo(5, 9)
      expect(away(nine[k], nine[(k + 1) % 9])).toBeCloseTo(2 * 5 * Math.sin(Math.PI / 9), 9)
    })
    const open = placesOfRun({ ...ring, arc: 90 }, 4, null)
    expect(away(open[0], [8, null, -2])).toBeLessThan(1e-9)
    expect(away(open[3], [3, null, 3])).toBeLessThan(1e-9)
    expect(away(placesOfRun({ ...ring, arc: -90 }, 2, null)[1], [3, null, -7])).toBeLessThan(1e-9)
    expect(radiusOf({ from: ring.from, to: withRadius(ring, 12) })).toBeCloseTo(12, 9)
  })

  it('along a path: by the length gone along it, whatever its corners', () => {
    const line = [0, 0, 10, 0, 10, 10, 30, 10]
    const path = alongPolyline(line)
    const places = placesOfRun(shape({ kind: 'path', spacing: 4 }), 12, path)
    // 40 m: by hand.
    expect(places.map(([x, , z]) => [x, z])).toEqual([[0, 0], [4, 0], [8, 0], [10, 2], [10, 6], [10, 10], [14, 10], [18, 10], [22, 10], [26, 10], [30, 10], [30, 10]])
    expect(placesOfRun(shape({ kind: 'path' }), 5, null)).toEqual([])
  })

  it('takes the order in which things lie, and is evenly spread between the first and the last', () => {
    fc.assert(
      fc.property(fc.array(place, { minLength: 2, maxLength: 30 }), (places) => {
        const { order, shape: line } = lineThrough(places)
        expect([...order].sort((a, b) => a - b)).toEqual(places.map((_, k) => k))
        const out = placesOfRun(line, places.length, null)
        const [first, last] = [places[order[0]], places[order[order.length - 1]]]
        expect(Math.hypot(out[0][0] - first[0], out[0][2] - first[2])).toBeLessThan(1e-6)
        const end = out[out.length - 1]
        if (Math.hypot(first[0] - last[0], first[2] - last[2]) > 1e-3) expect(Math.hypot(end[0] - last[0], end[2] - last[2])).toBeLessThan(1e-6)
        const east = lineAlong(places, [1, 0, 0])
        for (let k = 1; k < places.length; k++) expect(places[east.order[k]][0]).toBeGreaterThanOrEqual(places[east.order[k - 1]][0])
      }),
    )
    const { order } = pathThrough([[9, 0, 1], [1, 0, 0], [29, 0, 10]], alongPolyline([0, 0, 10, 0, 10, 10, 30, 10]), false)
    expect(order).toEqual([1, 0, 2])
    const ring = ringThrough([[1, 0, 0], [0, 0, 1], [-1, 0, 0], [0, 0, -1]])
    expect(placesOfRun(ring.shape, 4, null).every(([x, , z]) => Math.abs(Math.hypot(x, z) - 1) < 1e-9)).toBe(true)
  })

  it('an axis upwards stacks them', () => {
    const { shape: stack } = lineAlong([[0, 0, 0], [0, 3, 0]], [0, 1, 0])
    expect(placesOfRun({ ...stack, spacing: 0.5 }, 3, null).map(([, y]) => y)).toEqual([0, 0.5, 1])
  })
})
