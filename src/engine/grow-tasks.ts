import { preparePlanting } from '../core/grow.ts'
import type { Near, PreparedPlanting } from '../core/plantings/define.ts'
import type { Answer } from '../core/plantings/ask.ts'
import { askPlace, placeSeen } from '../core/plantings/ask.ts'
import { emptiedBy, warningsOf } from '../core/stages/habitat.ts'
import { tintMesh, tintTerrain } from '../core/plantings/tint.ts'
import { nearestOf } from '../core/stages/rooms.ts'
import { GROW_TILE, PREPARE, PROBE, TINT } from './grow-refs.ts'
import type { GrowTileInput, GrowTileOutput, PackedNear, PreparedFacts, ProbeInput, TintInput, TintOutput } from './protocol.ts'
import { resolveSurroundings } from './surroundings.ts'
import type { TaskContext } from './tasks.ts'
import { defineTask } from './tasks.ts'

/** Setups kept ready; the oldest is dropped first. */
const KEPT = 32
const prepared = new Map<string, PreparedPlanting>()

function ready(name: string, context: TaskContext): PreparedPlanting {
  const found = prepared.get(name)
  if (found) return found
  const setup = context.setup(name)
  const surroundings = resolveSurroundings(setup.surroundings, context)
  const made = preparePlanting(setup.planting, setup.assets, surroundings, { finer: setup.finer })
  prepared.set(name, made)
  if (prepared.size > KEPT) prepared.delete(prepared.keys().next().value as string)
  return made
}

function unpack({ known, rooms, places }: PackedNear): Near {
  const count = rooms.length / 4
  return {
    known,
    rooms: {
      count,
      x: rooms.subarray(0, count),
      y: rooms.subarray(count, 2 * count),
      z: rooms.subarray(2 * count, 3 * count),
      radius: rooms.subarray(3 * count),
    },
    around: new Map(
      places.map(({ planting, reach, columns }) => [
        planting,
        nearestOf(columns.subarray(0, columns.length / 2), columns.subarray(columns.length / 2), reach),
      ]),
    ),
  }
}

export const prepareTask = defineTask<string, PreparedFacts>({
  name: PREPARE.name,
  run(name, context) {
    const setup = context.setup(name)
    const prepared = ready(name, context)
    const { tileSide, reach, largestRoom, exactCount, pieces = null } = prepared
    const expected = prepared.expected()
    const surroundings = resolveSurroundings(setup.surroundings, context)
    const emptied = expected > 0 && exactCount === null ? null : emptiedBy(setup.planting, surroundings)
    const warnings = warningsOf(setup.planting, surroundings)
    return { output: { tileSide, reach, largestRoom, exactCount, expected, emptied, warnings, pieces }, transfer: [] }
  },
})

export const probeTask = defineTask<ProbeInput, Answer | null>({
  name: PROBE.name,
  run({ setup, near, sight }, context) {
    const { planting, surroundings } = context.setup(setup)
    const around = resolveSurroundings(surroundings, context)
    const place = placeSeen(planting, around, sight)
    return { output: place && askPlace(planting, around, unpack(near).around, place), transfer: [] }
  },
})

export const tintTask = defineTask<TintInput, TintOutput>({
  name: TINT.name,
  run({ setup, near, use, side }, context) {
    const { planting, surroundings: data } = context.setup(setup)
    const surroundings = resolveSurroundings(data, context)
    const { around } = unpack(near)
    const terrain = planting.grounds.length === 0 ? tintTerrain(planting, use, surroundings, around, side) : null
    const meshes = surroundings.solids
      .filter(({ placed }) => planting.grounds.includes(placed.id))
      .map((solid) => ({ id: solid.placed.id, corners: tintMesh(planting, use, surroundings, around, solid) }))
    return {
      output: { side, terrain, meshes },
      transfer: [...(terrain ? [terrain.buffer] : []), ...meshes.map(({ corners }) => corners.buffer)],
    }
  },
})

export const growTileTask = defineTask<GrowTileInput, GrowTileOutput>({
  name: GROW_TILE.name,
  run({ setup, tile, near, part, piece }, context) {
    const result = ready(setup, context).grow(tile, near && unpack(near), part, piece)
    if ('needsReach' in result) return { output: result, transfer: [] }
    const { count, buffer } = result.block
    return { output: { count, buffer }, transfer: [buffer] }
  },
})
