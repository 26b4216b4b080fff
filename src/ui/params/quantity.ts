import type { Unit } from '../../core/kinds.ts'
import { shortened } from '../../core/limits.ts'

/** Numbers with units, as people type and read them. No text is ever evaluated as code. */

interface Word {
  readonly names: readonly string[]
  /** Factor to the unit's own measure. */
  readonly factor: number
}

const LENGTHS: readonly Word[] = [
  { names: ['mm'], factor: 0.001 },
  { names: ['cm'], factor: 0.01 },
  { names: ['m'], factor: 1 },
  { names: ['km'], factor: 1000 },
  { names: ['in', '"', '″'], factor: 0.0254 },
  { names: ['ft', "'", '′'], factor: 0.3048 },
  { names: ['yd'], factor: 0.9144 },
]

const WORDS: Record<Unit, readonly Word[]> = {
  m: LENGTHS,
  deg: [
    { names: ['°', 'deg', 'degrees'], factor: 1 },
    { names: ['rad'], factor: 180 / Math.PI },
    { names: ['turn', 'turns'], factor: 360 },
  ],
  share: [{ names: ['%', 'percent'], factor: 1 }],
  count: [
    { names: ['k'], factor: 1000 },
    { names: ['million', 'M'], factor: 1000000 },
  ],
  'per-m2': [
    { names: ['perm²', '/m²', '/m2', 'perm2'], factor: 1 },
    { names: ['/ha', 'perha'], factor: 0.0001 },
    { names: ['/100m²', '/100m2'], factor: 0.01 },
  ],
  index: [],
  factor: [{ names: ['×', 'x'], factor: 1 }, { names: ['%'], factor: 0.01 }],
  parts: [{ names: ['%', 'parts', 'part'], factor: 1 }],
}

/** What a number of each unit is, and how one is written, for those who typed another sort. */
const SORTS: Record<Unit, { readonly is: string; readonly such: string }> = {
  m: { is: 'a length', such: '1.5 m, 150 cm or 5 ft' },
  deg: { is: 'an angle', such: '30° or 0.5 turn' },
  share: { is: 'a share', such: '30 %' },
  count: { is: 'a count', such: '250 or 2k' },
  'per-m2': { is: 'a density', such: '0.5 or 100/ha' },
  index: { is: 'a number', such: '3' },
  factor: { is: 'a factor', such: '1.5 or 150 %' },
  parts: { is: 'a number of parts', such: '3 or 60' },
}

/** Shares are stored 0…1 and shown in per cent. */
const SHOWN: Record<Unit, { readonly factor: number; readonly suffix: string }> = {
  m: { factor: 1, suffix: ' m' },
  deg: { factor: 1, suffix: '°' },
  share: { factor: 100, suffix: ' %' },
  count: { factor: 1, suffix: '' },
  'per-m2': { factor: 1, suffix: ' per m²' },
  factor: { factor: 1, suffix: '' },
  index: { factor: 1, suffix: '' },
  parts: { factor: 1, suffix: '' },
}

/** A value in its unit: "0.8 m", "30 %", "18°". */
export function showQuantity(value: number, unit: Unit): string {
  return showNumber(value, unit) + SHOWN[unit].suffix
}

/** The number alone, in the shown measure. */
export function showNumber(value: number, unit: Unit): string {
  const shown = value * SHOWN[unit].factor
  if (unit === 'count') return Math.round(shown).toLocaleString('en')
  return String(Number(shown.toPrecision(Math.abs(shown) >= 1000 ? 7 : 4))).replace('-', '−')
}

export function unitSuffix(unit: Unit): string {
  return SHOWN[unit].suffix
}

/** Blanks of any sort, those that hold numbers together too. */
const BLANKS = /[\s\u00a0\u2007\u202f]/g

/**
 * The decimal points and thousands of what was typed, made plain: 1 500, 1,500,000 and 1,5 are read as they are
 * meant. Null where a comma could mean either and the unit does not tell.
 */
