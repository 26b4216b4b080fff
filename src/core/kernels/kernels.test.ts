import fc from 'fast-check'
import { hilly, slowNormal, terrainOf } from '../../testing/fields.ts'
import { createSites } from '../columns.ts'
import { createBase, gatherHeights, sinkBases, sinkOfBase } from '../grounds/footprint.ts'
import type { Terrain } from '../grounds/terrain.ts'
import { heightAt } from '../grounds/terrain.ts'
import { fractalColumn, octaveSeed } from '../math/noise.ts'
import { smoothstep } from '../math/portable.ts'
import { CHANNEL, draw, mix } from '../math/random.ts'
import type { Angles, StanceStage } from './kernels.ts'
import { NOISE_BATCH, noiseStage, runLand, runPatches, runRotate, stanceStage } from './kernels.ts'

type Vector = [number, number, number]
type Quaternion = [number, number, number, number]

const about = ([x, y, z]: Vector, angle: number): Quaternion => {
  const s = Math.sin(angle / 2)
  return [x * s, y * s, z * s, Math.cos(angle / 2)]
}

const times = ([ax, ay, az, aw]: Quaternion, [bx, by, bz, bw]: Quaternion): Quaternion => [
  aw * bx + ax * bw + ay * bz - az * by,
  aw * by - ax * bz + ay * bw + az * bx,
  aw * bz + ax * by - ay * bx + az * bw,
  aw * bw - ax * bx - ay * by - az * bz,
]

/** Align · lean · turn in doubles, by the textbook; angles are halves. */
function slowRotation(key: number, [nx, ny, nz]: Vector, a: Angles, turnBy: number, leanBy: number): Quaternion {
  const turn = about([0, 1, 0], 2 * (a.turnLow + a.turnRange * draw(key, CHANNEL.turn) + turnBy))
  const side = 2 * Math.PI * draw(key, CHANNEL.leanToward)
  const { x, z } = a.wind ?? { x: Math.sin(side), z: Math.cos(side) }
  const lean = 2 * Math.min(Math.max(a.leanLow + a.leanRange * draw(key, CHANNEL.lean) + leanBy, 0), (40 * Math.PI) / 180)
  const leaning = times(a.leans ? about([z, 0, -x], lean) : [0, 0, 0, 1], turn)
  const away = Math.hypot(nx, nz)
  const axis: Vector = away > 0 ? [nz / away, 0, -nx / away] : [1, 0, 0]
  return times(about(axis, 2 * a.halfFollow * Math.atan2(away, ny)), leaning)
}

/** Rows of keys, normals and driven angles that `fill` writes. */
function staged(count: number, normal: (k: number) => Vector, by: (k: number) => readonly [number, number]): StanceStage {
  const stage = stanceStage(count)
  for (let k = 0; k < count; k++) {
    stage.draws[k] = mix(k + 1)
    ;[stage.normalX[k], stage.normalY[k], stage.normalZ[k]] = normal(k)
    ;[stage.turnBy[k], stage.leanBy[k]] = by(k)
  }
  return stage
}

const share = (k: number, of: number) => mix(k * 31 + of) / 4294967296
const anyWay = (k: number): Vector => {
  if (k === 0) return [0, -1, 0]
  if (k === 1) return [0, 1, 0]
  const y = 2 * share(k, 1) - 1
  const turn = 2 * Math.PI * share(k, 2)
  return [Math.sqrt(1 - y * y) * Math.cos(turn), y, Math.sqrt(1 - y * y) * Math.sin(turn)]
}

describe('rotations', () => {
  const COUNT = 2001
  const angles: Angles = { turnLow: -3, turnRange: 6, leanLow: 0.05, leanRange: 0.6, leans: true, wind: null, halfFollow: 0.5 }
  it.each([
    ['turned and leaning any way, all over a mesh', angles],
    ['leaning with the wind, half following', { ...angles, wind: { x: 0.6, z: -0.8 }, halfFollow: 0.25 }],
    ['upright, only turned', { ...angles, leans: false, halfFollow: 0 }],
    ['following only', { ...angles, turnRange: 0, leans: false }],
  ])('%s: as the product of quaternions in doubles', (_, a) => {
    const by = (k: number) => [4 * share(k, 3) - 2, 0.4 * share(k, 4) - 0.2] as const
    const stage = staged(COUNT, anyWay, by)
    runRotate(stage, COUNT, a)
    let worst = 0
    for (let k = 0; k < COUNT; k++) {
      const wanted = slowRotation(stage.draws[k], anyWay(k), a, ...by(k))
      wanted.forEach((v, c) => (worst = Math.max(worst, Math.abs(v - stage.rotation[4 * k + c]))))
    }
    expect(worst).toBeLessThan(2e-6)
  })
})

