import { NO_REPAIR } from '../formats/repair.ts'
import { blockOf, createSites } from '../core/columns.ts'
import type { WeldedShape } from '../core/grounds/mesh-shape.ts'
import { shapeToBytes, weldShape } from '../core/grounds/mesh-shape.ts'
import type { Terrain } from '../core/grounds/terrain.ts'
import { createTerrain, inHole, landGradients, landHeights } from '../core/grounds/terrain.ts'
import { atan, DEGREE } from '../core/math/portable.ts'
import { bytesToHeights, hashBytes, heightsToBytes } from '../document/blobs.ts'
import { LIMITS, shortened } from '../core/limits.ts'
import { ProblemError, sentenceOf } from '../document/problem.ts'
import { HANDOFF_FORMS } from '../formats/handoff-forms.ts'
import { settleHeights } from '../formats/height-settle.ts'
import { readHeights } from '../formats/heights.ts'
import { readImage } from '../formats/images.ts'
import { readOutlines } from '../formats/outline-files.ts'
import { readMeadowFile, writeMeadowFile, zipMeadow } from '../formats/meadow-file.ts'
import {
  GROUND_FACTS,
  HANDOFF,
  LIST_STARTERS,
  MAKE_SHELF,
  MAKE_STARTER,
  MAKE_TERRAIN,
  PACK_MEADOW,
  PACK_ORIGINAL,
  READ_ASSET,
  READ_HEIGHTS,
  READ_IMAGE,
  READ_OUTLINES,
  SETTLE_HEIGHTS,
  UNPACK_MEADOW,
} from './io-refs.ts'
import type { FileInput, GroundFacts, HandoffTaskInput, Histogram, PackedMeadow, ReadAssetInput, ReadAssetOutput, SettleInput, SettleOutput, TerrainInput, UnpackedMeadow } from './io-refs.ts'
import { defineTask } from './tasks.ts'

const buffers = (bytes: readonly Uint8Array<ArrayBuffer>[]) => [...new Set(bytes.map((piece) => piece.buffer))]

const readHeightsTask = defineTask({
  name: READ_HEIGHTS.name,
  async run({ name, bytes }: FileInput, { progress }) {
    const grid = await readHeights(bytes, name, (share) => progress(share, 'Reading the heights'))
    return { output: grid, transfer: [grid.values.buffer] }
  },
})

const makeTerrainTask = defineTask<TerrainInput, Terrain>({
  name: MAKE_TERRAIN.name,
  run({ bytes, columns, rows, sizeX, sizeZ }) {
    const terrain = createTerrain(bytesToHeights(bytes), columns, rows, sizeX, sizeZ)
    const { heights, stored, holes } = terrain
    return { output: terrain, transfer: [...new Set([heights, stored, ...(holes ? [holes] : [])].map((column) => column.buffer as ArrayBuffer))] }
  },
})

const settleHeightsTask = defineTask<SettleInput, SettleOutput>({
  name: SETTLE_HEIGHTS.name,
  async run({ grid, settings }) {
    const { values } = grid
    try {
      const { heights, lowest, highest } = settleHeights(grid, settings)
      const bytes = heightsToBytes(heights)
      return { output: { values, result: { blob: await hashBytes(bytes), bytes, lowest, highest } }, transfer: [values.buffer, bytes.buffer] }
    } catch (error) {
      return { output: { values, result: { refused: sentenceOf(error, 'Taking the ground over') } }, transfer: [values.buffer] }
    }
  },
})

const readOutlinesTask = defineTask({
  name: READ_OUTLINES.name,
  run: ({ name, bytes }: FileInput) => ({ output: readOutlines(bytes, name), transfer: [] }),
})

const readImageTask = defineTask({
  name: READ_IMAGE.name,
  async run({ name, bytes }: FileInput) {
    const image = await readImage(bytes, name)
    return { output: image, transfer: buffers([image.pixels]) }
  },
})

