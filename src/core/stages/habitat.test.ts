import { condition, hilly, outlineOf, surroundingsOf } from '../../testing/fields.ts'
import { createSites } from '../columns.ts'
import { groundOfTerrain } from '../grounds/terrain-ground.ts'
import type { ConditionUse } from '../meadow.ts'
import { NOTHING_AROUND } from '../surroundings.ts'
import { createArena } from './arena.ts'
import { prepareHabitat, weighOn } from './habitat.ts'

const terrain = hilly(100, 101)
const surroundings = surroundingsOf(terrain, { outlines: [outlineOf('path', [[-40, -30, 0, 5, 45, 10]], { width: 2 })] }, -1)
const path = condition('path', { path: 'path', away: { from: 1, to: 20 }, soft: 4 })
const height = condition('height', { height: { from: -1, to: 4 }, soft: 1 })
const slope = condition('slope', { slope: { from: null, to: 25 }, soft: 6 })

function weightsOf(habitat: readonly ConditionUse[]): Float64Array {
  const sites = createSites(900)
  sites.count = 900
  for (let i = 0; i < 900; i++) {
    sites.x[i] = (i % 30) * 3.2 - 47
    sites.z[i] = Math.floor(i / 30) * 3.2 - 47
    sites.weight[i] = 1
    // What is refused may be dropped: the draws tell who is left.
    sites.draws[i] = i
  }
  weighOn(groundOfTerrain(terrain), prepareHabitat({ habitat: [...habitat], combine: 'all', seed: 3 }, surroundings), sites, NOTHING_AROUND, createArena())
  const weights = new Float64Array(900)
  for (let k = 0; k < sites.count; k++) weights[sites.draws[k]] = sites.weight[k]
  return weights
}

describe('conditions that all must hold', () => {
  it('are asked in turn, dear ones of what the others leave', () => {
    const { steps } = prepareHabitat({ habitat: [path, height, slope], combine: 'all', seed: 3 }, surroundings)
    // Of the three, heights are asked by the one alone.
    expect(steps.map(({ asksHeights }) => asksHeights)).toEqual([true, false, false])
    const weightAt = (step: number, x: number, z: number) => {
      const sites = createSites(1)
      Object.assign(sites, { count: 1 })
      sites.x[0] = x
      sites.z[0] = z
      sites.weight[0] = 1
      steps[step].weigh(sites, NOTHING_AROUND, createArena())
      return sites.weight[0]
    }
    // On the path itself it is the last one that refuses.
    const along = Array.from({ length: 40 }, (_, i): [number, number] => [-40 + i, -30 + (35 / 40) * i])
    for (const [x, z] of along) expect(weightAt(2, x, z)).toBe(0)
    expect(along.some(([x, z]) => weightAt(1, x, z) > 0)).toBe(true)
  })

  it('weigh the same in whatever order they are listed', () => {
    const expected = weightsOf([height, slope, path])
    expect(expected.filter((weight) => weight > 0 && weight < 1).length).toBeGreaterThan(50)
    for (const order of [[path, height, slope], [slope, path, height], [path, slope, height]])
      weightsOf(order).forEach((weight, i) => expect(Math.abs(weight - expected[i])).toBeLessThan(1e-15))
  })
})
