import type { Sites } from '../columns.ts'
import { createSites, dropRefused } from '../columns.ts'
import { namingOf } from '../identity.ts'
import { runLand } from '../kernels/kernels.ts'
import type { SpreadValues } from '../plantings/spread-params.ts'
import { chooseSource } from '../stages/candidates/sources.ts'
import { plotInTiles } from '../stages/in-tiles.ts'
import type { SpreadGround } from '../stages/plot.ts'
import { groundBlock } from './blocks.ts'
import { gatherHeights, sinkBases } from './footprint.ts'
import type { Footing, Place } from './ground.ts'
import { TERRAIN_ID } from './ground.ts'
import type { GroundKind } from './kind.ts'
import { pickTerrain } from './pick.ts'
import type { Terrain } from './terrain.ts'
import { heightAt, inHole, landHeights, refuseHoles } from './terrain.ts'

/** Ways of placing on the terrain with the versions of their rules, which ids are made of. */
const WAYS: Readonly<Record<SpreadValues['placing'], string>> = { even: 'even 1', random: 'random 2', natural: 'natural 2' }

/** Candidates for each that an exact count wants. */
const SPARE = 1.3
/** Deeper below the surface than this a place is covered, m: what lies on it, as far as numbers can tell, is not. */
const COVERED = 1e-3

export const terrainGround: GroundKind = {
  kind: 'terrain',
  of: ({ terrain }) => [groundOfTerrain(terrain)],
}

/** The terrain as a ground. */
export function groundOfTerrain(terrain: Terrain): SpreadGround {
  const ground: SpreadGround = {
    id: TERRAIN_ID,
    bounds: terrain.bounds,
    land(sites) {
      if (!terrain.holes) return
      refuseHoles(terrain, sites)
      dropRefused(sites)
    },
    raise: (sites) => landHeights(terrain, sites),
    cover: (sites) => coverBelow(terrain, sites),
    pick(sight) {
      const hit = pickTerrain(terrain, sight.origin, sight.direction, sight.reach)
      if (!hit) return null
      const away = Math.sqrt(hit.reduce((sum, value, c) => sum + (value - sight.origin[c]) ** 2, 0))
      return { away, place: placeOnTerrain(terrain, hit[0], hit[2]) }
    },
    lattice(side) {
      const sites = createSites(side * side)
      sites.count = side * side
      for (let i = 0; i < sites.count; i++) {
        sites.x[i] = terrain.bounds.x0 + (((i % side) + 0.5) / side) * terrain.sizeX
        sites.z[i] = terrain.bounds.z0 + ((Math.floor(i / side) + 0.5) / side) * terrain.sizeZ
        sites.weight[i] = 1
        sites.addressLow[i] = i
      }
      return sites
    },
    footing: terrainFooting(terrain),
    block: (rect) => groundBlock(terrain, rect),
    area: (_values, stages, about) => ({ whole: terrain.sizeX * terrain.sizeZ, taken: stages.area(ground, about), spare: SPARE }),
    plot(over) {
      const { values, seed, density, meant } = over
      return plotInTiles(ground, chooseSource(values, seed, density, meant), namingOf(WAYS[values.placing], seed, TERRAIN_ID), over)
    },
  }
  return ground
}

/** The place of the terrain at a plan position. */
export function placeOnTerrain(terrain: Terrain, x: number, z: number): Place {
  return { x, y: heightAt(terrain, x, z), z, normal: null }
}

function coverBelow(terrain: Terrain, { x, y, z, weight, count }: Sites): void {
  const { x0, z0, x1, z1 } = terrain.bounds
  for (let i = 0; i < count; i++) {
    if (x[i] < x0 || x[i] > x1 || z[i] < z0 || z[i] > z1 || inHole(terrain, x[i], z[i])) continue
    if (y[i] < heightAt(terrain, x[i], z[i]) - COVERED) weight[i] = 0
  }
}

/** Heights and normals are the surface's own; bases sink by the exact least that does it, before instances are written. */
function terrainFooting(terrain: Terrain): Footing {
  return {
    lay(sites, order, stage) {
      gatherHeights(terrain, sites, order, stage)
      runLand(stage, order.length, terrain.perX, terrain.perZ)
    },
    sink: (sites, order, pick, bases, stage) => sinkBases(terrain, sites, order, pick, bases, stage),
    settle: () => undefined,
  }
}
