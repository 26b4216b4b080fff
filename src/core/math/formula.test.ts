import { createSites } from '../columns.ts'
import { readFormula } from './formula.ts'
import { exp, log, power } from './portable.ts'

/** A formula's value where x and y have given values. */
function valueOf(text: string, x = 0, y = 0): number {
  const read = readFormula(text, ['x', 'y'])
  if ('problem' in read) throw new Error(read.problem)
  const sites = createSites(1)
  sites.count = 1
  const out = new Float64Array(1)
  read.formula.run(sites, { x: (_s, column) => column.fill(x), y: (_s, column) => column.fill(y) }, out)
  return out[0]
}

const problemOf = (text: string): string => {
  const read = readFormula(text, ['x', 'y'])
  return 'problem' in read ? read.problem : ''
}

describe('formulas', () => {
  it.each([
    ['1 + 2 * 3', 7],
    ['(1 + 2) * 3', 9],
    ['2 ^ 3 ^ 2', 512],
    ['-2 ^ 2', 4],
    ['7 % 3 - -7 % 3', -1],
    ['1 < 2 == 2 > 1', 1],
    ['!0 + !5', 1],
    ['1 ? 2 : 3', 2],
    ['min(3, max(1, 2))', 2],
    ['mix(10, 20, 0.25)', 12.5],
    ['smooth(0, 2, 1)', 0.5],
    ['sqrt(abs(-16))', 4],
  ])('%s is %d', (text, value) => expect(valueOf(text)).toBeCloseTo(value, 12))

  it('parts do not disturb each other, however deep', () => {
    expect(valueOf('(x + y) * (x - y) + (x * y - (x + (y - (x + y))))', 3, 5)).toBe((3 + 5) * (3 - 5) + (15 - (3 + (5 - 8))))
  })

  it.each([
    ['', 'The formula is empty'],
    ['1 +', 'cannot be read at character'],
    ['slope < 20', '“slope”, which is not known; there are x, y'],
    ['alert(1)', '“alert”, which is no function here'],
    ['constructor(1)', '“constructor”, which is no function here'],
    ['x.y', 'neither a number'],
    ['[1, 2]', 'neither a number'],
    ['"text"', 'only numbers'],
    ['x = 3', 'cannot be read'],
    ['min(1)', 'min takes 2 values, and 1 are given'],
    ['1 2', 'neither a number'],
    ['x'.repeat(600), '600 characters'],
    [Array.from({ length: 150 }, () => '1').join('+'), 'more than 200 parts'],
  ])('%s is refused in one sentence', (text, sentence) => expect(problemOf(text)).toContain(sentence))
})

describe('portable powers', () => {
  it('exp and log are within 3e-16 of Math’s', () => {
    for (let k = -3000; k <= 3000; k++) {
      const x = k * 0.217
      expect(Math.abs(exp(x) - Math.exp(x))).toBeLessThanOrEqual(4.5e-16 * Math.exp(x))
      const y = Math.exp(k * 0.2)
      expect(Math.abs(log(y) - Math.log(y))).toBeLessThanOrEqual(4.5e-16 * Math.max(1, Math.abs(Math.log(y))))
    }
    expect([exp(-Infinity), exp(1e9), log(0), log(Infinity)]).toEqual([0, Infinity, -Infinity, Infinity])
    expect(log(-1)).toBeNaN()
  })

  it('whole powers are products, others by logarithm', () => {
    expect(power(3, 5)).toBe(243)
    expect(power(-2, -3)).toBe(-0.125)
    expect(power(2.5, 0.7)).toBeCloseTo(2.5 ** 0.7, 14)
  })
})
