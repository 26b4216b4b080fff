import { evenPattern, evenScaleOfDensity, evenScaleOfSpacing, floorLog2, powerOfTwo } from './even-pattern.ts'

const pattern = evenPattern()

describe('the even pattern', () => {
  it('states the true least distance of its prefixes (all pairs, with wrap-around)', () => {
    for (const n of [2, 50, 400, 2048]) {
      let best = Infinity
      for (let i = 0; i < n; i++)
        for (let j = 0; j < i; j++) {
          let dx = Math.abs(pattern.x[i] - pattern.x[j])
          let dz = Math.abs(pattern.z[i] - pattern.z[j])
          dx = Math.min(dx, 1 - dx)
          dz = Math.min(dz, 1 - dz)
          best = Math.min(best, dx * dx + dz * dz)
        }
      expect(pattern.leastDistance[n]).toBeCloseTo(Math.sqrt(best), 12)
    }
  })

  it('fills at least 0.62 points per spacing² with every prefix of its last octave', () => {
    let least = Infinity
    for (let n = pattern.count / 4; n <= pattern.count; n++) least = Math.min(least, n * pattern.leastDistance[n] ** 2)
    expect(least).toBeGreaterThan(0.62)
  })

  it('holds every point in its bucket once, lowest first', () => {
    const seen = new Set(pattern.bucketPoints)
    expect(seen.size).toBe(pattern.count)
    for (let b = 0; b + 1 < pattern.bucketStart.length; b++)
      for (let k = pattern.bucketStart[b] + 1; k < pattern.bucketStart[b + 1]; k++)
        if (pattern.bucketPoints[k] <= pattern.bucketPoints[k - 1]) throw new Error(`bucket ${b} is out of order`)
  })

  it('is blue: radially averaged power below 0.2 under half the principal frequency', () => {
    for (const n of [2048, 8192]) {
      // The principal frequency of spacing-limited points is near the root of their number (Ulichney 1988).
      const principal = Math.sqrt(n)
      const half = Math.floor(principal / 2)
      let total = 0
      let modes = 0
      for (let u = -half; u <= half; u++)
        for (let v = 0; v <= half; v++) {
          const r = Math.hypot(u, v)
          if (r < 1 || r > half || (u * 7 + v * 13) % 11 !== 0) continue
          let re = 0
          let im = 0
          for (let i = 0; i < n; i++) {
            const phase = 2 * Math.PI * (u * pattern.x[i] + v * pattern.z[i])
            re += Math.cos(phase)
            im += Math.sin(phase)
          }
          total += (re * re + im * im) / n
          modes++
        }
      expect(modes).toBeGreaterThan(60)
      expect(total / modes).toBeLessThan(0.2)
    }
  })

  it('serves any spacing with a prefix of its last octave', () => {
    for (const spacing of [0.02, 0.3, 0.8, 1, 1.37, 5, 99, 500]) {
      const { octave, prefix } = evenScaleOfSpacing(spacing)
      const period = powerOfTwo(octave)
      expect(pattern.leastDistance[prefix] * period).toBeGreaterThanOrEqual(spacing)
      expect((prefix / period ** 2) * spacing ** 2).toBeGreaterThan(0.62)
      expect(prefix).toBeGreaterThan(pattern.count / 4.1)
    }
  })

  it('serves any density just', () => {
    for (const density of [1e-6, 0.04, 0.9, 1, 17, 1999]) {
      const { octave, prefix } = evenScaleOfDensity(density)
      expect(prefix / powerOfTwo(octave) ** 2).toBeCloseTo(density, 9)
      expect(prefix).toBeLessThanOrEqual(pattern.count)
      expect(prefix).toBeGreaterThan(pattern.count / 4 - 1)
    }
  })

  it('takes whole logarithms as Math does', () => {
    for (const v of [0.001, 0.5, 0.75, 1, 1.99, 2, 1000]) expect(floorLog2(v)).toBe(Math.floor(Math.log2(v)))
  })
})
