import type { Block } from '../core/columns.ts'
import { TERRAIN_ID } from '../core/grounds/ground.ts'
import { createTerrain, heightOf } from '../core/grounds/terrain.ts'
import type { ParamSet, ParamValue, ValuesOf } from '../core/kinds.ts'
import type { Asset, Meadow } from '../core/meadow.ts'
import { countApart, leavesByNumber, takenApart } from '../core/posy/apart.ts'
import type { TextWriter } from './text-writer.ts'
import { createTextWriter } from './text-writer.ts'

/** A planting that goes out. */
interface GoingOut {
  readonly id: string
  readonly blocks: readonly Block[]
  /** Which ground each of the blocks stands on; without, all stand on the terrain. */
  readonly grounds?: readonly string[]
}

/** All that a handoff can be written from. */
export interface HandoffInput {
  readonly meadow: Meadow
  /** The plantings that go out, with their blocks. */
  readonly plantings: readonly GoingOut[]
  /** Repaired GLBs of all assets in use, and of the meshes, by id. */
  readonly assets: ReadonlyMap<string, Uint8Array<ArrayBuffer>>
  /** Heights of the ground as stored, NaN in holes. */
  readonly heights: Float32Array<ArrayBuffer>
}

/** What the size of a file is worked out from before it is written. */
export interface SizeInput extends Pick<HandoffInput, 'meadow' | 'plantings'> {
  /** Bytes of the GLBs of assets in use and of meshes that are shown. */
  readonly assetBytes: number
  readonly meshBytes: number
}

export type Report = (share: number, note: string) => void

/** A file form that a meadow is handed off in; one file a form, listed in `handoff-forms.ts`. */
export interface HandoffForm {
  readonly kind: string
  readonly label: string
  readonly help: string
  readonly extension: string
  readonly mime: string
  readonly params: ParamSet
  /** The size that the file will have, bytes, within a few percent. */
  estimate(input: SizeInput, values: Readonly<Record<string, ParamValue>>): number
  /** The file as pieces in order. Throws ProblemError. */
  write(
    input: HandoffInput,
    values: Readonly<Record<string, ParamValue>>,
    report: Report,
  ): Uint8Array<ArrayBuffer>[]
}

interface HandoffFormOf<S extends ParamSet> extends Omit<HandoffForm, 'params' | 'write' | 'estimate'> {
  readonly params: S
  estimate(input: SizeInput, values: ValuesOf<S>): number
  write(input: HandoffInput, values: ValuesOf<S>, report: Report): Uint8Array<ArrayBuffer>[]
}

/** Ties a form to the types of its own options. */
export function defineHandoff<S extends ParamSet>(form: HandoffFormOf<S>): HandoffForm {
  return {
    ...form,
    estimate: (input, values) => form.estimate(input, values as ValuesOf<S>),
    write: (input, values, report) => form.write(apart(input), values as ValuesOf<S>, report),
  }
}

/** What goes out with its posies taken apart: files know models only. */
function apart(input: HandoffInput): HandoffInput {
  const posies = leavesByNumber(input.meadow.assets)
  if (posies.size === 0) return input
  const { columns, rows, sizeX, sizeZ } = input.meadow.ground
  const heightAt = heightOf(createTerrain(input.heights, columns, rows, sizeX, sizeZ))
  return { ...input, plantings: input.plantings.map(({ id, blocks, grounds }) => ({ id, blocks: blocks.map((block, k) => takenApart(block, posies, { heightAt: (grounds?.[k] ?? TERRAIN_ID) === TERRAIN_ID ? heightAt : null })) })) }
}

/** Instances of models in all plantings that go out. */
export function countOf({ meadow, plantings }: Pick<HandoffInput, 'meadow' | 'plantings'>): number {
  const posies = leavesByNumber(meadow.assets)
  return plantings.reduce((sum, { blocks }) => sum + blocks.reduce((own, block) => own + countApart(block, posies), 0), 0)
}

/** The models that go out, in the order of the shelf. */
export function modelsOf({ meadow, plantings }: Pick<HandoffInput, 'meadow' | 'plantings'>): Asset[] {
  const posies = leavesByNumber(meadow.assets)
  const numbers = new Set<number>()
  for (const { blocks } of plantings) for (const { asset } of blocks) for (let i = 0; i < asset.length; i++) if (i === 0 || asset[i] !== asset[i - 1]) numbers.add(asset[i])
  const used = new Set([...numbers].flatMap((number) => posies.get(number)?.map((leaf) => leaf.asset.number) ?? [number]))
  return meadow.assets.filter(({ number }) => used.has(number))
}

const SAMPLE = 200

/** Mean bytes of an instance's text, from some of them spread over all plantings. */
export function bytesARow(plantings: HandoffInput['plantings'], write: (out: TextWriter, planting: string, block: Block, row: number) => void): number {
  const rows = plantings.reduce((sum, { blocks }) => sum + blocks.reduce((own, { count }) => own + count, 0), 0)
  const stride = Math.max(1, Math.floor(rows / SAMPLE))
  const out = createTextWriter()
  let next = 0
  let seen = 0
  let before = 0
  for (const { id, blocks } of plantings)
    for (const block of blocks) {
      for (; next < before + block.count; next += stride) {
        write(out, id, block, next - before)
        seen++
      }
      before += block.count
    }
  return seen > 0 ? out.done().reduce((sum, { length }) => sum + length, 0) / seen : 0
}
