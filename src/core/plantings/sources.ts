import { closed } from '../stance/stance.ts'
import { evenShareOf, gatheringOf } from './arrangement.ts'
import type { CandidateSource } from './candidates.ts'
import { evenSource, gatheredSource, randomSource, SECOND, togetherSource } from './candidates.ts'
import type { GrowContext } from './define.ts'
import { EVEN_FILL, evenPattern, evenScaleOfDensity, evenScaleOfSpacing, floorLog2, powerOfTwo } from './even-pattern.ts'
import type { SpreadValues } from './spread-params.ts'

/** Candidates per m² that spacing or density ask for. */
export function densityOf(values: SpreadValues): number {
  return values.by === 'spacing' ? EVEN_FILL / (values.spacing * values.spacing) : values.density
}

/** For an exact count: candidates to spare; which of them stay is settled over all tiles by their keys. */
export function densityForCount(values: SpreadValues, { terrain, assets }: GrowContext, area: number, finer: number): number {
  const least = Math.max(area, 1e-6 * terrain.sizeX * terrain.sizeZ)
  return Math.min((1.3 * powerOfTwo(2 * finer) * Math.max(values.count, 1)) / least, mostDensity(values, assets))
}

/** The candidates of a spread in plan. An exact count takes a whole octave of them. */
export function chooseSource(values: SpreadValues, seed: number, density: number, finer: number): CandidateSource {
  const full = evenPattern().count
  const octave = floorLog2(Math.sqrt(full / density))
  const counted = values.by === 'count'
  if (values.placing === 'natural') return naturalSource(values, seed, density, counted ? density / (1.3 * powerOfTwo(2 * finer)) : density)
  if (values.placing === 'random') return randomSource(seed, counted ? full / powerOfTwo(2 * octave) : density)
  if (counted) return evenSource(seed, { octave, prefix: full })
  return evenSource(seed, values.by === 'spacing' ? evenScaleOfSpacing(values.spacing) : evenScaleOfDensity(density))
}

/** Least density of a part of a source, per m². */
const LEAST_DENSITY = 1e-9

/** Candidates whose Clark–Evans index is the dial's number at the density `meant`. */
function naturalSource({ arrangement, clump, looseness }: SpreadValues, seed: number, density: number, meant: number): CandidateSource {
  const random = (share: number) => randomSource(seed, Math.max(density * share, LEAST_DENSITY), SECOND)
  if (arrangement >= 1) {
    const share = evenShareOf(arrangement)
    const even = evenSource(seed, evenScaleOfDensity(Math.max(density * share, LEAST_DENSITY)))
    return togetherSource(even, random(1 - share))
  }
  const gathering = gatheringOf(arrangement, meant, clump, looseness)
  return togetherSource(gatheredSource(seed, density * gathering.share, gathering), random(1 - gathering.share))
}

/** Candidates beyond this density only lose to others: four for the square of the smallest room there can be. */
function mostDensity(values: SpreadValues, assets: GrowContext['assets']): number {
  const [smallest] = closed(values.size)
  let room = Infinity
  for (const asset of assets) room = Math.min(room, asset.room * smallest * values.room)
  return room > 0 && room < Infinity ? 4 / (room * room) : Infinity
}
