import { degreeReference } from '../core/grounds/georeference.ts'
import type { GeoReference } from '../core/meadow.ts'
import { ProblemError } from '../document/problem.ts'
import type { GridSpacing, HeightReader } from './height-grid.ts'
import { checkSides, placeInGrid } from './height-grid.ts'

const KEYS = new Set([
  'ncols',
  'nrows',
  'xllcorner',
  'yllcorner',
  'xllcenter',
  'yllcenter',
  'cellsize',
  'dx',
  'dy',
  'nodata_value',
])

/** Longest side of a cell that is believed, m. */
const MOST_CELL = 100_000
/** Heights between one telling of progress and the next. */
const TELL_EVERY = 1 << 18
/** Words that stand for no data, beside the number that the header names. */
const NO_DATA_WORDS = new Set(['nan', '-nan', 'na', 'nodata', 'null'])

/** ESRI ASCII grid: header lines, then rows of numbers from the north. */
export const asciiHeights: HeightReader = {
  kind: 'ascii',
  label: 'ESRI ASCII grid',
  extensions: ['.asc', '.grd', '.txt'],
  maxBytes: 512 * 1024 * 1024,
  read(bytes, name, tell) {
    const { header, at } = readHeader(bytes, name)
    const columns = wholeOf(header, 'ncols', name)
    const rows = wholeOf(header, 'nrows', name)
    checkSides(name, columns, rows)
    const spacing = spacingOf(header, columns, rows, name)
    const declared = header.get('nodata_value')
    const noData = declared === undefined || Number.isNaN(declared) ? -9999 : declared
    const values = new Float32Array(columns * rows)
    // A height takes a digit and a gap at least: what cannot be there is not waited for.
    if (bytes.length - at < 2 * values.length - 1) refuseShort(name, columns, rows, countWords(bytes, at))
    const next = numbers(bytes, at)
    for (let i = 0; i < values.length; i++) {
      if (i % TELL_EVERY === 0) tell(i / values.length)
      const token = next()
      if (token === null) refuseShort(name, columns, rows, i)
      const value = Number(token)
      if (value === noData || NO_DATA_WORDS.has(token.toLowerCase())) values[i] = NaN
      else if (!Number.isFinite(value))
        throw new ProblemError(`“${name}” has “${token.slice(0, 20)}” where a height should be, at ${placeInGrid(i, columns)}.`)
      else values[i] = value
    }
    if (next() !== null)
      throw new ProblemError(
        `“${name}” holds more heights than the ${columns} × ${rows} its header announces; correct NCOLS and NROWS.`,
      )
    return { columns, rows, values, metres: true, spacing, form: 'ESRI ASCII grid' }
  },
}

function refuseShort(name: string, columns: number, rows: number, there: number): never {
  throw new ProblemError(
    `“${name}” ends at ${placeInGrid(there, columns)}: ${columns} × ${rows} = ${columns * rows} heights are announced and ${there} are there; copy it again.`,
  )
}

function countWords(bytes: Uint8Array, start: number): number {
  const next = numbers(bytes, start)
  let count = 0
  while (next() !== null) count++
  return count
}

/** What the header says of cell sizes and place; null when it gives no size. */
function spacingOf(header: Map<string, number>, columns: number, rows: number, name: string): GridSpacing | null {
  const stepX = header.get('cellsize') ?? header.get('dx')
  const stepY = header.get('cellsize') ?? header.get('dy') ?? stepX
  if (stepX === undefined || stepY === undefined) return null
  for (const step of [stepX, stepY])
    if (!(step > 0 && step <= MOST_CELL)) throw new ProblemError(`“${name}” gives a cell size of ${step}; it must be above 0 and in metres or degrees.`)
  const middle = (corner: string, centre: string, step: number, cells: number) => {
    const [low, first] = [header.get(corner), header.get(centre)]
    return low !== undefined ? low + (step * cells) / 2 : first !== undefined ? first + (step * (cells - 1)) / 2 : null
  }
  const x = middle('xllcorner', 'xllcenter', stepX, columns)
  const y = middle('yllcorner', 'yllcenter', stepY, rows)
  return { stepX, stepY, georeference: x === null || y === null ? null : guessReference(x, y, stepX * columns, stepY * rows) }
}

/** The format does not name its unit: a grid that lies on the globe in degrees and is at most a few of them wide is in degrees. */
function guessReference(x: number, y: number, width: number, depth: number): GeoReference {
  const MOST_DEGREES = 20
  const degrees = Math.abs(x) + width / 2 <= 360 && Math.abs(y) + depth / 2 <= 90 && width <= MOST_DEGREES && depth <= MOST_DEGREES && (x !== width / 2 || y !== depth / 2)
  return degrees ? degreeReference(x, y) : { system: '', degrees: false, x, y, metresX: 1, metresY: 1 }
}

function readHeader(bytes: Uint8Array, name: string): { header: Map<string, number>; at: number } {
  const header = new Map<string, number>()
  // A mark of byte order before the text means nothing here.
  let at = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0
  for (let line = 0; line < 12; line++) {
    let end = at
    while (end < bytes.length && bytes[end] !== 10 && bytes[end] !== 13) end++
    const text = String.fromCharCode(...bytes.subarray(at, Math.min(end, at + 200))).trim()
    const [key, value, ...rest] = text.split(/\s+/)
    const known = key !== undefined && KEYS.has(key.toLowerCase())
    if (!known) {
      if (text === '' && end < bytes.length) {
        at = end + 1
        continue
      }
      break
    }
    const word = key.toLowerCase()
    const number = word === 'nodata_value' && value && NO_DATA_WORDS.has(value.toLowerCase()) ? NaN : Number(value)
    if (rest.length > 0 || value === undefined || !(Number.isFinite(number) || (word === 'nodata_value' && NO_DATA_WORDS.has(value.toLowerCase()))))
      throw new ProblemError(`“${name}” has a header line that cannot be read: “${text.slice(0, 40)}”.`)
    header.set(word, number)
    while (end < bytes.length && (bytes[end] === 10 || bytes[end] === 13)) end++
    at = end
  }
  return { header, at }
}

function wholeOf(header: Map<string, number>, key: string, name: string): number {
  const value = header.get(key)
  if (value === undefined)
    throw new ProblemError(
      `“${name}” does not begin like an ESRI ASCII grid: ${key.toUpperCase()} is not in its header.`,
    )
  if (!Number.isInteger(value) || value < 0)
    throw new ProblemError(`“${name}” says ${key.toUpperCase()} is ${value}; it must be a whole number.`)
  return value
}

/** Yields the words from a byte on, one a call; null at the end. */
function numbers(bytes: Uint8Array, start: number): () => string | null {
  let at = start
  return () => {
    while (at < bytes.length && bytes[at] <= 32) at++
    if (at >= bytes.length) return null
    const from = at
    let word = ''
    while (at < bytes.length && bytes[at] > 32 && at - from < 64) word += String.fromCharCode(bytes[at++])
    while (at < bytes.length && bytes[at] > 32) at++
    return word
  }
}
