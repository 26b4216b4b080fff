import { validateBytes } from 'gltf-validator'
import { decode, encode } from 'fast-png'
import { readFileSync } from 'node:fs'
import { bytesToShape } from '../core/grounds/mesh-shape.ts'
import { createTerrain } from '../core/grounds/terrain.ts'
import { bytesToHeights, heightsToBytes, hashBytes } from '../document/blobs.ts'
import { LIMITS } from '../core/limits.ts'
import { readMeadow } from '../document/migrations.ts'
import { newMeadow, newOutline } from '../document/new-planting.ts'
import { writeMeadowFile } from '../formats/meadow-file.ts'
import type { ReadOutlines } from '../formats/outline-format.ts'
import { placeOutlines } from '../formats/outline-placing.ts'
import { mutantOf } from '../testing/mutants.ts'
import { makeTiff } from '../testing/tiff.ts'
import type { ReadAssetOutput } from './io-refs.ts'
import { READ_ASSET, READ_HEIGHTS, READ_IMAGE, READ_OUTLINES, UNPACK_MEADOW } from './io-refs.ts'
import { createNodePool } from './node-pool.ts'
import type { Pool } from './pool.ts'

/**
 * Every reader, as the page runs it, is given damaged files: each must be refused with a sentence or read
 * as something valid, within its time, and leave its worker fit for a good one.
 */
const MUTANTS = Number(process.env.FUZZ ?? 160)
/** Longest that one mutant may take, ms. */
const BUDGET = 8000

type Bytes = Uint8Array<ArrayBuffer>
const text = (words: string) => new TextEncoder().encode(words) as Bytes
const fixture = (name: string) => new Uint8Array(readFileSync(`src/testing/${name}`)) as Bytes

const hills = decode(fixture('heights/north_hills_16bit.png'))
const SIDE = 48
const crop = Uint16Array.from({ length: SIDE * SIDE }, (_, i) => hills.data[(100 + Math.floor(i / SIDE)) * hills.width + 100 + (i % SIDE)])
const heights = [...crop].map((v) => 180 + (v / 65535) * 350)

/** A mesh file of the cactus, written as programs write it. */
async function cactusAs(kind: 'ply' | 'stl' | 'obj'): Promise<Bytes> {
  const { readModel } = await import('../formats/asset-import.ts')
  const { repairModel } = await import('../formats/asset-repair.ts')
  const { NO_REPAIR } = await import('../formats/repair.ts')
  const { corners } = await repairModel(await readModel(fixture('models/cactus.glb'), 'cactus.glb'), NO_REPAIR, 'cactus')
  const points = Array.from({ length: corners.length / 3 }, (_, i) => [...corners.subarray(3 * i, 3 * i + 3)].map((v) => v.toFixed(5)).join(' '))
  const faces = Array.from({ length: points.length / 3 }, (_, f) => [3 * f, 3 * f + 1, 3 * f + 2])
  if (kind === 'obj') return text(`${points.map((p) => `v ${p}`).join('\n')}\n${faces.map((f) => `f ${f.map((i) => i + 1).join(' ')}`).join('\n')}\n`)
  if (kind === 'ply')
    return text(`ply\nformat ascii 1.0\nelement vertex ${points.length}\nproperty float x\nproperty float y\nproperty float z\nelement face ${faces.length}\nproperty list uchar int vertex_indices\nend_header\n${points.join('\n')}\n${faces.map((f) => `3 ${f.join(' ')}`).join('\n')}\n`)
  const out = new DataView(new ArrayBuffer(84 + 50 * faces.length))
  out.setUint32(80, faces.length, true)
  faces.forEach((_, f) => {
    for (let c = 0; c < 9; c++) out.setFloat32(84 + 50 * f + 12 + 4 * c, corners[9 * f + c], true)
  })
  return new Uint8Array(out.buffer)
}

