import { registry } from '../core/kinds.ts'
import { LIMITS } from '../core/limits.ts'
import { ProblemError } from '../document/problem.ts'
import { decodeText } from './decode-text.ts'
import { geojsonOutlines } from './geojson-outlines.ts'
import type { ReadOutline, ReadOutlines } from './outline-format.ts'
import { svgOutlines } from './svg-outlines.ts'

const MOST_BYTES = 20 * 1024 * 1024
/** Farther from 0 than any coordinate of a system in use. */
const MOST_COORDINATE = 1e9

export const OUTLINE_FORMATS = registry('outline format', [geojsonOutlines, svgOutlines])

/** Reads patches and paths from a file by its ending. Throws ProblemError. */
export function readOutlines(bytes: Uint8Array<ArrayBuffer>, name: string): ReadOutlines {
  const format = OUTLINE_FORMATS.all.find((one) => one.extensions.some((ending) => name.toLowerCase().endsWith(ending)))
  if (!format)
    throw new ProblemError(
      `“${name}” is of no kind that holds outlines; there are ${OUTLINE_FORMATS.all.map((one) => `${one.label} (${one.extensions.join(', ')})`).join(' and ')}.`,
    )
  if (bytes.length === 0) throw new ProblemError(`“${name}” is empty (0 bytes); copy it again.`)
  if (bytes.length > MOST_BYTES)
    throw new ProblemError(`“${name}” is ${Math.round(bytes.length / 1048576)} MB; at most ${MOST_BYTES / 1048576} MB of outlines can be opened.`)
  const { outlines, coordinates, notes } = format.read(decodeText(bytes), name)
  if (outlines.length === 0) throw new ProblemError(`“${name}” holds no outline: neither a closed area nor a line of two points or more.`)
  if (outlines.length > LIMITS.outlines)
    throw new ProblemError(`“${name}” holds ${outlines.length.toLocaleString('en')} outlines; at most ${LIMITS.outlines.toLocaleString('en')} can be in a meadow.`)
  outlines.forEach((outline, i) => checkOutline(outline, i, name))
  return { outlines, coordinates, notes }
}

function checkOutline({ kind, lines, name: own }: ReadOutline, place: number, name: string): void {
  const which = own ? `the outline “${own}”` : `outline ${place + 1}`
  const points = lines.reduce((sum, line) => sum + line.length / 2, 0)
  if (lines.length > LIMITS.outlineLines)
    throw new ProblemError(`In “${name}”, ${which} has ${lines.length.toLocaleString('en')} lines; at most ${LIMITS.outlineLines.toLocaleString('en')} can be kept in one, so part it first.`)
  if (points > LIMITS.outlinePoints)
    throw new ProblemError(
      `In “${name}”, ${which} has ${points.toLocaleString('en')} points; at most ${LIMITS.outlinePoints.toLocaleString('en')} can be kept, so thin it out first.`,
    )
  const least = kind === 'patch' ? 3 : 2
  for (const line of lines) {
    if (line.length / 2 < least)
      throw new ProblemError(`In “${name}”, ${which} has a line of ${line.length / 2} points; a ${kind} needs at least ${least}.`)
    if (!line.every((value) => Math.abs(value) <= MOST_COORDINATE)) throw new ProblemError(`In “${name}”, ${which} has a point at no possible place; save the file again.`)
  }
}
