import jsep from 'jsep'
import type { Sites } from '../columns.ts'
import type { FormulaRange } from './formula-range.ts'
import { ANY_VALUE, BINARY_RANGES, FUNCTION_RANGES, rangeOfChoice, rangeOfNumber, UNARY_RANGES } from './formula-range.ts'
import { cos, exp, log, power, saturate, sin, smoothstep, DEGREE } from './portable.ts'

/**
 * Formulas over sites. jsep reads the text into a tree; this file knows which nodes there are and
 * works them out column by column with the portable functions, so that nothing is ever run as code
 * and every engine gives the same bits. Truth is 1, falsehood 0.
 */

/** Fills a column with a variable's value at every site. */
export type Variable = (sites: Sites, out: Float64Array) => void

export interface Formula {
  /** Names of the variables in use. */
  readonly uses: readonly string[]
  /** Works the formula out at all sites; values that are no finite number stay so. */
  run(sites: Sites, variables: Readonly<Record<string, Variable>>, out: Float64Array): void
  /** Between what its values lie where its variables lie between these. */
  range(variables: Readonly<Record<string, FormulaRange>>): FormulaRange
}

export type ReadFormula = { readonly formula: Formula } | { readonly problem: string }

const MOST_CHARACTERS = 500
const MOST_NODES = 200

type Node = jsep.Expression & Record<string, unknown>
type Slow = (...values: number[]) => number

const FUNCTIONS: Readonly<Record<string, { readonly takes: number; readonly of: Slow; readonly help: string }>> = {
  abs: { takes: 1, of: (a) => (a < 0 ? -a : a), help: 'abs(a): without its sign' },
  sqrt: { takes: 1, of: (a) => Math.sqrt(a), help: 'sqrt(a): square root' },
  exp: { takes: 1, of: exp, help: 'exp(a): e to the power a' },
  log: { takes: 1, of: log, help: 'log(a): natural logarithm' },
  sin: { takes: 1, of: (a) => sin(a * DEGREE), help: 'sin(a): sine of a in degrees' },
  cos: { takes: 1, of: (a) => cos(a * DEGREE), help: 'cos(a): cosine of a in degrees' },
  floor: { takes: 1, of: (a) => Math.floor(a), help: 'floor(a): the whole number below' },
  min: { takes: 2, of: (a, b) => (a < b ? a : b), help: 'min(a, b): the smaller' },
  max: { takes: 2, of: (a, b) => (a > b ? a : b), help: 'max(a, b): the larger' },
  mix: { takes: 3, of: (a, b, t) => a + (b - a) * t, help: 'mix(a, b, t): from a to b as t goes from 0 to 1' },
  ramp: {
    takes: 3,
    of: (low, high, a) => (high === low ? (a < low ? 0 : 1) : saturate((a - low) / (high - low))),
    help: 'ramp(low, high, a): 0 at low, 1 at high, straight between',
  },
  smooth: {
    takes: 3,
    of: (low, high, a) => (high === low ? (a < low ? 0 : 1) : smoothstep((a - low) / (high - low))),
    help: 'smooth(low, high, a): the same with a soft edge',
  },
}

/** What can be written, in words. */
export const FORMULA_HELP: readonly string[] = Object.values(FUNCTIONS).map(({ help }) => help)

const truth = (value: boolean) => (value ? 1 : 0)
const BINARY: Readonly<Record<string, (a: number, b: number) => number>> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  '/': (a, b) => a / b,
  '%': (a, b) => a - b * Math.floor(a / b),
  '^': power,
  '<': (a, b) => truth(a < b),
  '<=': (a, b) => truth(a <= b),
  '>': (a, b) => truth(a > b),
  '>=': (a, b) => truth(a >= b),
  '==': (a, b) => truth(a === b),
  '!=': (a, b) => truth(a !== b),
  '&&': (a, b) => truth(a !== 0 && b !== 0),
  '||': (a, b) => truth(a !== 0 || b !== 0),
}

class FormulaError extends Error {}

/** Reads a formula that may use the given variables; says in one sentence what is wrong with it. */
export function readFormula(text: string, variables: readonly string[]): ReadFormula {
  if (text.trim() === '') return { problem: 'The formula is empty; write one such as slope < 20.' }
  if (text.length > MOST_CHARACTERS)
    return { problem: `The formula has ${text.length} characters; at most ${MOST_CHARACTERS} can be read.` }
  try {
    const uses = new Set<string>()
    const { values: step, range } = compile(parse(text), variables, uses, { left: MOST_NODES })
    return {
      formula: {
        uses: [...uses],
        run(sites, given, out) {
          const values = step(sites, given, 0)
          for (let i = 0; i < sites.count; i++) out[i] = values[i]
        },
        range,
      },
    }
  } catch (error) {
    if (error instanceof FormulaError) return { problem: error.message }
    throw error
  }
}

// The caret is a power here, binding tighter than products and to the right.
jsep.removeBinaryOp('^')
jsep.addBinaryOp('^', 15, true)
for (const unknown of ['|', '&', '<<', '>>', '>>>', '===', '!==', '??', '**']) jsep.removeBinaryOp(unknown)
for (const unknown of ['~']) jsep.removeUnaryOp(unknown)

