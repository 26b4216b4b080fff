import { createCoverage } from '../core/fields/coverage.ts'
import { preparePlanting } from '../core/grow.ts'
import type { PreparedPlanting, Progress } from '../core/plantings/define.ts'
import type { Near } from '../core/stages/context.ts'
import type { Answer, Seen } from '../core/plantings/ask.ts'
import { askPlace, placeSeen, snapSeen } from '../core/plantings/ask.ts'
import { emptiedBy, warningsOf } from '../core/stages/habitat.ts'
import { tintGround, tintPlaces } from '../core/plantings/tint.ts'
import { TERRAIN_ID } from '../core/grounds/ground.ts'
import { groundsOf } from '../core/grounds/index.ts'
import { createArena } from '../core/stages/arena.ts'
import { nearestOf } from '../core/stages/rooms.ts'
import { GROW_TILE, HOLDS, PREPARE, PROBE, SEE, TINT } from './grow-refs.ts'
import type { GrowTileInput, GrowTileOutput, HoldsInput, PackedNear, PreparedFacts, ProbeInput, SeeInput, TintInput, TintOutput } from './protocol.ts'
import { extentsOf, resolveSurroundings } from './surroundings.ts'
import type { TaskContext } from './tasks.ts'
import { defineTask } from './tasks.ts'

/** All that this thread grows is worked out in here. */
const arena = createArena()

/** Setups kept ready; the oldest is dropped first. */
const KEPT = 32
const prepared = new Map<string, PreparedPlanting>()

function ready(name: string, context: TaskContext, progress?: Progress): PreparedPlanting {
  const found = prepared.get(name)
  if (found) return found
  const setup = context.setup(name)
  const surroundings = resolveSurroundings(setup.surroundings, context)
  const made = preparePlanting(setup.planting, setup.assets, surroundings, { finer: setup.finer, arena, progress })
  prepared.set(name, made)
  if (prepared.size > KEPT) prepared.delete(prepared.keys().next().value as string)
  return made
}

function unpack({ known, rooms, elsewhere, places, painted, hand }: PackedNear): Near {
  return {
    known,
    rooms,
    elsewhere,
    hand,
    around: {
      plantings: new Map(places.map(({ planting, reach, columns }) => [planting, nearestOf(columns.subarray(0, columns.length / 2), columns.subarray(columns.length / 2), reach)])),
      painted: painted && new Map(painted.flatMap(({ planting, strokes }) => (strokes.length > 0 ? [[planting, createCoverage(strokes)]] : []))),
    },
  }
}

export const prepareTask = defineTask<string, PreparedFacts>({
  name: PREPARE.name,
  run(name, context) {
    const setup = context.setup(name)
    const prepared = ready(name, context, context.progress)
    const { largestRoom, exactCount, refusal = null } = prepared
    const plots = prepared.plots.map(({ ground, bounds, tileSide, tiles, reach, candidates }) => ({ ground, bounds, tileSide, tiles, reach, candidates }))
    const expected = prepared.expected()
    const surroundings = resolveSurroundings(setup.surroundings, context)
    const emptied = expected > 0 && exactCount === null ? null : emptiedBy(setup.planting, surroundings, groundsOf(setup.planting.grounds, surroundings), arena)
    const warnings = warningsOf(setup.planting, surroundings)
    return { output: { plots, largestRoom, exactCount, expected, refusal, emptied, warnings, extents: extentsOf(surroundings) }, transfer: [] }
  },
})

export const probeTask = defineTask<ProbeInput, Answer | null>({
  name: PROBE.name,
  run({ setup, near, sight, names }, context) {
    const { planting, surroundings } = context.setup(setup)
    const around = resolveSurroundings(surroundings, context, names)
    const seen = placeSeen(planting, around, sight)
    return { output: seen && askPlace(planting, around, unpack(near).around, seen), transfer: [] }
  },
})

export const seeTask = defineTask<SeeInput, readonly (Seen | null)[]>({
  name: SEE.name,
  run({ surroundings: data, grounds, sights, snap }, context) {
    const surroundings = resolveSurroundings(data, context)
    return { output: sights.map((sight) => (snap ? snapSeen({ grounds: [...grounds] }, surroundings, sight, snap) : placeSeen({ grounds: [...grounds] }, surroundings, sight))), transfer: [] }
  },
})

export const tintTask = defineTask<TintInput, TintOutput>({
  name: TINT.name,
  run({ setup, near, use, side }, context) {
    const { planting, surroundings: data } = context.setup(setup)
    const surroundings = resolveSurroundings(data, context)
    const { around } = unpack(near)
    const grounds = groundsOf(planting.grounds, surroundings).map((ground) => ({ id: ground.id, weights: tintGround(planting, use, surroundings, around, ground, side, arena) }))
    return { output: { side, grounds }, transfer: grounds.map(({ weights }) => weights.buffer) }
  },
})

export const holdsTask = defineTask<HoldsInput, Uint8Array<ArrayBuffer>>({
  name: HOLDS.name,
  run({ setup, near, use, ground: id, places }, context) {
    const { planting, surroundings: data } = context.setup(setup)
    const surroundings = resolveSurroundings(data, context)
    // Places on a ground that the planting does not know are judged as if they lay on the terrain.
    const [ground] = [...groundsOf([id], surroundings), ...groundsOf([TERRAIN_ID], surroundings)]
    const weights = tintPlaces(planting, use, surroundings, unpack(near).around, ground, places, arena)
    return { output: weights, transfer: [weights.buffer] }
  },
})

export const growTileTask = defineTask<GrowTileInput, GrowTileOutput>({
  name: GROW_TILE.name,
  run({ setup, tile, near, part }, context) {
    const result = ready(setup, context).grow(tile, near && unpack(near), part)
    if ('needsReach' in result) return { output: result, transfer: [] }
    const { block: { count, buffer }, missing = [] } = result
    return { output: { count, buffer, missing }, transfer: [buffer] }
  },
})
