import type { Kernels } from './kernel-set.ts'
import { compiledKernels } from './kernels.ts'
import { plainKernels } from './plain.ts'
import { mix } from '../math/random.ts'

const dice = (n: number) => mix(n) / 4294967296
/** Rows that both are given, and where they begin. */
const ROWS = 512
const COLUMNS = 28
const [BASE, OUTLINE, NOISE] = [65536, 4096, 8192]
const STRIDE = 4 * ROWS

/** Writes the same numbers into the memory of some kernels, at places that the compiled ones leave free; runs them; gives what they leave. */
function runOn(kernels: Kernels, fill: (floats: Float32Array, whole: Int32Array, doubles: Float64Array) => void, run: (kernels: Kernels, from: number) => void): Uint32Array {
  // The compiled ones keep what they need at the beginning.
  const from = 262144
  const short = from + BASE + COLUMNS * STRIDE - kernels.memory.buffer.byteLength
  if (short > 0) kernels.memory.grow(Math.ceil(short / 65536))
  const { buffer } = kernels.memory
  const length = BASE + COLUMNS * STRIDE
  new Uint8Array(buffer, from, length).fill(0)
  fill(new Float32Array(buffer, from, length / 4), new Int32Array(buffer, from, length / 4), new Float64Array(buffer, from, length / 8))
  run(kernels, from)
  return new Uint32Array(buffer.slice(from, from + length))
}

function expectAlike(fill: Parameters<typeof runOn>[1], run: Parameters<typeof runOn>[2]): Uint32Array {
  const compiled = runOn(compiledKernels(), fill, run)
  expect(runOn(plainKernels(), fill, run)).toEqual(compiled)
  return compiled
}

/** Rows with everything in them that the kernels read. */
function rows(seed: number, rough: number): Parameters<typeof runOn>[1] {
  return (floats, whole) => {
    const at = (column: number, k: number) => (BASE + column * STRIDE) / 4 + k
    for (let k = 0; k < ROWS; k++) {
      const d = (n: number) => dice(seed + 64 * k + n)
      whole[at(0, k)] = mix(seed + k) | 0
      floats[at(1, k)] = k % 3 === 0 ? 0 : d(1) - 0.5
      floats[at(2, k)] = k % 5 === 0 ? 0 : d(2) - 0.5
      floats[at(3, k)] = 20 * d(3)
      const normal = k === 7 ? [0, 1, 0] : k === 8 ? [0, -1, 0] : [d(4) - 0.5, d(5) - (k % 11 === 0 ? 0.9 : 0.1), d(6) - 0.5]
      normal.forEach((value, c) => (floats[at(4 + c, k)] = value))
      floats[at(11, k)] = 0.3 + d(7)
      const around = (BASE + 17 * STRIDE) / 4 + (k >> 2) * 44 + (k & 3)
      floats[around] = k % 17 === 0 ? 0 : d(8) - 0.5
      floats[around + 4] = k % 19 === 0 ? 0 : d(9) - 0.5
      for (let n = 2; n < 11; n++) floats[around + 4 * n] = 20 + rough * (d(10 + n) - 0.5)
    }
    for (const [n, value] of [-0.5, -0.3, 0.4, -0.45, 0.6, 0.1, 0.2, 0.55, -0.4, 0.4].entries()) floats[OUTLINE / 4 + n] = value
  }
}

describe('the kernels without WebAssembly give the same bits', () => {
  it.each([[1, 0.05], [77, 0.4], [-5, 3.1]])('of noise, seed %d, scale %d, near and far away', (seed, scale) => {
    const COUNT = 400
    const places = (from: number) => [from + NOISE, from + NOISE + 8 * ROWS] as const
    const fill: Parameters<typeof runOn>[1] =
      (_floats, _whole, doubles) => {
        for (let k = 0; k < COUNT; k++) {
          const far = k % 4 === 0 ? 1e6 : k % 4 === 1 ? 100 : 3
          doubles[NOISE / 8 + k] = far * (dice(seed + 2 * k) - 0.5)
          doubles[NOISE / 8 + ROWS + k] = far * (dice(seed + 2 * k + 1) - 0.5)
        }
      }
    const out = (NOISE + 16 * ROWS) / 8
    const found = (done: Uint32Array) => new Set(new Float64Array(done.buffer).subarray(out, out + COUNT)).size
    expect(found(expectAlike(fill, (kernels, from) => kernels.fractal(seed, 3, COUNT, ...places(from), scale, 1.7e-9, from + 8 * out)))).toBeGreaterThan(0.9 * COUNT)
    expect(found(expectAlike(fill, (kernels, from) => kernels.patches(seed, 3, COUNT, ...places(from), scale, 4.6e-8, 0.05, 2.5, from + 8 * out)))).toBeGreaterThan(0.15 * COUNT)
  })

  it('of landing', () => {
    expectAlike(rows(400, 2), (kernels, from) => kernels.land(ROWS, from + BASE, STRIDE, 0.8, 1.3))
  })

  it.each([
    ['only turned', [0, 3.1, 0, 0, 0, 0, 0, 0, 0]],
    ['leaning any way', [-0.6, 2.2, 0.05, 0.3, 1, 0, 0, 0, 0]],
    ['leaning with the wind, half following', [0, 3.1, 0.02, 0.6, 1, 1, 0.6, -0.8, 0.25]],
    ['following all the way', [-40, 80, 0, 0, 0, 0, 0, 0, 0.5]],
  ] as const)('of rotations: %s', (_what, [turnLow, turnRange, leanLow, leanRange, leans, windy, windX, windZ, halfFollow]) => {
    expectAlike(rows(900, 2), (kernels, from) => kernels.rotate(ROWS, from + BASE, STRIDE, turnLow, turnRange, leanLow, leanRange, leans, windy, windX, windZ, halfFollow))
  })

  it.each([0.1, 0.6, 1.6])('of seating, bases of %d cells and more', (perCell) => {
    const done = expectAlike(rows(1700, 1.5), (kernels, from) => {
      kernels.land(ROWS, from + BASE, STRIDE, perCell, perCell * 1.1)
      kernels.rotate(ROWS, from + BASE, STRIDE, 0, 3.1, 0, 0.1, 1, 0, 0, 0, 0.3)
      kernels.seat(0, ROWS, from + BASE, STRIDE, 5, from + OUTLINE, 0.62, perCell, perCell * 1.1)
    })
    const sinks = new Float32Array(done.buffer).subarray((BASE + 12 * STRIDE) / 4, (BASE + 12 * STRIDE) / 4 + ROWS)
    if (perCell < 1) expect(sinks.filter((sink) => sink > 0).length).toBeGreaterThan(100)
    else expect(sinks.filter((sink) => sink !== sink).length).toBeGreaterThan(100)
  })
})
