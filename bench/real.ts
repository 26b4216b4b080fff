import { readFileSync } from 'node:fs'
import { decode } from 'fast-png'
import type { Meadow, Planting } from '../src/core/meadow.ts'
import { makeDemoAssets } from '../src/demo/demo-meadow.ts'
import { hashBytes, heightsToBytes } from '../src/document/blobs.ts'
import { newCondition, newMeadow, newPlanting, PLANTING_COLOURS } from '../src/document/new-planting.ts'
import type { Blobs } from '../src/growth/run-meadow.ts'

/** Samples along a side, and metres between two of them. */
const SAMPLES = 400
const CELL = 20
/** Heights of the darkest and the brightest sample, m; from `src/testing/heights/README.md`. */
const [LOWEST, HIGHEST] = [180.001, 530.605]

/** A band of plants: heights from and to, m; spacing, m; and what else is asked of the ground. */
interface Band {
  readonly name: string
  readonly asset: string
  readonly heights: readonly [number | null, number | null]
  readonly spacing: number
  readonly slope?: readonly [number | null, number | null]
  readonly facing?: number
  readonly hollow?: readonly [number | null, number | null]
  readonly patches?: readonly [size: number, coverage: number]
  readonly rest?: Planting['params']
}

const BANDS: readonly Band[] = [
  { name: 'Pines on the tops', asset: 'wind-pine', heights: [330, null], spacing: 7.7, slope: [null, 28], patches: [400, 0.6], rest: { follow: 0 } },
  { name: 'Boulders below the tops', asset: 'boulder', heights: [300, 380], spacing: 12, slope: [6, null], rest: { placing: 'random', follow: 0.8 } },
  { name: 'Shrubs on sunny slopes', asset: 'thorn-shrub', heights: [240, 340], spacing: 6.2, slope: [3, 30], facing: 180, rest: { follow: 0.4 } },
  { name: 'Grass in the hollows', asset: 'saltgrass', heights: [220, 300], spacing: 6, hollow: [null, -1], patches: [150, 0.7], rest: { follow: 0.6 } },
  { name: 'Marram on the ridges', asset: 'marram', heights: [200, 280], spacing: 8, hollow: [1.5, null], rest: { lean: { from: 4, to: 16 }, leanTo: 'wind' } },
  { name: 'Lavender in patches', asset: 'sea-lavender', heights: [200, 240], spacing: 6.5, slope: [null, 10], patches: [90, 0.4], rest: { lean: { from: 0, to: 8 } } },
  { name: 'Reeds in the low ground', asset: 'reed', heights: [null, 195], spacing: 6.35, rest: { placing: 'natural', arrangement: 0.75, clump: 60, follow: 0 } },
  { name: 'Thrift all over', asset: 'thrift', heights: [190, 260], spacing: 10, slope: [null, 20], patches: [250, 0.5] },
]

/** A meadow that is not the demo: real hills, 8 km on a side, eight plantings in bands. */
export async function makeRealMeadow(): Promise<{ meadow: Meadow; blobs: Blobs }> {
  const blobs = new Map<string, Uint8Array<ArrayBuffer>>()
  const keep = async (bytes: Uint8Array<ArrayBuffer>) => {
    const hash = await hashBytes(bytes)
    blobs.set(hash, bytes)
    return hash
  }
  const { data } = decode(readFileSync('src/testing/heights/north_hills_16bit.png'))
  const heights = Float32Array.from(data, (value) => LOWEST + (value / 65535) * (HIGHEST - LOWEST))
  const assets = await makeDemoAssets(keep)
  const bare = newMeadow('Hills', await keep(heightsToBytes(heights)), { samples: SAMPLES, size: (SAMPLES - 1) * CELL })
  const meadow = {
    ...bare,
    ground: { ...bare.ground, lowest: LOWEST, highest: HIGHEST },
    assets,
    nextAsset: assets.length,
    plantings: BANDS.map(plantingOf),
  }
  return { meadow, blobs }
}

function plantingOf({ name, asset, heights, spacing, slope, facing, hollow, patches, rest }: Band, at: number): Planting {
  const between = ([from, to]: readonly [number | null, number | null]) => ({ from, to })
  const habitat = [
    newCondition('height', { height: between(heights), soft: 8 }, 'height'),
    ...(slope ? [newCondition('slope', { slope: between(slope), soft: 3 }, 'slope')] : []),
    ...(facing === undefined ? [] : [newCondition('facing', { towards: facing, either: 70 }, 'facing')]),
    ...(hollow ? [newCondition('hollow', { over: between(hollow), radius: 80, soft: 1 }, 'hollow')] : []),
    ...(patches ? [newCondition('patchiness', { size: patches[0], coverage: patches[1], contrast: 0.8, shift: at }, 'patches')] : []),
  ]
  return newPlanting({
    id: `band-${at}`,
    name,
    colour: PLANTING_COLOURS[at % PLANTING_COLOURS.length],
    seed: 100 + at,
    mix: [{ asset, share: 1 }],
    habitat,
    params: { spacing, ...rest },
  })
}
