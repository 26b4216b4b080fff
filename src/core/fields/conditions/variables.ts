import type { ConditionContext } from './define.ts'
import { landGradients } from '../../grounds/terrain.ts'
import { tiltOf } from './slope.ts'
import { shorelineOf } from '../../grounds/shoreline.ts'
import type { Variable } from '../../math/formula.ts'
import { fractalColumn } from '../../math/noise.ts'
import { atan, DEGREE, saturate } from '../../math/portable.ts'
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
} as const

export const VARIABLE_NAMES = Object.keys(VARIABLES)

/** Columns of distances farther than this are cut off, m. */
const FARTHEST_SHORE = 1000

/** The variables at sites of a ground; `noiseSize` is the width of a patch, m. Who counts shores alike that lie farther than `farthest` says so. */
export function siteVariables({ terrain, waterLevel, seed }: ConditionContext, noiseSize: number, farthest = FARTHEST_SHORE): Record<keyof typeof VARIABLES, Variable> {
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
  }
}
