import type { Block } from '../src/core/columns.ts'
import type { Sight } from '../src/core/grounds/ground.ts'
import type { Rect } from '../src/core/grounds/terrain.ts'
import type { Meadow, Stroke } from '../src/core/meadow.ts'
import { heightsToBytes } from '../src/document/blobs.ts'
import { newMeadow } from '../src/document/new-planting.ts'
import { createGrower } from '../src/growth/grower.ts'
import { partsAmong } from '../src/growth/run-meadow.ts'
import { createShares } from '../src/growth/shares.ts'
import { createInlinePool } from '../src/runner/inline-pool.ts'
import { chooseWhere, countChosen, factsOf, instanceUnder } from '../src/state/chosen.ts'
import { createInstanceTiles } from '../src/state/instances.ts'
import { benchAssets, benchPlanting } from './scene.ts'

/** Side of a level ground that a million instances grow on, m. */
const SIZE = 96
const SPACING = 0.078
const TIMES = 50

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]
/** Evenly spread over −1 … 1. */
const spread = (k: number, by: number) => 2 * ((k * by) % 1) - 1

function dab(k: number): Stroke {
  const [x, z] = [40 * spread(k, 0.7548), 40 * spread(k, 0.5698)]
  return { id: `dab ${k}`, name: '', planting: 'bench', act: 'clear', ground: 'terrain', width: 2, soft: 0.5, strength: 1, only: [], lines: [[x, 0, z, 0, 1, 0, 1]] }
}

/** Lines of sight as from a standing eye, falling on the ground all over. */
function sight(k: number): Sight {
  const origin: [number, number, number] = [20, 25, 60]
  const to = [44 * spread(k, 0.7548), 0, 44 * spread(k, 0.5698)]
  const way = origin.map((one, c) => to[c] - one)
  const reach = Math.hypot(...way)
  return { origin, direction: [way[0] / reach, way[1] / reach, way[2] / reach], reach }
}

/** How long the hand waits in a meadow of a million instances, inline on one core. */
export async function measureHand(say: (text: string) => void): Promise<void> {
  const assets = benchAssets([0.1])
  const planting = benchPlanting(assets)
  const bare: Meadow = { ...newMeadow('Bench', 'ground', { samples: 97, size: SIZE }), assets, plantings: [{ ...planting, habitat: [], params: { ...planting.params, spacing: SPACING, room: 0, size: { from: 0.05, to: 0.1 } } }] }
  const instances = createInstanceTiles()
  const pool = createInlinePool(1)
  await createShares(pool, partsAmong(new Map([['ground', heightsToBytes(new Float32Array(97 * 97))]]))).with(bare)
  let told = 0
  let tiles = 0
  const onTile = (id: string, tile: string, block: Block | null, rect: Rect) => {
    told ||= performance.now()
    instances.set(id, tile, block, rect)
  }
  const grower = createGrower(pool, { onTile, onState: () => undefined, onGone: () => undefined, onDone: (_took, grown) => void (tiles = grown) }, () => performance.now())
  await grower.grow(bare, [0, 0])
  const count = grower.blocksOf('bench').reduce((sum, block) => sum + block.count, 0)
  const strokes: Stroke[] = []
  const [first, whole, grown]: number[][] = [[], [], []]
  for (let k = 0; k < TIMES; k++) {
    strokes.push(dab(k))
    told = 0
    const start = performance.now()
    await grower.grow({ ...bare, strokes: [...strokes] }, [0, 0])
    whole.push(performance.now() - start)
    first.push(told - start)
    grown.push(tiles)
  }
  pool.close()
  say(`a dab among ${count.toLocaleString('en')}: first tile after ${median(first).toFixed(1)} ms, all grown after ${median(whole).toFixed(1)} ms (at most ${Math.max(...whole).toFixed(0)}), ${median(grown)} tiles (at most ${Math.max(...grown)})`)

  const timesOf = (times: number, work: (k: number) => void) =>
    Array.from({ length: times }, (_, k) => {
      const start = performance.now()
      work(k)
      return performance.now() - start
    })
  let met = 0
  const picks = timesOf(4 * TIMES, (k) => void (met += instanceUnder(instances, bare, sight(k), 1000) ? 1 : 0))
  say(`what is under the pointer: ${median(picks).toFixed(2)} ms (at most ${Math.max(...picks).toFixed(1)}), ${met} of ${picks.length} met`)
  let chosen = 0
  const boxes = timesOf(9, (k) => {
    const x0 = -45 + 3 * k
    const all = chooseWhere(instances, bare, ({ block, row }) => block.position[3 * row] > x0 && block.position[3 * row] < x0 + 30 && Math.abs(block.position[3 * row + 2]) < 16)
    chosen = countChosen(all)
    factsOf(instances, all)
  })
  say(`${chosen.toLocaleString('en')} chosen and counted: ${median(boxes).toFixed(0)} ms`)
}
