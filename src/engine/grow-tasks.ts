import { preparePlanting } from '../core/grow.ts'
import type { KnownRooms, PreparedPlanting } from '../core/plantings/define.ts'
import type { Verdict } from '../core/plantings/habitat.ts'
import { emptiedBy, judgePlace } from '../core/plantings/habitat.ts'
import { GROW_TILE, PREPARE, PROBE } from './grow-refs.ts'
import type { GrowSetup, GrowTileInput, GrowTileOutput, PackedRooms, PreparedFacts } from './protocol.ts'
import type { TaskContext } from './tasks.ts'
import { defineTask } from './tasks.ts'

/** Setups kept ready; the oldest is dropped first. */
const KEPT = 32
const prepared = new Map<string, PreparedPlanting>()

function ready(setup: GrowSetup, context: TaskContext): PreparedPlanting {
  const found = prepared.get(setup.key)
  if (found) return found
  const made = preparePlanting(setup.planting, setup.assets, context.terrain(setup.terrain), setup.waterLevel, setup.outlines, {
    finer: setup.finer,
  })
  prepared.set(setup.key, made)
  if (prepared.size > KEPT) prepared.delete(prepared.keys().next().value as string)
  return made
}

function unpack({ known, columns }: PackedRooms): KnownRooms {
  const count = columns.length / 3
  return {
    known,
    rooms: {
      count,
      x: columns.subarray(0, count),
      z: columns.subarray(count, 2 * count),
      radius: columns.subarray(2 * count),
    },
  }
}

export const prepareTask = defineTask<GrowSetup, PreparedFacts>({
  name: PREPARE.name,
  run(setup, context) {
    const { tileSide, reach, largestRoom, exactCount, expected } = ready(setup, context)
    const { planting, terrain, waterLevel, outlines } = setup
    const emptied =
      expected > 0 && exactCount === null
        ? null
        : emptiedBy(planting.habitat, context.terrain(terrain), waterLevel, outlines, planting.seed >>> 0)
    return { output: { tileSide, reach, largestRoom, exactCount, expected, emptied }, transfer: [] }
  },
})

export const probeTask = defineTask<{ readonly setup: GrowSetup; readonly x: number; readonly z: number }, readonly Verdict[]>({
  name: PROBE.name,
  run({ setup: { planting, terrain, waterLevel, outlines }, x, z }, context) {
    const output = judgePlace(planting.habitat, context.terrain(terrain), waterLevel, outlines, planting.seed >>> 0, x, z)
    return { output, transfer: [] }
  },
})

export const growTileTask = defineTask<GrowTileInput, GrowTileOutput>({
  name: GROW_TILE.name,
  run({ setup, tile, earlier, part }, context) {
    const result = ready(setup, context).grow(tile, earlier && unpack(earlier), part)
    if ('needsReach' in result) return { output: result, transfer: [] }
    const { count, buffer } = result.block
    return { output: { count, buffer }, transfer: [buffer] }
  },
})
