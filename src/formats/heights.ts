import { registry } from '../core/kinds.ts'
import { ProblemError } from '../document/problem.ts'
import { asciiHeights } from './ascii-heights.ts'
import type { HeightGrid } from './height-grid.ts'
import { settleGrid } from './height-grid.ts'
import { pngHeights } from './png-heights.ts'
import { rawHeights } from './raw-heights.ts'
import { tiffHeights } from './tiff-heights.ts'

export const HEIGHT_READERS = registry('height format', [asciiHeights, pngHeights, rawHeights, tiffHeights])

/** Reads a height file by its ending, telling what share is read. Throws ProblemError. */
export async function readHeights(bytes: Uint8Array<ArrayBuffer>, name: string, tell: (share: number) => void = () => undefined): Promise<HeightGrid> {
  const lower = name.toLowerCase()
  const reader = HEIGHT_READERS.all.find((one) => one.extensions.some((ending) => lower.endsWith(ending)))
  if (!reader)
    throw new ProblemError(
      `“${name}” is of no kind that is known as heights; there are ${HEIGHT_READERS.all.map((r) => `${r.label} (${r.extensions.join(', ')})`).join(' and ')}.`,
    )
  if (bytes.length === 0) throw new ProblemError(`“${name}” is empty (0 bytes); copy it again.`)
  if (bytes.length > reader.maxBytes)
    throw new ProblemError(
      `“${name}” is ${Math.round(bytes.length / 1048576)} MB; at most ${Math.round(reader.maxBytes / 1048576)} MB of a ${reader.label} can be opened.`,
    )
  return settleGrid(await reader.read(bytes, name, tell), name)
}
