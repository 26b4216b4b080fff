import { createArena, fitArena } from './arena.ts'
import { freeThroughSpace, settleThroughSpace } from './rooms-in-space.ts'
import type { Arena } from './arena.ts'
import type { Rooms } from './rooms.ts'
import { mix } from '../math/random.ts'

/** Dice that are the same every time. */
const dice = (seed: number) => mix(seed) / 4294967296

/** An arena of random sites in a box, their rooms of two classes. */
function scattered(count: number, seed: number): Arena {
  const arena = createArena()
  const { sites } = arena
  sites.count = count
  fitArena(arena)
  for (let i = 0; i < count; i++) {
    sites.x[i] = 20 * dice(seed + 7 * i)
    sites.y[i] = 6 * dice(seed + 7 * i + 1)
    sites.z[i] = 20 * dice(seed + 7 * i + 2)
    arena.key[i] = dice(seed + 7 * i + 3)
    arena.rank[i] = dice(seed + 7 * i + 4) < 0.3 ? 0 : 1
    arena.radius[i] = arena.rank[i] === 0 ? 1.2 : 0.4 + 0.3 * dice(seed + 7 * i + 5)
    sites.addressLow[i] = mix(seed + i)
    sites.addressHigh[i] = i
  }
  return arena
}

function others(count: number, seed: number): Rooms {
  const column = (by: number, size: number) => Array.from({ length: count }, (_, i) => size * dice(seed + 11 * i + by))
  return { columns: Float32Array.from([column(0, 20), column(1, 6), column(2, 20), column(3, 1.5)].flat()), from: 3, to: count }
}

const meet = (arena: Arena, i: number, x: number, y: number, z: number, room: number) =>
  Math.hypot(arena.sites.x[i] - x, arena.sites.y[i] - y, arena.sites.z[i] - z) < arena.radius[i] + room

/** Larger ones first, then by key: whoever meets nobody that stays, stays. */
function settledSlowly(arena: Arena, given: readonly Rooms[]): number[] {
  const { sites, radius, rank, key } = arena
  const order = Array.from({ length: sites.count }, (_, i) => i).sort((a, b) => rank[a] - rank[b] || key[a] - key[b])
  const stays: number[] = []
  for (const i of order) {
    const blocked = given.some(({ columns, from, to }) =>
      Array.from({ length: to - from }, (_, k) => [0, 1, 2, 3].map((c) => columns[(c * columns.length) / 4 + from + k])).some(([x, y, z, room]) => meet(arena, i, x, y, z, room)),
    )
    if (!blocked && !stays.some((k) => meet(arena, i, sites.x[k], sites.y[k], sites.z[k], radius[k]))) stays.push(i)
  }
  return stays.sort((a, b) => a - b)
}

describe('rooms settled straight through space', () => {
  for (const [count, seed] of [[60, 1], [400, 2], [900, 3]])
    it(`keeps whom the rule keeps when it is written out, ${count} sites`, () => {
      const given = [others(25, 90 + seed), others(10, 190 + seed)]
      const arena = scattered(count, 1000 * seed)
      const wanted = settledSlowly(arena, given)
      expect(wanted.length).toBeGreaterThan(10)
      expect(wanted.length).toBeLessThan(count)
      expect([...settleThroughSpace(arena, given, 1.2, 2)].sort((a, b) => a - b)).toEqual(wanted)
    })

  it('those without room stand anywhere, and take none', () => {
    const arena = scattered(200, 5)
    arena.radius.fill(0)
    expect(settleThroughSpace(arena, [others(30, 8)], 0, 1).length).toBe(200)
    arena.radius[3] = 1
    const free = freeThroughSpace(arena, [others(30, 8)], 1)
    expect(free(4)).toBe(true)
  })
})
