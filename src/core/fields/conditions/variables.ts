import type { ConditionContext } from './define.ts'
import { landGradients } from '../../grounds/terrain.ts'
import { tiltOf } from './slope.ts'
import { shorelineOf } from '../../grounds/shoreline.ts'
import type { GroundBlock, Range } from '../../grounds/blocks.ts'
import type { Variable } from '../../math/formula.ts'
import type { FormulaRange } from '../../math/formula-range.ts'
import { distancesIn, shifted, slopesIn } from '../bounds.ts'
import { fractalColumn } from '../../math/noise.ts'
import { atan, DEGREE, saturate } from '../../math/portable.ts'
import { MOST_MEMBERS } from '../../order/frames.ts'
import type { Around } from '../../surroundings.ts'
import { CHANNEL, draw } from '../../math/random.ts'
import { gradientColumns } from '../scratch.ts'

/** What formulas can name, with what it means. */
export const VARIABLES = {
  x: 'metres to the east of the middle',
  z: 'metres to the south of the middle',
  height: 'height of the ground, m',
  slope: 'steepness of the ground, degrees',
  water: 'height above the water, m',
  shore: 'distance to the shoreline, m; below 0 under water',
  noise: 'natural patches, 0 to 1',
  dice: 'a throw of its own for each, 0 to 1',
  index: 'number in its row, ring or line, from 0; 0 of what stands in none',
  count: 'how many that run has',
  along: 'how far along its run, 0 to 1',
  angle: 'where it stands round its ring, degrees',
} as const

export const VARIABLE_NAMES = Object.keys(VARIABLES)

/** Columns of distances farther than this are cut off, m. */
const FARTHEST_SHORE = 1000

/** The variables at sites of a ground; `noiseSize` is the width of a patch, m. Who counts shores alike that lie farther than `farthest` says so. */
export function siteVariables({ terrain, waterLevel, seed }: ConditionContext, noiseSize: number, around: Around, farthest = FARTHEST_SHORE): Record<keyof typeof VARIABLES, Variable> {
  return {
    x: ({ x, count }, out) => out.set(x.subarray(0, count)),
    z: ({ z, count }, out) => out.set(z.subarray(0, count)),
    height: ({ y, count }, out) => out.set(y.subarray(0, count)),
    slope(sites, out) {
      const { count, normals } = sites
      if (normals) {
        for (let i = 0; i < count; i++) out[i] = tiltOf(normals, i) / DEGREE
        return
      }
      const { at, gradientX, gradientZ } = gradientColumns(count)
      for (let i = 0; i < count; i++) at[i] = i
      landGradients(terrain, sites, at, count, gradientX, gradientZ)
      for (let i = 0; i < count; i++)
        out[i] = atan(Math.sqrt(gradientX[i] * gradientX[i] + gradientZ[i] * gradientZ[i])) / DEGREE
    },
    water({ y, count }, out) {
      for (let i = 0; i < count; i++) out[i] = y[i] - waterLevel
    },
    shore({ x, y, z, count }, out) {
      shorelineOf(terrain, waterLevel).distances(x, z, count, false, Math.min(FARTHEST_SHORE, farthest), out)
      for (let i = 0; i < count; i++) {
        if (out[i] === Infinity) out[i] = FARTHEST_SHORE
        if (y[i] < waterLevel) out[i] = -out[i]
      }
    },
    noise({ x, z, count }, out) {
      fractalColumn(seed, x, z, count, 1 / noiseSize, 2, out)
      for (let i = 0; i < count; i++) out[i] = saturate(0.5 + 0.5 * out[i])
    },
    dice({ draws, count }, out) {
      for (let i = 0; i < count; i++) out[i] = draw(draws[i] ^ seed, CHANNEL.formula)
    },
    index: inRun(around.runs?.index),
    count: inRun(around.runs?.of),
    along: inRun(around.runs?.along),
    angle: inRun(around.runs?.angle),
  }
}

/** What is known of members of a pattern, at their sites; 0 where there is none. */
export function inRun(known: Float64Array | null | undefined): Variable {
  return ({ addressLow, count }, out) => {
    if (!known) out.fill(0, 0, count)
    else for (let i = 0; i < count; i++) out[i] = known[addressLow[i]]
  }
}

/** What the variables that a formula uses can be in a block of the terrain. */
export function variablesIn(block: GroundBlock, uses: readonly string[], context: ConditionContext): Record<string, FormulaRange> {
  return Object.fromEntries(uses.map((name) => [name, { ...RANGES[name as keyof typeof VARIABLES](block, context), sure: true }]))
}

const RANGES: Readonly<Record<keyof typeof VARIABLES, (block: GroundBlock, context: ConditionContext) => Range>> = {
  x: ({ x0, x1 }) => ({ low: x0, high: x1 }),
  z: ({ z0, z1 }) => ({ low: z0, high: z1 }),
  height: (block) => block.heights(),
  slope(block) {
    const { low, high } = slopesIn(block)
    return { low: low / DEGREE - 1e-9, high: high / DEGREE + 1e-9 }
  },
  water: (block, { waterLevel }) => shifted(block.heights(), -waterLevel),
  shore(block, { terrain, waterLevel }) {
    const away = distancesIn(block, shorelineOf(terrain, waterLevel), false, FARTHEST_SHORE)
    const [low, high] = [Math.min(away.low, FARTHEST_SHORE), Math.min(away.high, FARTHEST_SHORE)]
    const heights = block.heights()
    if (heights.low >= waterLevel) return { low, high }
    return heights.high < waterLevel ? { low: -high, high: -low } : { low: -high, high }
  },
  noise: () => ({ low: 0, high: 1 }),
  dice: () => ({ low: 0, high: 1 }),
  index: () => ({ low: 0, high: MOST_MEMBERS }),
  count: () => ({ low: 0, high: MOST_MEMBERS }),
  along: () => ({ low: 0, high: 1 }),
  angle: () => ({ low: -FARTHEST_ROUND, high: FARTHEST_ROUND }),
}

/** A ring begins anywhere in a round and goes round once, degrees. */
const FARTHEST_ROUND = 720