const readAssetTask = defineTask<ReadAssetInput, ReadAssetOutput>({
  name: READ_ASSET.name,
  async run({ name, bytes, beside, repair, settled = false }, { progress }) {
    // Only this task needs the model libraries: they are loaded when it is first wanted.
    const [{ readModel }, { repairModel }, { makeStandIns }] = await Promise.all([
      import('../formats/asset-import.ts'),
      import('../formats/asset-repair.ts'),
      import('../formats/stand-ins.ts'),
    ])
    progress(0.05, 'Reading the model')
    const model = await readModel(bytes, name, beside, (share) => progress(0.05 + 0.35 * share, 'Reading the model'))
    const title = shortened(name.replace(/\.[^.]+$/, ''), LIMITS.name)
    const chosen = repair ?? (settled ? { ...NO_REPAIR, tint: model.guess.tint } : model.guess)
    progress(0.4, 'Repairing the model')
    const { glb, measures, triangles, corners, turned, oneSided } = await repairModel(model, chosen, title)
    progress(0.6, 'Looking at its shape')
    const welded = weldShape(corners)
    if (welded.indices.length === 0) throw new ProblemError(`“${name}” has only triangles without area, so there is nothing to show; repair and export it again.`)
    if (!(measures.room <= LIMITS.room)) throw new ProblemError(`“${name}” would be ${Math.round(Math.max(...measures.size)).toLocaleString('en')} m large; choose a smaller unit or scale.`)
    const shape = shapeToBytes(welded)
    progress(0.7, 'Making lighter forms')
    let tries = 0
    // How many tries there will be is not known; each takes the bar nearer to its end.
    const { forms: standIns, picture } = await makeStandIns(glb, triangles, corners, () => progress(1 - 0.3 * 0.85 ** tries++, 'Making lighter forms'))
    return {
      output: {
        repair: chosen,
        rawSize: model.rawSize,
        notes: [...model.notes, ...sideNotes(turned, triangles, oneSided)],
        glb,
        picture,
        standIns,
        hashes: { glb: await hashBytes(glb), shape: await hashBytes(shape), standIns: await Promise.all(standIns.map((form) => hashBytes(form.glb))) },
        measures,
        triangles,
        turned,
        watertight: welded.openEdges === 0 && welded.crowdedEdges === 0,
        shape,
        shapeTriangles: welded.indices.length / 3,
        shapeNotes: shapeNotes(welded),
      },
      transfer: buffers([glb, picture, shape, ...standIns.map((form) => form.glb)]),
    }
  },
})

/** What was done about faces that did not look outwards. */
function sideNotes(turned: number, triangles: number, oneSided: boolean): string[] {
  const notes: string[] = []
  if (turned === triangles) notes.push('Its faces looked inwards; they are turned round.')
  else if (turned > 0) notes.push(`Its faces looked both ways; ${turned.toLocaleString('en')} of ${triangles.toLocaleString('en')} are turned so that all of a piece look outwards.`)
  if (oneSided) notes.push('Some of its faces have no two sides, as a Möbius strip has none: what grows all over it may point either way there.')
  return notes
}

/** What is odd about a mesh, and what that means here. */
function shapeNotes({ flat, openEdges, crowdedEdges, insideOut }: WeldedShape): string[] {
  const notes: string[] = []
  if (flat > 0) notes.push(`${flat.toLocaleString('en')} triangles without area are left out of its shape.`)
  if (openEdges > 0) notes.push(`It is open (${openEdges.toLocaleString('en')} edges): as an obstacle its walls keep out, and its inside is guessed.`)
  if (crowdedEdges > 0) notes.push(`${crowdedEdges.toLocaleString('en')} edges join more than two faces; its inside is guessed there.`)
  if (insideOut) notes.push('Its faces look inwards; things grown all over it would stand inside. Turn its faces round.')
  return notes
}

const handoffTask = defineTask({
  name: HANDOFF.name,
  run({ form, values, meadow, plantings, assets, heights }: HandoffTaskInput, { progress }) {
    const pieces = HANDOFF_FORMS.get(form).write(
      {
        meadow,
        plantings: plantings.map(({ id, grounds, blocks }) => ({ id, grounds, blocks: blocks.map((b) => blockOf(b.count, b.buffer)) })),
        assets: new Map(assets),
        heights,
      },
      values,
      progress,
    )
    return { output: pieces, transfer: buffers(pieces) }
  },
})

const listStartersTask = defineTask({
  name: LIST_STARTERS.name,
  async run() {
    const { STARTERS } = await import('../demo/starters/index.ts')
    return { output: STARTERS.all.map(({ kind, name, is, shows }) => ({ kind, name, is, shows })), transfer: [] }
  },
})