function plainNumbers(text: string, unit: Unit): string | null {
  const joined = text.replace(/(\d)[\s\u00a0\u2007\u202f](?=\d{3}(?!\d))/g, '$1')
  if (/\d[\s\u00a0\u2007\u202f]+[\d.,]/.test(joined)) return null
  let unsure = false
  const plain = joined.replace(/\d+(?:,\d+)+(?:\.\d+)?/g, (number) => {
    const commas = number.split(',').length - 1
    const grouped = /^\d{1,3}(?:,\d{3})+(?:\.\d+)?$/.test(number)
    if (grouped && (commas > 1 || number.includes('.') || unit === 'count')) return number.replaceAll(',', '')
    // "1,500" alone is fifteen hundred to some and one and a half to others.
    if (grouped || commas > 1 || number.includes('.')) unsure = true
    return number.replace(',', '.')
  })
  return unsure ? null : plain.replace(BLANKS, '').replaceAll('−', '-').replaceAll('·', '*')
}

/**
 * Reads what was typed, in the unit of the field: a number with or without a unit, or arithmetic
 * with + − × ÷ and brackets ("150cm", "4 ft", "2*0.85", "1,5"). Null when it cannot be read.
 */
export function readQuantity(text: string, unit: Unit): number | null {
  const source = plainNumbers(text, unit) ?? ''
  if (source === '') return null
  let at = 0
  const words = WORDS[unit]
    .flatMap((word) => word.names.map((name) => ({ name, factor: word.factor })))
    .sort((a, b) => b.name.length - a.name.length)

  /** A sum; null as soon as anything is amiss. */
  function sum(depth: number): number | null {
    let value = product(depth)
    while (value !== null && (source[at] === '+' || source[at] === '-')) {
      const sign = source[at++] === '+' ? 1 : -1
      const next = product(depth)
      value = next === null ? null : value + sign * next
    }
    return value
  }
  function product(depth: number): number | null {
    let value = atom(depth)
    while (value !== null && /[*/÷]/.test(source[at] ?? '') && !wordAt()) {
      const times = source[at++] === '*'
      const next = atom(depth)
      value = next === null ? null : times ? value * next : value / next
    }
    return value
  }
  function wordAt() {
    return words.find(({ name }) => source.startsWith(name, at))
  }
  function atom(depth: number): number | null {
    if (depth > 20) return null
    if (source[at] === '-') {
      at++
      const value = atom(depth + 1)
      return value === null ? null : -value
    }
    let value: number | null
    if (source[at] === '(') {
      at++
      value = sum(depth + 1)
      if (source[at++] !== ')') return null
    } else {
      const number = /^(\d+\.?\d*|\.\d+)(e[+-]?\d+)?/i.exec(source.slice(at, at + 40))
      if (!number) return null
      at += number[0].length
      value = Number(number[0])
    }
    const word = wordAt()
    if (word && value !== null) {
      at += word.name.length
      value *= word.factor
    }
    return value
  }

  const value = sum(0)
  if (value === null || at !== source.length || !Number.isFinite(value)) return null
  return value / SHOWN[unit].factor
}

/** A text whose numbers stay on one line with their units. */
export function unbroken(text: string): string {
  return text.replace(/(\d) (?=(?:m|m²|km|%)(?![\p{L}\d]))/gu, '$1\u00a0')
}

/** Letters of what was typed that are said again. */
const LONGEST = 24

export interface Bounds {
  readonly min: number
  readonly max: number
}

/** What a field takes of what was typed, or why it takes nothing of it. */
export function takeQuantity(text: string, unit: Unit, { min, max }: Bounds): { readonly value: number } | { readonly problem: string } {
  const { is, such } = SORTS[unit]
  const said = `“${shortened(text, LONGEST)}”`
  const value = readQuantity(text, unit)
  if (value === null) {
    if (text.trim() === '') return { problem: `Empty; ${is} is wanted, such as ${such}.` }
    if (/^\d{1,3},\d{3}$/.test(text.trim().replace(/[^\d,]+$/, ''))) return { problem: `${said} may be a thousand or a decimal; write it without the comma.` }
    const other = (Object.keys(SORTS) as Unit[]).find((one) => one !== unit && WORDS[one].length > 0 && readQuantity(text, one) !== null)
    return { problem: `${said} is ${other ? SORTS[other].is : 'no number'}; ${is} is wanted, such as ${such}.` }
  }
  if (unit === 'count' && !Number.isInteger(value)) return { problem: `${said} is no whole number.` }
  if (value < min) return { problem: `${said} is below the least, ${showQuantity(min, unit)}.` }
  if (value > max) return { problem: `${said} is above the most, ${showQuantity(max, unit)}.` }
  return { value }
}
