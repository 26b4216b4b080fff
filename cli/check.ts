import { basename } from 'node:path'
import { openAsBlob } from 'node:fs'
import { stat } from 'node:fs/promises'
import type { Outline } from '../src/core/meadow.ts'
import { patchArea } from '../src/core/outlines/measure.ts'
import { newOutline } from '../src/document/new-planting.ts'
import { ProblemError, sentenceOf } from '../src/document/problem.ts'
import { READ_ASSET, READ_HEIGHTS, READ_IMAGE, READ_OUTLINES, UNPACK_MEADOW } from '../src/runner/io-refs.ts'
import type { Pool } from '../src/runner/pool.ts'
import type { FileLike } from '../src/runner/read-file.ts'
import { readFileAlone } from '../src/runner/read-file.ts'
import { BESIDE_ENDINGS, hasEnding, HEIGHT_ENDINGS, IMAGE_ENDINGS, MODEL_ENDINGS, OUTLINE_ENDINGS } from '../src/formats/endings.ts'
import { splitGlb } from '../src/formats/glb.ts'
import type { HeightGrid } from '../src/formats/height-grid.ts'
import { doubt, guessDistance, latitudeOf, sizeOf } from '../src/formats/height-settle.ts'
import type { ReadOutlines } from '../src/formats/outline-format.ts'
import { boundsOf, couldBeDegrees, placeOutlines } from '../src/formats/outline-placing.ts'

/** What the check prints of a file: one line of JSON. */
export type Report =
  | { readonly file: string; readonly reads: Kind; readonly facts: Record<string, unknown>; readonly notes: readonly string[] }
  | { readonly file: string; readonly refused: string }

type Kind = 'heights' | 'model' | 'outlines' | 'image' | 'meadow'
type Found = { readonly reads: Kind; readonly facts: Record<string, unknown>; readonly notes: readonly string[] }

/** Reads a file as the page would and tells what is in it; never throws. */
export async function checkFile(pool: Pool, path: string, beside: readonly string[] = []): Promise<Report> {
  try {
    return { file: path, ...(await read(pool, await fileAt(path), beside)) }
  } catch (error) {
    return { file: path, refused: sentenceOf(error, `Reading “${basename(path)}”`) }
  }
}

async function fileAt(path: string): Promise<FileLike> {
  const name = basename(path)
  const found = await stat(path).catch(() => null)
  if (!found?.isFile()) throw new ProblemError(`“${name}” is not there, or is no file; check its path.`)
  return { name, size: found.size, arrayBuffer: async () => (await openAsBlob(path)).arrayBuffer() }
}

async function read(pool: Pool, file: FileLike, beside: readonly string[]): Promise<Found> {
  if (hasEnding(file.name, ['.meadow'])) return readMeadow(pool, file)
  if (hasEnding(file.name, ['.png'])) return readPng(pool, file)
  if (hasEnding(file.name, IMAGE_ENDINGS)) return readPicture(pool, file)
  if (hasEnding(file.name, MODEL_ENDINGS)) return readModel(pool, file, beside)
  if (hasEnding(file.name, OUTLINE_ENDINGS)) return outlineFacts(await readFileAlone(pool, READ_OUTLINES, file, {}))
  if (hasEnding(file.name, HEIGHT_ENDINGS)) return heightFacts(await readFileAlone(pool, READ_HEIGHTS, file, {}))
  const known = ['.meadow', ...new Set([...HEIGHT_ENDINGS, ...MODEL_ENDINGS, ...OUTLINE_ENDINGS, ...IMAGE_ENDINGS])]
  throw new ProblemError(`“${file.name}” is of no kind that can be brought in; there are ${known.join(', ')}.`)
}

const round = (value: number, digits = 4) => Number(value.toFixed(digits))

function heightFacts(grid: HeightGrid): Found {
  const distance = guessDistance(grid)
  const size = grid.spacing ? sizeOf(grid, distance, latitudeOf(grid) ?? 0) : null
  const reference = grid.spacing?.georeference
  const notes: string[] = []
  if (!grid.metres) notes.push('Its values are shares of a range: the size and the range of heights are asked for when it is brought in.')
  if (distance === 'degrees') notes.push(`Laid out in degrees, turned into metres at latitude ${round(latitudeOf(grid) ?? 0, 2)}.`)
  if (grid.missing > 0) notes.push(`${grid.missing.toLocaleString('en')} samples have no data; they become holes unless they are filled.`)
  const question = size && grid.metres ? doubt(size.sizeX, size.sizeZ, grid.highest - grid.lowest) : null
  if (question) notes.push(question)
  return {
    reads: 'heights',
    facts: {
      columns: grid.columns,
      rows: grid.rows,
      cellX: size && round(size.sizeX / (grid.columns - 1), 6),
      cellZ: size && round(size.sizeZ / (grid.rows - 1), 6),
      sizeX: size && round(size.sizeX),
      sizeZ: size && round(size.sizeZ),
      lowest: round(grid.lowest, 6),
      highest: round(grid.highest, 6),
      missing: grid.missing,
      reference: reference ? { system: reference.system, degrees: reference.degrees, x: reference.x, y: reference.y } : null,
    },
    notes,
  }
}

