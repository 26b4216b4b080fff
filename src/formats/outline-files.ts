import { registry } from '../core/kinds.ts'
import { ProblemError } from '../document/problem.ts'
import { geojsonOutlines } from './geojson-outlines.ts'
import type { ReadOutline } from './outline-format.ts'
import { svgOutlines } from './svg-outlines.ts'

const MOST_BYTES = 20 * 1024 * 1024
/** Points of one outline; more make the document slow to save. */
export const MOST_POINTS = 20000
const MOST_OUTLINES = 500

export const OUTLINE_FORMATS = registry('outline format', [geojsonOutlines, svgOutlines])

/** Reads patches and paths from a file by its ending. Throws ProblemError. */
export function readOutlines(bytes: Uint8Array<ArrayBuffer>, name: string): ReadOutline[] {
  const format = OUTLINE_FORMATS.all.find((one) => one.extensions.some((ending) => name.toLowerCase().endsWith(ending)))
  if (!format)
    throw new ProblemError(
      `“${name}” is of no kind that holds outlines; there are ${OUTLINE_FORMATS.all.map((one) => `${one.label} (${one.extensions.join(', ')})`).join(' and ')}.`,
    )
  if (bytes.length === 0) throw new ProblemError(`“${name}” is empty (0 bytes); copy it again.`)
  if (bytes.length > MOST_BYTES)
    throw new ProblemError(`“${name}” is ${Math.round(bytes.length / 1048576)} MB; at most ${MOST_BYTES / 1048576} MB of outlines can be opened.`)
  let text: string
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch {
    throw new ProblemError(`“${name}” is no text in UTF-8, so it is no ${format.label}; save it again as one.`)
  }
  const outlines = format.read(text, name)
  if (outlines.length === 0) throw new ProblemError(`“${name}” holds no outline: neither a closed area nor a line of two points or more.`)
  if (outlines.length > MOST_OUTLINES)
    throw new ProblemError(`“${name}” holds ${outlines.length.toLocaleString('en')} outlines; at most ${MOST_OUTLINES} can be brought in at a time.`)
  outlines.forEach((outline, i) => checkOutline(outline, i, name))
  return outlines
}

function checkOutline({ kind, lines, name: own }: ReadOutline, place: number, name: string): void {
  const which = own ? `the outline “${own}”` : `outline ${place + 1}`
  const points = lines.reduce((sum, line) => sum + line.length / 2, 0)
  if (points > MOST_POINTS)
    throw new ProblemError(
      `In “${name}”, ${which} has ${points.toLocaleString('en')} points; at most ${MOST_POINTS.toLocaleString('en')} can be kept, so thin it out first.`,
    )
  const least = kind === 'patch' ? 3 : 2
  for (const line of lines) {
    if (line.length / 2 < least)
      throw new ProblemError(`In “${name}”, ${which} has a line of ${line.length / 2} points; a ${kind} needs at least ${least}.`)
    if (!line.every((value) => Math.abs(value) <= 1e6))
      throw new ProblemError(`In “${name}”, ${which} has a point that is no place within 1,000 km of the middle; outlines are in metres.`)
  }
}
