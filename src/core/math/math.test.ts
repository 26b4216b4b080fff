import fc from 'fast-check'
import { fractal2 } from './noise.ts'
import { atan, atan2, cos, sin, smoothstep } from './portable.ts'
import { draw, drawKey, mix, random } from './random.ts'

describe('portable trigonometry', () => {
  it('agrees with Math within its stated error', () => {
    fc.assert(
      fc.property(fc.double({ min: -1e5, max: 1e5, noNaN: true }), (x) => {
        const bound = 3e-16 + (1e-15 * Math.abs(x)) / Math.PI
        expect(Math.abs(sin(x) - Math.sin(x))).toBeLessThan(bound)
        expect(Math.abs(cos(x) - Math.cos(x))).toBeLessThan(bound)
        expect(Math.abs(atan(x) - Math.atan(x))).toBeLessThan(4e-16)
      }),
      { seed: 11, numRuns: 3000 },
    )
  })

  it('finds the angle of a vector in every quadrant', () => {
    for (const [x, y] of [[1, 2], [-1, 2], [-1, -2], [1, -2], [0, 1], [0, -1], [-1, 0], [1, 0], [0, 0]])
      expect(atan2(y, x)).toBeCloseTo(Math.atan2(y, x), 14)
  })

  it('steps smoothly from 0 to 1', () => {
    expect([smoothstep(-1), smoothstep(0), smoothstep(0.5), smoothstep(1), smoothstep(2)]).toEqual([0, 0, 0.5, 1, 1])
  })
})

describe('counter-based random numbers', () => {
  it('mixes as lowbias32 does (values worked out from its published definition)', () => {
    const published = (value: number) => {
      let x = BigInt(value)
      const m = 0xffffffffn
      x ^= x >> 16n
      x = (x * 0x7feb352dn) & m
      x ^= x >> 15n
      x = (x * 0x846ca68bn) & m
      return Number(x ^ (x >> 16n))
    }
    for (const value of [0, 1, 2, 0x7fffffff, 0x80000000, 0xffffffff, 123456789]) expect(mix(value)).toBe(published(value))
  })

  it('is uniform: χ² over 64 classes stays below the 99.9 % point in every channel', () => {
    // 63 degrees of freedom: 103.4 at p = 0.001; six channels tested, so one false alarm in about 170.
    for (let channel = 1; channel <= 6; channel++) {
      const counts = new Array(64).fill(0)
      for (let id = 0; id < 64000; id++) counts[Math.floor(random(5, id, 3, channel) * 64)]++
      const chi = counts.reduce((sum, n) => sum + (n - 1000) ** 2 / 1000, 0)
      expect(chi).toBeLessThan(110)
    }
  })

  it('keeps channels and neighbouring ids apart: correlations within 4 standard errors', () => {
    const n = 40000
    const correlation = (a: (i: number) => number, b: (i: number) => number) => {
      let sum = 0
      for (let i = 0; i < n; i++) sum += (a(i) - 0.5) * (b(i) - 0.5) * 12
      return Math.abs(sum / n)
    }
    const bound = 4 / Math.sqrt(n)
    expect(correlation((i) => random(1, i, 0, 1), (i) => random(1, i, 0, 2))).toBeLessThan(bound)
    expect(correlation((i) => random(1, i, 0, 1), (i) => random(1, i + 1, 0, 1))).toBeLessThan(bound)
    expect(correlation((i) => random(1, i, 0, 1), (i) => random(2, i, 0, 1))).toBeLessThan(bound)
    expect(correlation((i) => random(1, i, 0, 1), (i) => random(1, i, 1, 1))).toBeLessThan(bound)
  })

  it('gives the same through a key as directly', () => {
    expect(draw(drawKey(9, 8, 7), 6)).toBe(random(9, 8, 7, 6))
  })
})

describe('simplex noise', () => {
  it('keeps within ±1, with mean 0', () => {
    let sum = 0
    let most = 0
    const n = 60000
    for (let i = 0; i < n; i++) {
      const v = fractal2(3, i * 0.7371, i * 1.317, 1)
      sum += v
      most = Math.max(most, Math.abs(v))
    }
    expect(most).toBeLessThanOrEqual(1)
    expect(most).toBeGreaterThan(0.7)
    expect(Math.abs(sum / n)).toBeLessThan(0.01)
  })

  it('is continuous over lattice borders', () => {
    for (let i = 0; i < 4000; i++) {
      const x = i * 0.0137
      expect(Math.abs(fractal2(1, x, 0.3, 1) - fractal2(1, x + 1e-6, 0.3, 1))).toBeLessThan(1e-5)
    }
  })
})