/** A grey picture holds heights; one with colours is an image. */
async function readPng(pool: Pool, file: FileLike): Promise<Found> {
  const head = new Uint8Array(await file.arrayBuffer().catch(() => new ArrayBuffer(0))).subarray(0, 33)
  const grey = head[25] === 0 || head[25] === 4
  return grey || head.length < 33 ? heightFacts(await readFileAlone(pool, READ_HEIGHTS, file, {})) : readPicture(pool, file)
}

async function readPicture(pool: Pool, file: FileLike): Promise<Found> {
  if (hasEnding(file.name, ['.jpg', '.jpeg'])) return jpegFacts(new Uint8Array(await file.arrayBuffer()), file.name)
  const { columns, rows } = await readFileAlone(pool, READ_IMAGE, file, {})
  return { reads: 'image', facts: { columns, rows }, notes: [] }
}

/** The sides of a JPEG by its frame header (ITU-T T.81, B.2.2); its pixels are decoded in the browser alone. */
function jpegFacts(bytes: Uint8Array<ArrayBuffer>, name: string): Found {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  for (let at = 2; bytes[0] === 0xff && bytes[1] === 0xd8 && at + 9 < bytes.length && bytes[at] === 0xff; at += 2 + view.getUint16(at + 2)) {
    const frame = bytes[at + 1] >= 0xc0 && bytes[at + 1] <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(bytes[at + 1])
    if (frame) return { reads: 'image', facts: { columns: view.getUint16(at + 7), rows: view.getUint16(at + 5) }, notes: ['Only its header is looked at here; the page decodes it whole.'] }
  }
  throw new ProblemError(`“${name}” is damaged or cut short and cannot be read as JPEG; save or copy it again.`)
}

async function readModel(pool: Pool, file: FileLike, others: readonly string[]): Promise<Found> {
  const beside = await Promise.all(
    others
      .filter((path) => hasEnding(path, BESIDE_ENDINGS))
      .map(async (path) => ({ name: basename(path), bytes: new Uint8Array(await (await fileAt(path)).arrayBuffer()) })),
  )
  const read = await readFileAlone(pool, READ_ASSET, file, { repair: null, beside })
  const json = splitGlb(read.glb)?.json
  const primitives = (json?.meshes ?? []).flatMap((mesh) => mesh.primitives)
  return {
    reads: 'model',
    facts: {
      triangles: read.triangles,
      parts: primitives.length,
      materials: json?.materials?.length ?? 0,
      textures: json?.textures?.length ?? 0,
      size: read.measures.size.map((side) => round(side, 6)),
      watertight: read.watertight,
      flipped: read.turned > 0,
    },
    notes: [...read.notes, ...read.shapeNotes],
  }
}

function outlineFacts(read: ReadOutlines): Found {
  const { outlines, coordinates, notes } = read
  const { x0, y0, x1, y1 } = boundsOf(outlines)
  const globe = coordinates.of !== 'middle' && couldBeDegrees({ x0, y0, x1, y1 }) && (coordinates.of === 'system' ? coordinates.system === 'EPSG:4326' : false)
  const ground = { sizeX: 1, sizeZ: 1, georeference: null }
  const placed = placeOutlines(outlines, globe ? 'degrees' : 'middle', ground, 'it').map((one) => newOutline({ name: '', colour: '#000000', ...one }))
  const patches = placed.filter(({ kind }) => kind === 'patch')
  const rings = (list: readonly Outline[]) => list.reduce((sum, { lines }) => sum + lines.length, 0)
  return {
    reads: 'outlines',
    facts: {
      lines: rings(placed.filter(({ kind }) => kind === 'path')),
      rings: rings(patches),
      area: round(patches.reduce((sum, patch) => sum + patchArea(patch), 0)),
      bounds: [x0, y0, x1, y1],
      reference: coordinates.of === 'system' ? coordinates.system : coordinates.of === 'middle' ? 'metres from the middle of the ground' : null,
    },
    notes,
  }
}

async function readMeadow(pool: Pool, file: FileLike): Promise<Found> {
  const { meadow, blobs, thrownAnew } = await readFileAlone(pool, UNPACK_MEADOW, file, {})
  const { ground, plantings, assets, outlines, images, beacons, meshes } = meadow
  return {
    reads: 'meadow',
    facts: {
      name: meadow.name,
      ground: { columns: ground.columns, rows: ground.rows, sizeX: ground.sizeX, sizeZ: ground.sizeZ, lowest: ground.lowest, highest: ground.highest },
      plantings: plantings.length,
      assets: assets.length,
      outlines: outlines.length,
      images: images.length,
      beacons: beacons.length,
      meshes: meshes.length,
      bytes: blobs.reduce((sum, [, bytes]) => sum + bytes.length, 0),
    },
    notes: thrownAnew ? [thrownAnew] : [],
  }
}
