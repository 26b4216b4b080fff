import { ProblemError } from '../document/problem.ts'
import type { HeightReader } from './height-grid.ts'
import { checkSides } from './height-grid.ts'

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

/** Heights further than this from 0 are a damaged file or another unit, m. */
const MOST_HEIGHT = 12000

/** ESRI ASCII grid: header lines, then rows of numbers from the north. */
export const asciiHeights: HeightReader = {
  kind: 'ascii',
  label: 'ESRI ASCII grid',
  extensions: ['.asc', '.grd', '.txt'],
  maxBytes: 512 * 1024 * 1024,
  read(bytes, name) {
    const { header, at } = readHeader(bytes, name)
    const columns = wholeOf(header, 'ncols', name)
    const rows = wholeOf(header, 'nrows', name)
    checkSides(name, columns, rows)
    const cell = header.get('cellsize') ?? header.get('dx') ?? null
    if (cell !== null && !(cell > 0 && cell <= 100000))
      throw new ProblemError(`“${name}” gives a cell size of ${cell}; it must be above 0 and in metres.`)
    const noData = header.get('nodata_value') ?? -9999
    const values = new Float32Array(columns * rows)
    let missing = 0
    const next = numbers(bytes, at)
    for (let i = 0; i < values.length; i++) {
      const token = next()
      const place = () => `row ${Math.floor(i / columns) + 1}, column ${(i % columns) + 1}`
      if (token === null)
        throw new ProblemError(
          `“${name}” ends at ${place()}: ${columns} × ${rows} = ${columns * rows} heights are announced and ${i} are there; copy it again.`,
        )
      const value = Number(token)
      if (value === noData || token.toLowerCase() === 'nan') {
        values[i] = NaN
        missing++
      } else if (!Number.isFinite(value))
        throw new ProblemError(`“${name}” has “${token.slice(0, 20)}” where a height should be, at ${place()}.`)
      else if (Math.abs(value) > MOST_HEIGHT)
        throw new ProblemError(
          `“${name}” has a height of ${token.slice(0, 20)} m at ${place()}, which cannot be; check its unit and its NODATA_value.`,
        )
      else values[i] = value
    }
    if (next() !== null)
      throw new ProblemError(
        `“${name}” holds more heights than the ${columns} × ${rows} its header announces; correct NCOLS and NROWS.`,
      )
    if (missing === values.length)
      throw new ProblemError(`“${name}” has no data in any of its cells; check its NODATA_value.`)
    return { columns, rows, values, missing, metres: true, cell, form: 'ESRI ASCII grid' }
  },
}

function readHeader(bytes: Uint8Array, name: string): { header: Map<string, number>; at: number } {
  const header = new Map<string, number>()
  let at = 0
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
    const number = Number(value)
    if (rest.length > 0 || value === undefined || !Number.isFinite(number))
      throw new ProblemError(`“${name}” has a header line that cannot be read: “${text.slice(0, 40)}”.`)
    header.set(key.toLowerCase(), number)
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
