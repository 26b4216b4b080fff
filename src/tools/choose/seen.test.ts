import { pickTerrain } from '../../core/grounds/pick.ts'
import { heightAt } from '../../core/grounds/terrain.ts'
import { random } from '../../core/math/random.ts'
import { terrainOf } from '../../testing/fields.ts'
import type { Desk } from '../define.ts'
import { hiddenByGround } from './seen.ts'

// A ridge 9 m high across the view, seen from a standing eye before it.
const terrain = terrainOf((x, z) => 9 * Math.exp(-((z / 6) ** 2)) + 0.5 * Math.sin(x / 5), 100, 201)
const EYE = [0, 6, 45] as const
const [WIDE, HIGH, FAR] = [800, 400, 500]

/** A pinhole that looks to the north. */
const view = {
  sight(x: number, y: number) {
    const way = [x - WIDE / 2, HIGH / 2 - y, -FAR]
    const long = Math.hypot(...way)
    return { origin: EYE, direction: way.map((one) => one / long), reach: 500 }
  },
  pick(x: number, y: number) {
    const { origin, direction, reach } = view.sight(x, y)
    const hit = pickTerrain(terrain, origin, direction as [number, number, number], reach)
    return hit && { x: hit[0], y: hit[1], z: hit[2] }
  },
}

/** By brute force: whether the line from the eye runs under the ground anywhere. */
function hiddenBySteps(to: readonly number[]): boolean {
  for (let k = 1; k < 2000; k++) {
    const [x, y, z] = EYE.map((from, c) => from + ((to[c] - from) * k) / 2000)
    if (heightAt(terrain, x, z) > y + 0.05) return true
  }
  return false
}

describe('what the ground hides', () => {
  it('is what stands well behind a ridge, and nothing that is seen', () => {
    const hidden = hiddenByGround(view as unknown as Desk['view'], [100, 50, 700, 350])
    const found = { seen: 0, lost: 0, behind: 0, kept: 0 }
    for (let k = 0; k < 4000; k++) {
      const [x, z] = [90 * random(1, k, 0, 1) - 45, 90 * random(1, k, 0, 2) - 49]
      const place = [x, heightAt(terrain, x, z) + 0.1, z]
      const depth = EYE[2] - z
      const [px, py] = [WIDE / 2 + (FAR * (place[0] - EYE[0])) / depth, HIGH / 2 - (FAR * (place[1] - EYE[1])) / depth]
      if (px < 100 || px > 700 || py < 50 || py > 350) continue
      const away = Math.hypot(...place.map((one, c) => one - EYE[c]))
      if (!hiddenBySteps(place)) {
        found.seen++
        if (hidden(px, py, away)) found.lost++
      } else if (z < -8) {
        found.behind++
        if (!hidden(px, py, away)) found.kept++
      }
    }
    expect(found.seen).toBeGreaterThan(300)
    expect(found.behind).toBeGreaterThan(300)
    expect(found.lost).toBe(0)
    // What lies a cell under the rim of the ridge may be taken still.
    expect(found.kept / found.behind).toBeLessThan(0.15)
  })
})