const makeStarterTask = defineTask<string, PackedMeadow>({
  name: MAKE_STARTER.name,
  async run(kind) {
    const [{ STARTERS }, { makeStarter }] = await Promise.all([import('../demo/starters/index.ts'), import('../demo/starters/define.ts')])
    const { meadow, blobs } = await makeStarter(STARTERS.get(kind))
    return { output: { meadow, blobs: [...blobs] }, transfer: buffers([...blobs.values()]) }
  },
})

const makeShelfTask = defineTask({
  name: MAKE_SHELF.name,
  async run() {
    const [{ makeShelf }, { hashBytes }] = await Promise.all([import('../demo/assets/shelf.ts'), import('../document/blobs.ts')])
    const blobs = new Map<string, Uint8Array<ArrayBuffer>>()
    const assets = await makeShelf(async (bytes) => {
      const hash = await hashBytes(bytes)
      blobs.set(hash, bytes)
      return hash
    })
    return { output: { assets, blobs: [...blobs] }, transfer: buffers([...blobs.values()]) }
  },
})

const packTask = defineTask({
  name: PACK_MEADOW.name,
  run({ meadow, blobs }: PackedMeadow) {
    const bytes = writeMeadowFile(meadow, new Map(blobs))
    return { output: bytes, transfer: [bytes.buffer] }
  },
})

const packOriginalTask = defineTask<{ readonly document: unknown; readonly blobs: PackedMeadow['blobs'] }, Uint8Array<ArrayBuffer>>({
  name: PACK_ORIGINAL.name,
  run({ document, blobs }) {
    const bytes = zipMeadow(document, new Map(blobs))
    return { output: bytes, transfer: [bytes.buffer] }
  },
})

const unpackTask = defineTask<FileInput, UnpackedMeadow>({
  name: UNPACK_MEADOW.name,
  async run({ name, bytes }) {
    const { meadow, blobs, thrownAnew } = await readMeadowFile(bytes, name)
    return { output: { meadow, blobs: [...blobs], thrownAnew }, transfer: buffers([...blobs.values()]) }
  },
})

const BINS = 48
const SIDE = 192

/** Counts a column into equal classes between its ends. */
function histogram(values: Float64Array, low: number, high: number): Histogram {
  const counts = new Array<number>(BINS).fill(0)
  const per = high > low ? BINS / (high - low) : 0
  for (const value of values) counts[Math.max(0, Math.min(BINS - 1, Math.floor((value - low) * per)))]++
  return { low, high, counts }
}

/** Height and slope distributions over a regular lattice of sites, area-true. */
export function groundFacts(terrain: Terrain): GroundFacts {
  const sites = createSites(SIDE * SIDE)
  for (let i = 0; i < SIDE * SIDE; i++) {
    const x = terrain.bounds.x0 + (((i % SIDE) + 0.5) / SIDE) * terrain.sizeX
    const z = terrain.bounds.z0 + ((Math.floor(i / SIDE) + 0.5) / SIDE) * terrain.sizeZ
    if (inHole(terrain, x, z)) continue
    sites.x[sites.count] = x
    sites.z[sites.count++] = z
  }
  landHeights(terrain, sites)
  const gradientX = new Float64Array(sites.count)
  const gradientZ = new Float64Array(sites.count)
  landGradients(terrain, sites, Uint32Array.from(gradientX, (_, i) => i), sites.count, gradientX, gradientZ)
  const slopes = new Float64Array(sites.count)
  let steepest = 0
  for (let i = 0; i < sites.count; i++) {
    const gx = gradientX[i]
    const gz = gradientZ[i]
    slopes[i] = atan(Math.sqrt(gx * gx + gz * gz)) / DEGREE
    steepest = Math.max(steepest, slopes[i])
  }
  return {
    heights: histogram(sites.y.subarray(0, sites.count), terrain.lowest, terrain.highest),
    slopes: histogram(slopes, 0, Math.max(steepest, 1)),
  }
}

const groundFactsTask = defineTask({
  name: GROUND_FACTS.name,
  run: (name: string, { terrain }) => ({ output: groundFacts(terrain(name)), transfer: [] }),
})

export const IO_TASKS = [
  groundFactsTask,
  handoffTask,
  listStartersTask,
  makeStarterTask,
  makeShelfTask,
  makeTerrainTask,
  packTask,
  packOriginalTask,
  readAssetTask,
  readImageTask,
  readHeightsTask,
  readOutlinesTask,
  settleHeightsTask,
  unpackTask,
]