function parse(text: string): Node {
  try {
    return jsep(text) as Node
  } catch (error) {
    const { description, index } = error as { description?: string; index?: number }
    const place = typeof index === 'number' ? ` at character ${index + 1}` : ''
    throw new FormulaError(`The formula cannot be read${place}: ${(description ?? 'something is missing').toLowerCase()}.`)
  }
}

/** Gives the values of a part of the formula; `depth` counts the scratch columns that are taken. */
type Step = (sites: Sites, variables: Readonly<Record<string, Variable>>, depth: number) => Float64Array

/** A part of a formula: its values at sites, and between what they lie. */
interface Part {
  readonly values: Step
  readonly range: (variables: Readonly<Record<string, FormulaRange>>) => FormulaRange
}

const scratch: Float64Array[] = []

function columnAt(depth: number, count: number): Float64Array {
  if (!scratch[depth] || scratch[depth].length < count) scratch[depth] = new Float64Array(Math.max(8192, 2 * count))
  return scratch[depth]
}

function compile(node: Node, variables: readonly string[], uses: Set<string>, nodes: { left: number }): Part {
  if (nodes.left-- <= 0) throw new FormulaError(`The formula has more than ${MOST_NODES} parts; split it into two conditions.`)
  const part = (inner: unknown) => compile(inner as Node, variables, uses, nodes)
  switch (node.type) {
    case 'Literal': {
      const { value } = node
      if (typeof value !== 'number' && typeof value !== 'boolean')
        throw new FormulaError(`The formula holds the text ${JSON.stringify(String(value)).slice(0, 40)}; only numbers can be reckoned with.`)
      return {
        values: (sites, _given, depth) => columnAt(depth, sites.count).fill(Number(value), 0, sites.count),
        range: () => rangeOfNumber(Number(value)),
      }
    }
    case 'Identifier': {
      const name = String(node.name)
      if (!variables.includes(name))
        throw new FormulaError(`The formula names “${name.slice(0, 40)}”, which is not known; there are ${variables.join(', ')}.`)
      uses.add(name)
      return {
        values(sites, given, depth) {
          const out = columnAt(depth, sites.count)
          given[name](sites, out)
          return out
        },
        range: (given) => given[name] ?? ANY_VALUE,
      }
    }
    case 'UnaryExpression': {
      const of = part(node.argument)
      const sign = node.operator === '-' ? -1 : 1
      const not = node.operator === '!'
      const ranges = UNARY_RANGES[String(node.operator)]
      return {
        values(sites, given, depth) {
          const values = of.values(sites, given, depth)
          for (let i = 0; i < sites.count; i++) values[i] = not ? truth(values[i] === 0) : sign * values[i]
          return values
        },
        range: (given) => ranges(of.range(given)),
      }
    }
    case 'BinaryExpression': {
      const combine = BINARY[String(node.operator)]
      if (!combine) throw new FormulaError(`The formula uses “${String(node.operator)}”, which is not known here.`)
      const [left, right] = [part(node.left), part(node.right)]
      const ranges = BINARY_RANGES[String(node.operator)]
      return {
        values(sites, given, depth) {
          const a = left.values(sites, given, depth)
          const b = right.values(sites, given, depth + 1)
          for (let i = 0; i < sites.count; i++) a[i] = combine(a[i], b[i])
          return a
        },
        range: (given) => ranges(left.range(given), right.range(given)),
      }
    }
    case 'ConditionalExpression': {
      const [test, yes, no] = [part(node.test), part(node.consequent), part(node.alternate)]
      return {
        values(sites, given, depth) {
          const t = test.values(sites, given, depth)
          const a = yes.values(sites, given, depth + 1)
          const b = no.values(sites, given, depth + 2)
          for (let i = 0; i < sites.count; i++) t[i] = t[i] !== 0 ? a[i] : b[i]
          return t
        },
        range: (given) => rangeOfChoice(test.range(given), yes.range(given), no.range(given)),
      }
    }
    case 'CallExpression':
      return compileCall(node, part)
    default:
      throw new FormulaError('The formula holds something that is neither a number, a name, a sum nor a function; separate parts with + − * / only.')
  }
}

function compileCall(node: Node, part: (inner: unknown) => Part): Part {
  const callee = node.callee as Node
  const name = callee.type === 'Identifier' ? String(callee.name) : ''
  const known = Object.hasOwn(FUNCTIONS, name) ? FUNCTIONS[name] : undefined
  if (!known) throw new FormulaError(`The formula calls “${name.slice(0, 40) || 'something'}”, which is no function here; there are ${Object.keys(FUNCTIONS).join(', ')}.`)
  const inner = node.arguments as unknown[]
  if (inner.length !== known.takes)
    throw new FormulaError(`${name} takes ${known.takes} ${known.takes === 1 ? 'value' : 'values'}, and ${inner.length} are given.`)
  const parts = inner.map(part)
  const { of } = known
  const ranges = FUNCTION_RANGES[name]
  return {
    values(sites, given, depth) {
      const columns = parts.map(({ values }, i) => values(sites, given, depth + i))
      const [a, b = a, c = a] = columns
      for (let i = 0; i < sites.count; i++) a[i] = of(a[i], b[i], c[i])
      return a
    },
    range: (given) => ranges(...parts.map(({ range }) => range(given))),
  }
}
