import { newMeadow, newOutline, newPlanting, PLANTING_COLOURS } from '../src/document/new-planting.ts'
import { hashBytes } from '../src/document/blobs.ts'
import { DEMO_ASSETS } from '../src/demo/assets/index.ts'
import { INLAND } from '../src/demo/assets/inland.ts'
import { makeAssets } from '../src/demo/assets/shelf.ts'
import type { Blobs } from '../src/formats/meadow-file.ts'
import { writeMeadowFile } from '../src/formats/meadow-file.ts'

/** A meadow with long lists, as a `.meadow` file: every asset a model of its own, every planting a small one. */
export async function makeMany(plantings: number, assets: number, outlines: number): Promise<Buffer> {
  const blobs: Blobs = new Map()
  const keep = async (bytes: Uint8Array<ArrayBuffer>) => {
    const hash = await hashBytes(bytes)
    blobs.set(hash, bytes)
    return hash
  }
  const own = [...DEMO_ASSETS, ...INLAND]
  // The name is written into the file, so that no two are the same bytes.
  const made = Array.from({ length: assets }, (_, i) => {
    const like = own[i % own.length]
    return { ...like, id: `asset-${i}`, name: `${like.name} ${i}` }
  })
  const heights = new Float32Array(65 * 65)
  const meadow = newMeadow('Many of all', await keep(new Uint8Array(heights.buffer)), { samples: 65, size: 400 })
  const shelf = await makeAssets(made, keep)
  return Buffer.from(
    writeMeadowFile(
      {
        ...meadow,
        assets: shelf,
        nextAsset: shelf.length,
        plantings: Array.from({ length: plantings }, (_, i) =>
          newPlanting({ id: `planting-${i}`, name: `Planting ${i}`, colour: PLANTING_COLOURS[i % PLANTING_COLOURS.length], seed: i, mix: [{ asset: shelf[i % Math.min(40, shelf.length)].id, share: 1 }], params: { spacing: 90 } }),
        ),
        outlines: Array.from({ length: outlines }, (_, i) => {
          const [x, z] = [-190 + 9 * (i % 40), -190 + 14 * Math.floor(i / 40)]
          return newOutline({ id: `outline-${i}`, kind: i % 2 ? 'path' : 'patch', name: `Outline ${i}`, colour: PLANTING_COLOURS[i % PLANTING_COLOURS.length], lines: [[x, z, x + 6, z, x + 6, z + 8, x, z + 9]] })
        }),
      },
      blobs,
    ),
  )
}
