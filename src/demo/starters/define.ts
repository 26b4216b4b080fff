import type { Meadow, TerrainGround } from '../../core/meadow.ts'
import { hashBytes, heightsToBytes } from '../../document/blobs.ts'
import type { Blobs } from '../../formats/meadow-file.ts'
import type { SquareGround } from './heights.ts'
import { heightsOf } from './heights.ts'

/** Keeps bytes under the name that their contents give; returns it. */
export type Keep = (bytes: Uint8Array<ArrayBuffer>) => Promise<string>

/** A meadow to start from, made by code: the same bytes every time. */
export interface Starter {
  readonly kind: string
  readonly name: string
  /** What it is, in a sentence. */
  readonly is: string
  /** Which part of the job it shows, in a sentence. */
  readonly shows: string
  make(keep: Keep): Promise<Meadow>
}

/** A ground from its height at plan positions, m. */
export async function groundOf(keep: Keep, name: string, square: SquareGround, heightAt: (x: number, z: number) => number): Promise<TerrainGround> {
  const heights = heightsOf(square, heightAt)
  let lowest = Infinity
  let highest = -Infinity
  for (const height of heights) {
    lowest = Math.min(lowest, height)
    highest = Math.max(highest, height)
  }
  const { samples, size } = square
  return { kind: 'terrain', name, blob: await keep(heightsToBytes(heights)), columns: samples, rows: samples, sizeX: size, sizeZ: size, lowest, highest, source: '', georeference: null }
}

/** Makes a starter with all its bytes. */
export async function makeStarter(starter: Starter): Promise<{ meadow: Meadow; blobs: Blobs }> {
  const blobs: Blobs = new Map()
  const meadow = await starter.make(async (bytes) => {
    const hash = await hashBytes(bytes)
    blobs.set(hash, bytes)
    return hash
  })
  return { meadow, blobs }
}
