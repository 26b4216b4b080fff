import fc from 'fast-check'
import { freeOfRooms, settleRooms, STAYS, UNDECIDED, YIELDS } from './rooms.ts'

const EVERYWHERE = { x0: -Infinity, z0: -Infinity, x1: Infinity, z1: Infinity }

interface Candidate {
  readonly x: number
  readonly z: number
  readonly radius: number
}

const radius = fc.oneof(fc.constant(0), fc.double({ min: 0.0001, max: 0.01, noNaN: true }), fc.double({ min: 0.2, max: 3, noNaN: true }))
// Evenly spread: doubles are drawn by their bits, which makes nearly all of them tiny.
const place = fc.integer({ min: -10000, max: 10000 }).map((n) => n / 1000)
const candidate = fc.record({ x: place, z: place, radius })
const candidates = fc.array(candidate, { maxLength: 120 })

const overlap = (a: Candidate, b: Candidate) =>
  a.radius > 0 && b.radius > 0 && (a.x - b.x) ** 2 + (a.z - b.z) ** 2 < (a.radius + b.radius) ** 2

/** Judges one after the other against all that stay so far. */
function settleSlowly(list: readonly Candidate[]): number[] {
  const standing: Candidate[] = []
  return list.map((candidate) => {
    if (standing.some((other) => overlap(other, candidate))) return YIELDS
    standing.push(candidate)
    return STAYS
  })
}

const settle = (list: readonly Candidate[], known = EVERYWHERE, largest = 3, spacing = 0) =>
  Array.from(
    settleRooms(
      list.map(({ x }) => x),
      list.map(({ z }) => z),
      list.map((c) => c.radius),
      Uint32Array.from(list, (_, i) => i),
      known,
      largest,
      spacing,
    ),
  )

describe('settling rooms', () => {
  it('gives what judging all pairs in order gives', () => {
    fc.assert(
      fc.property(candidates, (list) => {
        expect(settle(list)).toEqual(settleSlowly(list))
      }),
      { numRuns: 300 },
    )
  })

  it('with a known part only, is right about all it decides', () => {
    const known = { x0: -4, z0: -5, x1: 5, z1: 4 }
    fc.assert(
      fc.property(candidates, (list) => {
        const inKnown = list.filter(({ x, z }) => x >= known.x0 && x < known.x1 && z >= known.z0 && z < known.z1)
        const whole = settleSlowly(list)
        const verdicts = settle(inKnown, known)
        inKnown.forEach((candidate, k) => {
          if (verdicts[k] !== UNDECIDED) expect(verdicts[k]).toBe(whole[list.indexOf(candidate)])
        })
      }),
      { numRuns: 300 },
    )
  })

  it('is right where candidates are known to keep a distance, for radii that fit into it and for others', () => {
    fc.assert(
      fc.property(candidates, fc.integer({ min: 1, max: 4 }), (list, spacing) => {
        const spaced = list.filter((one, i) => list.slice(0, i).every((other) => Math.hypot(one.x - other.x, one.z - other.z) >= spacing))
        expect(settle(spaced, EVERYWHERE, 3, spacing)).toEqual(settleSlowly(spaced))
        const known = { x0: -4, z0: -5, x1: 5, z1: 4 }
        const inKnown = spaced.filter(({ x, z }) => x >= known.x0 && x < known.x1 && z >= known.z0 && z < known.z1)
        const whole = settleSlowly(spaced)
        settle(inKnown, known, 3, spacing).forEach((verdict, k) => {
          if (verdict !== UNDECIDED) expect(verdict).toBe(whole[spaced.indexOf(inKnown[k])])
        })
      }),
      { numRuns: 300 },
    )
  })

  it('decides those whose neighbourhood is known', () => {
    const list = [
      { x: 0, z: 0, radius: 1 },
      { x: 9.5, z: 0, radius: 1 },
    ]
    expect(settle(list, { x0: -10, z0: -10, x1: 10, z1: 10 }, 1)).toEqual([STAYS, UNDECIDED])
  })
})

describe('what rooms that are taken leave free', () => {
  it('finds what a loop over all finds', () => {
    fc.assert(
      // Crowds, and a few among many, where nobody else would strike out what one of them does.
      fc.property(fc.oneof(candidates, fc.array(candidate, { maxLength: 3 })), candidates, (standing, asking) => {
        const stored = standing.map(({ x, z, radius }) => ({ x: Math.fround(x), z: Math.fround(z), radius: Math.fround(radius) }))
        const columns = Float32Array.from([stored.map(({ x }) => x), stored.map(() => 0), stored.map(({ z }) => z), stored.map((s) => s.radius)].flat())
        // In two parts, as tiles are.
        const half = stored.length >> 1
        const rooms = [
          { columns, from: 0, to: half },
          { columns, from: half, to: stored.length },
        ]
        const column = (of: (candidate: (typeof asking)[number]) => number) => Float64Array.from(asking, of)
        // Some rows only, in any order.
        const rows = Uint32Array.from(asking.keys()).filter((i) => i % 5 !== 3).reverse()
        const kept = rows.slice()
        const free = freeOfRooms(column(({ x }) => x), column(({ z }) => z), column((c) => c.radius), kept, rooms)
        expect([...kept.subarray(0, free)]).toEqual([...rows].filter((i) => !(asking[i].radius > 0) || !stored.some((s) => overlap(s, asking[i]))))
      }),
      { numRuns: 500 },
    )
  })
})