async function smallMeadow(): Promise<Bytes> {
  const bytes = heightsToBytes(Float32Array.from(heights.slice(0, 81)))
  const hash = await hashBytes(bytes)
  return writeMeadowFile(newMeadow('Small', hash, { samples: 9, size: 40 }), new Map([[hash, bytes]]))
}

/** Seeds beyond the daily ones that once found something: they are tried every day since. */
const PINNED: Readonly<Record<string, readonly number[]>> = { 'cactus.glb': [366, 448, 1168, 1246, 1846, 1876], 'button.glb': [366, 448, 1168, 1246, 1846, 1876] }

interface Target {
  readonly name: string
  readonly file: () => Bytes | Promise<Bytes>
  run(pool: Pool, name: string, bytes: Bytes): Promise<unknown>
  /** Throws when what was read is not valid. */
  check(output: never): void | Promise<void>
}

const readHeights = (pool: Pool, name: string, bytes: Bytes) => pool.run(READ_HEIGHTS, { name, bytes })
function checkHeights({ values, columns, rows, lowest, highest }: { values: Float32Array; columns: number; rows: number; lowest: number; highest: number }): void {
  createTerrain(values, columns, rows, 100, 100)
  if (!(lowest >= -LIMITS.height && highest <= LIMITS.height && lowest <= highest)) throw new Error(`heights from ${lowest} to ${highest}`)
}
const readAsset = (pool: Pool, name: string, bytes: Bytes) => pool.run(READ_ASSET, { name, bytes, repair: null, beside: [] })
async function checkAsset({ glb, shape, measures, standIns, shapeTriangles }: ReadAssetOutput): Promise<void> {
  if (!bytesToShape(shape) || shapeTriangles < 1) throw new Error('no shape')
  if (![...measures.size, measures.room, ...measures.base].every(Number.isFinite)) throw new Error('no size')
  for (const form of [glb, ...standIns.map((one) => one.glb)]) {
    const { issues } = await validateBytes(form, { maxIssues: 10 })
    // Pictures that are damaged stay as they are: who draws the model leaves them out.
    const wrong = issues.messages.filter(({ severity, code }) => severity === 0 && !/^IMAGE/.test(code))
    if (wrong.length > 0) throw new Error(JSON.stringify(wrong[0]))
  }
}
const readOutlines = (pool: Pool, name: string, bytes: Bytes) => pool.run(READ_OUTLINES, { name, bytes })
function checkOutlines({ outlines }: ReadOutlines): void {
  const ground = { sizeX: 100, sizeZ: 100, georeference: null }
  let placed
  try {
    placed = placeOutlines(outlines, 'middle', ground, 'x')
  } catch {
    // Said in words when it is placed: farther apart than a meadow reaches.
    return
  }
  const meadow = { ...newMeadow('M', 'a'.repeat(64), { samples: 2, size: 10 }), outlines: placed.map((one) => newOutline({ name: 'O', colour: '#112233', ...one })) }
  const checked = readMeadow(JSON.parse(JSON.stringify(meadow)))
  if ('problem' in checked) throw new Error(checked.problem)
}

