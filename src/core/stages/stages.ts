import type { Block } from '../columns.ts'
import { CONDITIONS } from '../fields/conditions/index.ts'
import type { Driven } from '../fields/drivers/drive.ts'
import { prepareDrivers } from '../fields/drivers/drive.ts'
import type { Ground } from '../grounds/ground.ts'
import type { Naming } from '../identity.ts'
import type { Planting } from '../meadow.ts'
import type { GrowContext } from './context.ts'
import type { Framed } from '../stance/stance.ts'
import { prepareStance } from '../stance/stance.ts'
import type { Around } from '../surroundings.ts'
import type { Arena } from './arena.ts'
import type { ChooseValues } from './choose.ts'
import { prepareChoose } from './choose.ts'
import { prepareHabitat } from './habitat.ts'
import { paintedStep, thinByAsset } from './painted.ts'
import { rowsOf } from './block-rows.ts'
import type { TileAddress } from './tiles.ts'
import type { Gathering, Wanted } from './weigh.ts'
import { prepareWeigh } from './weigh.ts'

/** What the stages before left to be stood. */
export interface Chosen {
  readonly ground: Ground
  readonly driven: Driven | null
  /** Frames of members of a pattern; missing where sites are no members. */
  readonly framed?: Framed
}

/**
 * The stages that every kind of planting goes through, one after the other, over the arena's sites:
 * candidates → weigh → choose → settle → stand. Candidates and settling are the plot's (`plot.ts`).
 */
export interface Stages {
  readonly arena: Arena
  /** Largest radius of room an instance can want, m. */
  readonly largestRoom: number
  /** How many different ranks of room there are. */
  readonly ranks: number
  /** Area of a ground that the conditions take, thinned out where they thin out, m²; `about` is quicker. */
  area(ground: Ground, about: boolean): number
  /** The tiles of a side over a ground in which the conditions may leave anything, row by row. */
  tiles(ground: Ground, side: number): TileAddress[]
  /** Leaves in the arena those of its sites that may stand: weighed, thinned by rank, each with asset, size and room. */
  choose(ground: Ground, before: readonly Ground[], wanted: Wanted, around: Around): Chosen
  /** The same with the candidates of an area, whatever the arena holds. */
  chooseIn(gathering: Gathering): Chosen
  /** The block of the sites that stay, named. */
  stand(stay: Uint32Array, naming: Naming, chosen: Chosen): Block
}

/** Prepares all stages of a planting; `base` is what its coverage is where nothing is painted. */
export function prepareStages(planting: Planting, values: ChooseValues, context: GrowContext, arena: Arena, base: number): Stages {
  const { assets, assetNumbers } = context
  const seed = planting.seed >>> 0
  const { sites } = arena
  const painted = { planting: planting.id, base }
  const drivers = prepareDrivers(planting.drivers, context, seed)
  /** Whether choosing asks for the heights of sites. */
  const asksHeights = drivers.asksHeights.stand || planting.mix.some(({ where }) => where?.on && !CONDITIONS.get(where.kind).flat)
  const { weigh, gather, area, tiles } = prepareWeigh(arena, prepareHabitat(planting, context), drivers, [paintedStep(painted)])
  const { largestRoom, ranks, choose } = prepareChoose(arena, planting.mix, values, context, seed, drivers)
  const stand = prepareStance(values)
  const bases = assets.map((asset) => asset.base)
  const chosenOn = (ground: Ground, wanted: Wanted, around: Around): Chosen => {
    if (asksHeights) ground.raise(sites)
    return { ground, driven: choose(around, () => thinByAsset(painted, arena, assetNumbers, wanted, around)) }
  }
  return {
    arena,
    largestRoom,
    ranks,
    area,
    tiles,
    choose(ground, before, wanted, around) {
      if (assets.length === 0) sites.count = 0
      weigh(ground, before, wanted, around)
      return chosenOn(ground, wanted, around)
    },
    chooseIn(gathering) {
      gather(gathering)
      if (assets.length === 0) sites.count = 0
      return chosenOn(gathering.ground, gathering.wanted, gathering.around)
    },
    stand: (stay, naming, { ground, driven, framed = null }) =>
      stand({ sites, rows: rowsOf({ arena, stay, naming, assetNumbers, driven }), size: arena.girth, pick: arena.pick, bases, driven, footing: ground.footing, framed }),
  }
}
