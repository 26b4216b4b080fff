import type { Block } from '../core/columns.ts'
import type { ParamSet, ParamValue, ValuesOf } from '../core/kinds.ts'
import type { Meadow } from '../core/meadow.ts'

/** All that a handoff can be written from. */
export interface HandoffInput {
  readonly meadow: Meadow
  /** The plantings that go out, with their blocks. */
  readonly plantings: readonly { readonly id: string; readonly blocks: readonly Block[] }[]
  /** Repaired GLBs of all assets in use, and of the meshes, by id. */
  readonly assets: ReadonlyMap<string, Uint8Array<ArrayBuffer>>
  readonly heights: Float32Array<ArrayBuffer>
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
  /** A guess at the size of the file, bytes. */
  estimate(instances: number, assetBytes: number, values: Readonly<Record<string, ParamValue>>): number
  /** The file as pieces in order. Throws ProblemError. */
  write(
    input: HandoffInput,
    values: Readonly<Record<string, ParamValue>>,
    report: Report,
  ): Uint8Array<ArrayBuffer>[]
}

interface HandoffFormOf<S extends ParamSet> extends Omit<HandoffForm, 'params' | 'write' | 'estimate'> {
  readonly params: S
  estimate(instances: number, assetBytes: number, values: ValuesOf<S>): number
  write(input: HandoffInput, values: ValuesOf<S>, report: Report): Uint8Array<ArrayBuffer>[]
}

/** Ties a form to the types of its own options. */
export function defineHandoff<S extends ParamSet>(form: HandoffFormOf<S>): HandoffForm {
  return {
    ...form,
    estimate: (instances, bytes, values) => form.estimate(instances, bytes, values as ValuesOf<S>),
    write: (input, values, report) => form.write(input, values as ValuesOf<S>, report),
  }
}

/** Gathers text into UTF-8 pieces of a few megabytes. */
export function textPieces(): { add(text: string): void; done(): Uint8Array<ArrayBuffer>[] } {
  const encoder = new TextEncoder()
  const pieces: Uint8Array<ArrayBuffer>[] = []
  let held: string[] = []
  let length = 0
  const flush = () => {
    if (held.length) pieces.push(encoder.encode(held.join('')))
    held = []
    length = 0
  }
  return {
    add(text) {
      held.push(text)
      length += text.length
      if (length > 2_000_000) flush()
    },
    done() {
      flush()
      return pieces
    },
  }
}

/** A Float32 in the fewest digits that read back to within half a unit of its last place. */
export function digits(value: number): string {
  return String(Number(value.toPrecision(9)))
}

/** Instances of all plantings that go out. */
export function countOf(input: HandoffInput): number {
  let count = 0
  for (const planting of input.plantings) for (const block of planting.blocks) count += block.count
  return count
}