const TARGETS: readonly Target[] = [
  { name: 'a.png', file: () => new Uint8Array(encode({ width: SIDE, height: SIDE, data: crop, depth: 16, channels: 1 })), run: readHeights, check: checkHeights },
  { name: 'a.asc', file: () => text(`ncols ${SIDE}\nnrows ${SIDE}\nxllcorner 385000\nyllcorner 6672000\ncellsize 20\nNODATA_value -9999\n${heights.map((h) => h.toFixed(2)).join(' ')}\n`), run: readHeights, check: checkHeights },
  { name: 'a.tif', file: () => makeTiff(SIDE, SIDE, heights), run: readHeights, check: checkHeights },
  { name: 'a.r16', file: () => new Uint8Array(crop.slice().buffer), run: readHeights, check: checkHeights },
  { name: 'picture.png', file: () => new Uint8Array(encode({ width: 20, height: 20, data: new Uint8Array(1600).map((_, i) => i * 7), depth: 8, channels: 4 })), run: (pool, name, bytes) => pool.run(READ_IMAGE, { name, bytes }), check: ({ pixels, columns, rows }: { pixels: Uint8Array; columns: number; rows: number }) => { if (pixels.length !== 4 * columns * rows) throw new Error('too few pixels') } },
  { name: 'cactus.glb', file: () => fixture('models/cactus.glb'), run: readAsset, check: checkAsset },
  { name: 'button.glb', file: () => fixture('models/webxr_generic_button.glb'), run: readAsset, check: checkAsset },
  { name: 'a.obj', file: () => cactusAs('obj'), run: readAsset, check: checkAsset },
  { name: 'a.ply', file: () => cactusAs('ply'), run: readAsset, check: checkAsset },
  { name: 'a.stl', file: () => cactusAs('stl'), run: readAsset, check: checkAsset },
  { name: 'a.geojson', file: () => text(JSON.stringify({ type: 'FeatureCollection', features: [{ type: 'Feature', properties: { name: 'Isle', width: 2 }, geometry: { type: 'MultiPolygon', coordinates: [[[[0, 0], [9, 0], [9, 9], [0, 0]]], [[[20, 0], [29, 0], [29, 9], [20, 0]]]] } }, { type: 'Feature', properties: {}, geometry: { type: 'LineString', coordinates: [[0, 1], [2, 3], [4, 9]] } }] })), run: readOutlines, check: checkOutlines },
  { name: 'a.svg', file: () => text('<svg viewBox="0 0 9 9"><path id="p" d="M0 0C1 2 3 4 5 6L9 9Z M2 2h2v2z"/><polygon points="0,0 4,0 4,4"/><polyline points="1 1 2 2"/><!-- note --></svg>'), run: readOutlines, check: checkOutlines },
  { name: 'a.meadow', file: smallMeadow, run: (pool, name, bytes) => pool.run(UNPACK_MEADOW, { name, bytes }), check: ({ meadow, blobs }: { meadow: { ground: { blob: string; columns: number; rows: number; sizeX: number; sizeZ: number } }; blobs: readonly (readonly [string, Bytes])[] }) => { const { blob, columns, rows, sizeX, sizeZ } = meadow.ground; createTerrain(bytesToHeights(new Map(blobs).get(blob) as Bytes), columns, rows, sizeX, sizeZ) } },
]

describe(`damaged files, ${MUTANTS} mutants each, seeds from 1`, () => {
  it.each(TARGETS.map((target) => [target.name, target] as const))('%s: refused with a sentence or read as something valid; no hang, no raw error, no poisoned worker', async (_, { name, file, run, check }) => {
    const pool = createNodePool(1, BUDGET)
    try {
      const good = await file()
      await check((await run(pool, name, good)) as never)
      const wrong: string[] = []
      let read = 0
      const daily = Array.from({ length: MUTANTS }, (_, k) => k + 1)
      for (const seed of [...daily, ...(PINNED[name] ?? []).filter((one) => one > MUTANTS)]) {
        try {
          const output = await run(pool, name, mutantOf(good, seed))
          read++
          await check(output as never)
        } catch (error) {
          const { message } = error as Error
          // A sentence names the file; whatever was not foreseen does not.
          if (!message.includes(`“${name}`) && !/^There are more than/.test(message)) wrong.push(`seed ${seed}: ${message}`)
          else if (/did not work|undefined|NaN m large/.test(message)) wrong.push(`seed ${seed}: ${message}`)
        }
      }
      expect(wrong).toEqual([])
      expect(read).toBeLessThan(MUTANTS)
      expect(pool.replaced()).toBe(0)
      await check((await run(pool, name, good)) as never)
    } finally {
      pool.close()
    }
  }, 3_600_000)
})
