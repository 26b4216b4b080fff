import { exp, log, saturate, smoothstep } from './portable.ts'

/** What a part of a formula can be: between `low` and `high`, or, unless it is `sure`, no finite number at all. */
export interface FormulaRange {
  readonly low: number
  readonly high: number
  readonly sure: boolean
}

/** Nothing is known. */
export const ANY_VALUE: FormulaRange = { low: -Infinity, high: Infinity, sure: false }

/** A range of finite numbers; where an end is none, nothing is known. */
function ranging(low: number, high: number): FormulaRange {
  return Number.isFinite(low) && Number.isFinite(high) ? { low, high, sure: true } : ANY_VALUE
}

/** The range of one number. */
export function rangeOfNumber(value: number): FormulaRange {
  return ranging(value, value)
}

const ZERO = rangeOfNumber(0)
const ONE = rangeOfNumber(1)
const EITHER = ranging(0, 1)

type Combine = (...of: FormulaRange[]) => FormulaRange

/** An operation that nothing is known of unless all that it takes is sure. */
const sureOnly = (of: Combine): Combine => (...values) => (values.every(({ sure }) => sure) ? of(...values) : ANY_VALUE)

// Sums, products, quotients and roots are rounded in one way, so that the ends of a range bound them just so.
const add: Combine = (a, b) => ranging(a.low + b.low, a.high + b.high)
const subtract: Combine = (a, b) => ranging(a.low - b.high, a.high - b.low)
function corners(a: FormulaRange, b: FormulaRange, of: (a: number, b: number) => number): FormulaRange {
  const values = [of(a.low, b.low), of(a.low, b.high), of(a.high, b.low), of(a.high, b.high)]
  return values.some(Number.isNaN) ? ANY_VALUE : ranging(Math.min(...values), Math.max(...values))
}
const multiply: Combine = (a, b) => corners(a, b, (p, q) => p * q)
const divide: Combine = (a, b) => (b.low > 0 || b.high < 0 ? corners(a, b, (p, q) => p / q) : ANY_VALUE)

/** A function that grows with its value, and rounds in its own way: a hair is added to either side. */
const growing = (of: (value: number) => number): Combine => (a) => {
  const [low, high] = [of(a.low), of(a.high)]
  return ranging(low - 1e-9 * (1 + Math.abs(low)), high + 1e-9 * (1 + Math.abs(high)))
}

const lessThan = (a: FormulaRange, b: FormulaRange) => (a.high < b.low ? ONE : a.low >= b.high ? ZERO : EITHER)
const atMost = (a: FormulaRange, b: FormulaRange) => (a.high <= b.low ? ONE : a.low > b.high ? ZERO : EITHER)
const isZero = ({ low, high }: FormulaRange) => low === 0 && high === 0
const isNotZero = ({ low, high }: FormulaRange) => low > 0 || high < 0
const equal = (a: FormulaRange, b: FormulaRange) => (a.high < b.low || b.high < a.low ? ZERO : a.low === a.high && b.low === b.high ? ONE : EITHER)
const not = (a: FormulaRange) => (isZero(a) ? ONE : isNotZero(a) ? ZERO : EITHER)

/** An answer that is 0 or 1, whatever it is asked of. */
const truth = (of: Combine): Combine => (...values) => (values.every(({ sure }) => sure) ? of(...values) : EITHER)

/** Ramps between two numbers that are known. */
const between = (shape: (t: number) => number): Combine => (low, high, a) => {
  if (low.low !== low.high || high.low !== high.high || low.low === high.low) return EITHER
  const t = divide(subtract(a, low), subtract(high, low))
  if (!t.sure) return EITHER
  const [from, to] = [shape(t.low), shape(t.high)]
  // Where it has come to an end it is just that.
  return ranging(from === 0 || from === 1 ? from : Math.max(0, from - 1e-12), to === 0 || to === 1 ? to : Math.min(1, to + 1e-12))
}

/** Ranges of what two parts make, by their operators. */
export const BINARY_RANGES: Readonly<Record<string, Combine>> = {
  '+': sureOnly(add),
  '-': sureOnly(subtract),
  '*': sureOnly(multiply),
  '/': sureOnly(divide),
  '%': sureOnly((_a, b) => (b.low === b.high && b.low > 0 ? ranging(-1e-9 * b.low, b.low * (1 + 1e-9)) : ANY_VALUE)),
  '^': () => ANY_VALUE,
  '<': truth(lessThan),
  '<=': truth(atMost),
  '>': truth((a, b) => lessThan(b, a)),
  '>=': truth((a, b) => atMost(b, a)),
  '==': truth(equal),
  '!=': truth((a, b) => not(equal(a, b))),
  '&&': truth((a, b) => (isZero(a) || isZero(b) ? ZERO : isNotZero(a) && isNotZero(b) ? ONE : EITHER)),
  '||': truth((a, b) => (isNotZero(a) || isNotZero(b) ? ONE : isZero(a) && isZero(b) ? ZERO : EITHER)),
}

/** Ranges of what a sign makes of a part. */
export const UNARY_RANGES: Readonly<Record<string, Combine>> = {
  '-': sureOnly((a) => ranging(-a.high, -a.low)),
  '+': (a) => a,
  '!': truth(not),
}

/** The range of one of two parts, by a third. */
export function rangeOfChoice(test: FormulaRange, yes: FormulaRange, no: FormulaRange): FormulaRange {
  if (test.sure && isNotZero(test)) return yes
  if (test.sure && isZero(test)) return no
  return { low: Math.min(yes.low, no.low), high: Math.max(yes.high, no.high), sure: yes.sure && no.sure }
}

/** Ranges of functions, by their names. */
export const FUNCTION_RANGES: Readonly<Record<string, Combine>> = {
  abs: sureOnly((a) => (a.low >= 0 ? a : a.high <= 0 ? ranging(-a.high, -a.low) : ranging(0, Math.max(-a.low, a.high)))),
  sqrt: sureOnly((a) => (a.low >= 0 ? ranging(Math.sqrt(a.low), Math.sqrt(a.high)) : ANY_VALUE)),
  exp: sureOnly(growing(exp)),
  log: sureOnly((a) => (a.low > 0 ? growing(log)(a) : ANY_VALUE)),
  sin: sureOnly(() => ranging(-1 - 1e-9, 1 + 1e-9)),
  cos: sureOnly(() => ranging(-1 - 1e-9, 1 + 1e-9)),
  floor: sureOnly((a) => ranging(Math.floor(a.low), Math.floor(a.high))),
  min: sureOnly((a, b) => ranging(Math.min(a.low, b.low), Math.min(a.high, b.high))),
  max: sureOnly((a, b) => ranging(Math.max(a.low, b.low), Math.max(a.high, b.high))),
  mix: sureOnly((a, b, t) => {
    const by = multiply(subtract(b, a), t)
    return by.sure ? add(a, by) : ANY_VALUE
  }),
  ramp: sureOnly(between(saturate)),
  smooth: sureOnly(between(smoothstep)),
}