describe('landing', () => {
  const terrains: [string, Terrain][] = [
    ['hills', hilly(40, 21)],
    ['a ground of one cell', terrainOf((x, z) => 3 * x - z + 2 * x * z, 2, 2)],
    ['a ground of two by two', terrainOf((x, z) => x * x - z, 4, 3)],
  ]
  it.each(terrains)('finds height and normal of the triangle there, up to the rim: %s', (_, t) => {
    const COUNT = 997
    const sites = createSites(COUNT)
    for (let k = 0; k < COUNT; k++) {
      sites.x[k] = (share(k, 5) - 0.5) * t.sizeX
      sites.z[k] = (share(k, 6) - 0.5) * t.sizeZ
    }
    const stage = stanceStage(COUNT)
    gatherHeights(t, sites, Uint32Array.from({ length: COUNT }, (_, k) => k), stage)
    runLand(stage, COUNT, t.perX, t.perZ)
    for (let k = 0; k < COUNT; k++) {
      const [x, z] = [sites.x[k], sites.z[k]]
      expect(Math.abs(stage.height[k] - heightAt(t, x, z))).toBeLessThan(2e-6)
      const wanted = slowNormal(t, x, z)
      expect(Math.abs(stage.normalX[k] - wanted[0])).toBeLessThan(1e-5)
      expect(stage.normalY[k]).toBe(1)
      expect(Math.abs(stage.normalZ[k] - wanted[2])).toBeLessThan(1e-5)
    }
  })
})

describe('sinking bases', () => {
  const COUNT = 1500
  // Rough ground, on which bases reach over ridges; and two bases in one go, neither a whole group of four.
  const t = terrainOf((x, z) => 2 * Math.sin(x / 3) * Math.cos(z / 4) + 0.3 * Math.sin(2.1 * x + 1.7 * z), 60, 61)
  const bases = [
    [-0.15, 0.1, 0.05, 0.2, 0.2, 0.02, 0.1, -0.16, -0.1, -0.12],
    [-0.5, 0.3, 0.5, 0.3, 0.5, -0.3, -0.5, -0.3],
  ].map(createBase)

  it('is the exact least, one base at a time in doubles', () => {
    const sites = createSites(COUNT)
    const size = new Float64Array(COUNT)
    const pick = new Uint16Array(COUNT)
    for (let k = 0; k < COUNT; k++) {
      sites.x[k] = (share(k, 7) - 0.5) * 58
      sites.z[k] = (share(k, 8) - 0.5) * 58
      size[k] = 0.5 + share(k, 9)
      pick[k] = k < 701 ? 0 : 1
    }
    const order = Uint32Array.from({ length: COUNT }, (_, k) => k)
    const stage = staged(COUNT, () => [0, 1, 0], () => [0, 0])
    gatherHeights(t, sites, order, stage)
    runLand(stage, COUNT, t.perX, t.perZ)
    runRotate(stage, COUNT, { turnLow: 0, turnRange: 3, leanLow: 0, leanRange: 0.2, leans: true, wind: null, halfFollow: 0.3 })
    stage.size.set(size)
    sinkBases(t, sites, order, pick, bases, stage)
    const x = new Float64Array(8)
    const z = new Float64Array(8)
    let worst = 0
    for (let k = 0; k < COUNT; k++) {
      const { corners, outline } = bases[pick[k]]
      const [qx, qy, qz, qw] = stage.rotation.slice(4 * k, 4 * k + 4)
      const [ux, uy, uz] = [2 * (qx * qy - qw * qz), 1 - 2 * (qx * qx + qz * qz), 2 * (qy * qz + qw * qx)]
      for (let n = 0; n < corners; n++) {
        const [bx, bz] = [size[k] * outline[2 * n], size[k] * outline[2 * n + 1]]
        x[n] = sites.x[k] + (1 - 2 * (qy * qy + qz * qz)) * bx + 2 * (qx * qz + qw * qy) * bz
        z[n] = sites.z[k] + 2 * (qx * qz - qw * qy) * bx + (1 - 2 * (qx * qx + qy * qy)) * bz
      }
      const plane = Float64Array.of(heightAt(t, sites.x[k], sites.z[k]) + (ux * sites.x[k] + uz * sites.z[k]) / uy, -ux / uy, -uz / uy)
      const wanted = sinkOfBase(t, x, z, corners, plane)
      worst = Math.max(worst, Math.abs(Math.max(0, stage.sink[k]) - Math.max(0, wanted)))
    }
    expect(worst).toBeLessThan(5e-6)
  })
})

