import * as THREE from 'three'
import type { Block } from '../core/columns.ts'
import { TERRAIN_ID } from '../core/grounds/ground.ts'
import type { Terrain } from '../core/grounds/terrain.ts'
import { groundOfTile } from '../core/grow.ts'
import type { Meadow, Planting } from '../core/meadow.ts'
import { growsOnTerrain } from '../core/meadow.ts'
import type { Tile } from '../growth/tile-order.ts'
import type { TintOutput } from '../runner/protocol.ts'
import type { InstanceTiles } from '../state/instances.ts'
import { disposeDeep } from './dispose.ts'
import type { CoverOf } from './ground-cover.ts'
import { leavesByNumber, takenApart } from '../core/posy/apart.ts'
import { readCover } from './ground-cover.ts'
import { createSky, createWater, groundMaterial, SKY } from './materials.ts'
import { markOf } from './planting-mark.ts'
import type { TerrainPicture } from './terrain-tree.ts'
import { createTerrainPicture } from './terrain-tree.ts'

/** The terrain with what lies on it as colour, the water and the sky. */
export interface GroundLayer {
  readonly group: THREE.Group
  /** Shows the ground and the water of a meadow; true when the terrain is another one. */
  set(meadow: Meadow, terrain: Terrain): boolean
  /** Builds pieces for a camera; whether some are still to come. */
  update(camera: THREE.PerspectiveCamera, rest: boolean): boolean
  triangles(): number
  /** What grows has changed: far ground is to be coloured anew. */
  stale(): void
  /** Colours far ground by what grows on it, when that has changed. */
  cover(meadow: Meadow, instances: InstanceTiles, coverOf: (asset: number) => CoverOf | null): void
  /** Colours the ground where a planting stands; null takes the colour away. */
  mark(planting: Planting | null, instances: InstanceTiles): void
  setTint(tint: TintOutput | null): void
  dispose(): void
}

export function createGroundLayer(scene: THREE.Scene): GroundLayer {
  const group = new THREE.Group()
  const sky = createSky()
  const water = createWater()
  const ground = groundMaterial()
  group.add(sky, water)
  let terrain: Terrain | null = null
  let waterLevel = NaN
  let picture: TerrainPicture | null = null
  let coverStale = true
  let marked = ''

  function build(next: Terrain, level: number): void {
    terrain = next
    waterLevel = level
    if (picture) {
      group.remove(picture.group)
      picture.dispose()
    }
    picture = createTerrainPicture(next, level, ground.material)
    group.add(picture.group)
    const extent = Math.max(next.sizeX, next.sizeZ)
    scene.fog = new THREE.Fog(SKY.horizon, extent * 0.35, extent * 2.6)
    water.scale.set(extent * 8, 1, extent * 8)
  }

  return {
    group,
    set(meadow, next) {
      const other = next !== terrain
      if (other || meadow.water.level !== waterLevel) build(next, meadow.water.level)
      water.visible = meadow.water.shown
      water.position.y = meadow.water.level
      water.updateMatrixWorld()
      return other
    },
    update: (camera, rest) => picture?.update(camera, rest ? 2.2 : 1.3, rest) ?? false,
    triangles: () => picture?.triangles() ?? 0,
    stale: () => void (coverStale = true),
    cover(meadow, instances, coverOf) {
      if (!coverStale || !terrain) return
      const blocks = meadow.plantings.filter(({ visible }) => visible).flatMap(({ id }) => onTerrain(instances.tiles.get(id)).map((block) => takenApart(block, leavesByNumber(meadow.assets))))
      ground.setCover(readCover(blocks, terrain.sizeX, terrain.sizeZ, coverOf), terrain.sizeX, terrain.sizeZ)
      coverStale = false
    },
    mark(planting, instances) {
      const wanted = planting !== null && terrain !== null && planting.visible && growsOnTerrain(planting)
      const blocks = wanted ? onTerrain(instances.tiles.get(planting.id)) : []
      const key = wanted ? `${planting.id} ${planting.colour} ${blocks.reduce((sum, { count }) => sum + count, 0)} ${terrain?.sizeX}` : ''
      if (key === marked) return
      marked = key
      if (!wanted || !terrain) ground.setMark(null, '', 1, 1)
      else ground.setMark(markOf(blocks, terrain.sizeX, terrain.sizeZ), planting.colour, terrain.sizeX, terrain.sizeZ)
    },
    setTint(tint) {
      const found = tint?.grounds.find(({ id }) => id === TERRAIN_ID)
      ground.setTint(tint && found && terrain ? { side: tint.side, weights: found.weights, sizeX: terrain.sizeX, sizeZ: terrain.sizeZ } : null)
    },
    dispose() {
      picture?.dispose()
      ground.dispose()
      for (const one of [sky, water]) disposeDeep(one)
    },
  }
}

/** The blocks of a planting's tiles on the terrain. */
function onTerrain(tiles: ReadonlyMap<string, Tile> | undefined): Block[] {
  return [...(tiles ?? [])].filter(([key]) => groundOfTile(key) === TERRAIN_ID).map(([, { block }]) => block)
}
