import { parentPort } from 'node:worker_threads'
import { mixAssets, preparePlanting } from '../src/core/grow.ts'
import { tileRect, tilesOver } from '../src/core/stages/tiles.ts'
import { bareSurroundings } from '../src/core/surroundings.ts'
import { benchAssets, benchHeights, benchPlanting, benchTerrain } from './scene.ts'

// Grows every n-th tile of the bench scene, after a round to warm up.
const terrain = benchTerrain(benchHeights())
const assets = benchAssets([0.1])

parentPort?.on('message', ({ part, of }: { part: number; of: number }) => {
  const planting = benchPlanting(assets)
  const prepared = preparePlanting(planting, mixAssets(planting, assets), bareSurroundings(terrain, -1000))
  const tiles = tilesOver(terrain.bounds, prepared.plots[0].tileSide).filter((_, i) => i % of === part)
  let count = 0
  for (const tile of tiles) {
    const result = prepared.grow({ plot: 0, rect: tileRect(prepared.plots[0].tileSide, tile) }, null, 1)
    if ('block' in result) count += result.block.count
  }
  parentPort?.postMessage(count)
})