describe('simplex noise of the kernel', () => {
  const DIRECTIONS = [[127, 0], [117, 49], [90, 90], [49, 117], [0, 127], [-49, 117], [-90, 90], [-117, 49], [-127, 0], [-117, -49], [-90, -90], [-49, -117], [0, -127], [49, -117], [90, -90], [117, -49]]
  const [F, G] = [(Math.sqrt(3) - 1) / 2, (3 - Math.sqrt(3)) / 6]

  /** Gustavson's listing in doubles. */
  function slowSimplex(seed: number, x: number, z: number): number {
    const s = (x + z) * F
    const [i, j] = [Math.floor(x + s), Math.floor(z + s)]
    const [x0, z0] = [x - i + (i + j) * G, z - j + (i + j) * G]
    const [di, dj] = x0 >= z0 ? [1, 0] : [0, 1]
    const part = (a: number, b: number, px: number, pz: number) => {
      const r = 0.5 - px * px - pz * pz
      if (r <= 0) return 0
      const [gx, gz] = DIRECTIONS[mix((Math.imul(i + a, 0x27d4eb2f) ^ Math.imul(j + b, 0x165667b1) ^ seed) | 0) & 15]
      return (r ** 4 * (gx * px + gz * pz)) / 127
    }
    return 98.9 * (part(0, 0, x0, z0) + part(di, dj, x0 - di + G, z0 - dj + G) + part(1, 1, x0 - 1 + 2 * G, z0 - 1 + 2 * G))
  }

  it('equals the published one, near and far away', () => {
    fc.assert(
      fc.property(fc.integer(), fc.double({ min: -5e4, max: 5e4, noNaN: true }), fc.double({ min: -5e4, max: 5e4, noNaN: true }), (seed, x, z) => {
        const out = new Float64Array(3)
        const octaves = 1 + (seed & 3)
        fractalColumn(seed, Float64Array.of(x, z, 0.1), Float64Array.of(z, x, -0.2), 3, 0.7, octaves, out)
        const slow = (px: number, pz: number) => Array.from({ length: octaves }, (_, o) => 0.5 ** o * slowSimplex(octaveSeed(seed, o), 0.7 * 2 ** o * px, 0.7 * 2 ** o * pz)).reduce((a, b) => a + b)
        expect(out[0]).toBeCloseTo(slow(x, z), 5)
        expect(out[1]).toBeCloseTo(slow(z, x), 5)
        expect(out[2]).toBeCloseTo(slow(0.1, -0.2), 5)
      }),
      { seed: 5, numRuns: 2000 },
    )
  })

  it('weighs patches just as the whole sum does, though octaves that decide nothing are left out', () => {
    const COUNT = NOISE_BATCH
    const [x, z] = [1, 2].map((of) => Float64Array.from({ length: COUNT }, (_, k) => 60 * share(k >> 3, of) + 0.4 * share(k, of + 2)))
    const seen = { none: 0, all: 0, part: 0 }
    for (const octaves of [1, 2, 3, 4])
      for (const [middle, ramp] of [[0.1, 0.24], [-0.3, 1e-6], [0.5, 0.6], [0, 1e-6], [Infinity, 0.2], [-Infinity, 0.2]]) {
        const sum = new Float64Array(COUNT)
        const per = 0.5 / ramp
        fractalColumn(9, x, z, COUNT, 0.31, octaves, sum)
        const stage = noiseStage()
        stage.x.set(x)
        stage.z.set(z)
        runPatches(9, octaves, COUNT, 0.31, middle, per)
        const weights = Array.from(stage.out)
        expect(weights).toEqual(Array.from(sum, (v) => smoothstep((v - middle) * per + 0.5)))
        for (const weight of weights) seen[weight === 0 ? 'none' : weight === 1 ? 'all' : 'part']++
      }
    expect(Math.min(seen.none, seen.all, seen.part)).toBeGreaterThan(2 * COUNT)
  })
})
