import { encode } from 'fast-png'
import Papa from 'papaparse'
import { blockOf } from '../src/core/columns.ts'
import { newMeadow } from '../src/document/new-planting.ts'
import { buildAssetGlb } from '../src/formats/asset-build.ts'
import { readModel } from '../src/formats/asset-import.ts'
import { repairModel } from '../src/formats/asset-repair.ts'
import { HANDOFF_FORMS } from '../src/formats/handoff-forms.ts'
import { readHeights } from '../src/formats/heights.ts'
import { NO_REPAIR } from '../src/formats/repair.ts'
import { makeStandIns } from '../src/formats/stand-ins.ts'

/** Reading large files and writing a large table, each once or as the best of three; seconds of one core. */

const SIDE = 4096
const ROWS = 322_000

async function timed(work: () => unknown): Promise<number> {
  const start = performance.now()
  await work()
  return (performance.now() - start) / 1000
}

function largePng(): Uint8Array<ArrayBuffer> {
  const data = Uint16Array.from({ length: SIDE * SIDE }, (_, i) => 32768 + 20000 * Math.sin((i % SIDE) / 90) * Math.cos(i / SIDE / 70) + ((i * 2654435761) >>> 24))
  return new Uint8Array(encode({ width: SIDE, height: SIDE, data, depth: 16, channels: 1 }))
}

/** A wavy sheet of `side`² corners. */
function sheet(side: number) {
  const count = side * side
  const positions = new Float32Array(3 * count)
  const indices = new Uint32Array(6 * (side - 1) ** 2)
  for (let i = 0; i < count; i++) positions.set([(i % side) * 0.02, 0.3 * Math.sin(i / 500), Math.floor(i / side) * 0.02], 3 * i)
  let k = 0
  for (let j = 0; j + 1 < side; j++)
    for (let i = 0; i + 1 < side; i++) {
      const a = j * side + i
      for (const corner of [a, a + side, a + 1, a + 1, a + side, a + side + 1]) indices[k++] = corner
    }
  return { positions, indices, count }
}

/** A model of 100 MB: two million triangles and a picture. */
function largeGlb(): Uint8Array<ArrayBuffer> {
  const { positions, indices, count } = sheet(990)
  const picture = new Uint8Array(44 * 1024 * 1024)
  picture.set([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a])
  return buildAssetGlb('sheet', [
    { name: 'sheet', positions, normals: null, colours: new Uint8Array(4 * count).fill(255), indices, roughness: 1, doubleSided: false, uvs: new Float32Array(2 * count), texture: { bytes: picture, mime: 'image/png' } },
  ])
}

function largeObj(): Uint8Array<ArrayBuffer> {
  const { positions, indices, count } = sheet(578)
  const lines: string[] = []
  for (let i = 0; i < count; i++) lines.push(`v ${positions[3 * i].toFixed(4)} ${positions[3 * i + 1].toFixed(4)} ${positions[3 * i + 2].toFixed(4)}`)
  for (let k = 0; k < indices.length; k += 3) lines.push(`f ${indices[k] + 1} ${indices[k + 1] + 1} ${indices[k + 2] + 1}`)
  return new TextEncoder().encode(`${lines.join('\n')}\n`)
}

function table() {
  const block = blockOf(ROWS)
  for (let i = 0; i < ROWS; i++) {
    block.idLow[i] = i * 2654435761
    for (let c = 0; c < 3; c++) {
      block.position[3 * i + c] = 500 * Math.sin(i * 1.7 + c)
      block.scale[3 * i + c] = 0.8 + 0.4 * Math.abs(Math.sin(i * 3.1))
    }
    const half = i * 0.37
    block.rotation.set([0.1 * Math.sin(i), Math.sin(half) * 0.99, 0.05 * Math.cos(i), Math.cos(half) * 0.99], 4 * i)
  }
  return block
}

export async function measureFiles(say: (text: string) => void): Promise<void> {
  const png = largePng()
  say(`reading a PNG of ${SIDE} × ${SIDE} samples of 16 bits (${Math.round(png.length / 1e6)} MB) ${(await timed(() => readHeights(png, 'large.png'))).toFixed(1)} s`)
  const glb = largeGlb()
  const started = performance.now()
  const whole = await repairModel(await readModel(glb, 'large.glb'), NO_REPAIR, 'large')
  const repaired = (performance.now() - started) / 1000
  const lighter = await timed(() => makeStandIns(whole.glb, whole.triangles, whole.corners))
  say(`reading and repairing a GLB of ${Math.round(glb.length / 1e6)} MB, 1.96 million triangles ${repaired.toFixed(1)} s, its lighter forms ${lighter.toFixed(1)} s`)
  const obj = largeObj()
  say(`reading an OBJ of a million lines (${Math.round(obj.length / 1e6)} MB) ${(await timed(() => readModel(obj, 'large.obj'))).toFixed(1)} s`)
  const block = table()
  const meadow = newMeadow('Table', 'a'.repeat(64), { samples: 2, size: 10 })
  const input = { meadow, plantings: [{ id: 'p', blocks: [block] }], assets: new Map(), heights: new Float32Array(4) }
  const own: number[] = []
  const package_: number[] = []
  for (let round = 0; round < 3; round++) {
    own.push(await timed(() => HANDOFF_FORMS.get('csv').write(input, {}, () => undefined)))
    package_.push(
      await timed(() =>
        Papa.unparse(Array.from({ length: ROWS }, (_, i) => [i, ...block.position.subarray(3 * i, 3 * i + 3), ...block.rotation.subarray(4 * i, 4 * i + 4), ...block.scale.subarray(3 * i, 3 * i + 3)])),
      ),
    )
  }
  const [best, theirs] = [Math.min(...own), Math.min(...package_)]
  say(`a table of ${ROWS.toLocaleString('en')} rows ${best.toFixed(2)} s, ${(theirs / best).toFixed(1)} × papaparse`)
}
