import { closed } from '../../stance/stance.ts'
import { evenShareOf, gatheringOf } from './arrangement.ts'
import type { CandidateSource } from './plan.ts'
import { evenSource } from './even-source.ts'
import { shiftedSource } from './shifted.ts'
import { gatheredSource, randomSource, togetherSource } from './plan.ts'
import type { GrowContext } from '../context.ts'
import type { GroundArea } from '../plot.ts'
import { EVEN_FILL, evenPattern, evenScaleOfDensity, evenScaleOfSpacing, floorLog2, powerOfTwo } from './even-pattern.ts'
import type { SpreadValues } from '../../plantings/spread-params.ts'

/** Candidates per m² that spacing or density ask for. */
export function densityOf(values: SpreadValues): number {
  return values.by === 'spacing' ? EVEN_FILL / (values.spacing * values.spacing) : values.density
}

/**
 * For an exact count: what density of candidates is looked through; which of them stay is settled over all
 * tiles by their keys. Random candidates are the same ones at any density. Those of the even pattern are not,
 * so there the density follows the whole ground, not what the conditions take of it, in steps of four: a
 * habitat that becomes a little wider or narrower finds the same candidates. `finer` counts the steps that
 * had too few.
 */
export function densityForCount(values: SpreadValues, assets: GrowContext['assets'], { whole, taken, spare }: GroundArea, finer: number): number {
  const least = Math.max(taken, 1e-6 * whole, 1e-9)
  const count = Math.max(values.count, 1)
  let density = (spare * count) / (values.placing === 'even' ? Math.max(whole, least) : least)
  // A step is passed over when even four times what it should find is too little.
  while (4 * density * least < count) density *= 4
  return Math.min(density * powerOfTwo(2 * finer), mostDensity(values, assets))
}

/** The candidates of a spread in plan, so many per m²; an exact count takes a whole octave of them. `meant` is how many instances per m² are meant. */
export function chooseSource(values: SpreadValues, seed: number, density: number, meant: number): CandidateSource {
  return shiftedSource(thrownSource(values, seed, density, meant), values)
}

/** The candidates where they are thrown to. */
function thrownSource(values: SpreadValues, seed: number, density: number, meant: number): CandidateSource {
  const full = evenPattern().count
  if (values.placing === 'natural') return naturalSource(values, seed, density, meant)
  if (values.placing === 'random') return randomSource(seed, density)
  if (values.by === 'count') return evenSource(seed, { octave: floorLog2(Math.sqrt(full / density)), prefix: full })
  return evenSource(seed, values.by === 'spacing' ? evenScaleOfSpacing(values.spacing) : evenScaleOfDensity(density))
}

/** Least density of a part of a source, per m². */
const LEAST_DENSITY = 1e-9

/** Candidates whose Clark–Evans index is the dial's number at the density `meant`. */
function naturalSource({ arrangement, clump, looseness }: SpreadValues, seed: number, density: number, meant: number): CandidateSource {
  const random = (share: number) => randomSource(seed, Math.max(density * share, LEAST_DENSITY))
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
