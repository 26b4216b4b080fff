import fc from 'fast-check'
import { enlargeSites } from '../columns.ts'
import { loopKernels, stanceStage } from '../kernels/kernels.ts'
import { mix } from '../math/random.ts'
import type { BlockRows } from '../stance/stance.ts'
import { createArena, fitArena } from './arena.ts'
import { plainRows } from './block-rows.ts'
import type { Becoming } from './kernel-rows.ts'
import { kernelRows } from './kernel-rows.ts'

const dice = (k: number) => mix(k) / 4294967296

/** An arena of sites with something in every column, of which every so manieth stays. */
function becoming(seed: number, count: number, classes: number, every: number, crowded: boolean, driven: boolean): Becoming {
  const arena = createArena()
  const { sites } = arena
  while (sites.capacity < count) enlargeSites(sites, 0)
  fitArena(arena)
  sites.count = count
  for (let i = 0; i < count; i++) {
    const d = (n: number) => dice(seed + 16 * i + n)
    sites.x[i] = 900 * (d(0) - 0.5)
    sites.z[i] = 900 * (d(1) - 0.5)
    sites.addressLow[i] = mix(seed + i)
    sites.addressHigh[i] = mix(i) >>> 3
    sites.draws[i] = mix(seed ^ i) | 0
    arena.key[i] = crowded ? Math.floor(8 * d(2)) / 8 : d(2)
    arena.pick[i] = Math.floor(classes * d(3))
    arena.size[i] = 0.5 + d(4)
    arena.girth[i] = 0.5 + d(5)
    arena.radius[i] = d(6)
  }
  return {
    arena,
    stay: Uint32Array.from({ length: count }, (_, i) => i).filter((i) => i % every === 0),
    naming: { a: mix(seed + 1), b: mix(seed + 2), c: mix(seed + 3) },
    assetNumbers: Array.from({ length: classes }, (_, a) => 3 * a + 1),
    driven: driven ? { height: Float64Array.from({ length: count }, (_, i) => 1 + dice(i)), tint: Uint32Array.from({ length: count }, (_, i) => mix(i)) } : null,
  }
}

/** The block that rows give when the stage says of each where and how it stands by its draw key; and what was laid out and told of them. */
function finished(rows: BlockRows) {
  const count = rows.order.length
  const stage = stanceStage(count)
  rows.lay(stage)
  for (let k = 0; k < count; k++) {
    stage.height[k] = 40 * dice(stage.draws[k])
    stage.sink[k] = dice(stage.draws[k] + 1) - 0.3
    for (let c = 0; c < 4; c++) stage.rotation[4 * k + c] = dice(stage.draws[k] + 2 + c)
  }
  const laid = `${stage.draws.subarray(0, count)} ${stage.size.subarray(0, count)}`
  rows.write(stage)
  // As texts, which are compared at once.
  const seats = rows.order.map((i) => rows.seat[i]).join()
  return { count, laid, seats, order: rows.order.join(), bytes: Buffer.from(rows.block().buffer).toString('base64') }
}

describe('rows of a block made by the kernels', () => {
  it('are those made without, to the byte', () => {
    let many = 0
    fc.assert(
      fc.property(fc.nat(), fc.integer({ min: 1, max: 3000 }), fc.integer({ min: 1, max: 4 }), fc.integer({ min: 1, max: 3 }), fc.boolean(), (seed, count, classes, every, driven) => {
        const given = becoming(seed, count, classes, every, false, driven)
        const rows = kernelRows(given)
        if (!rows) throw new Error('the kernels do not take it')
        const ours = finished(rows)
        expect(ours).toEqual(finished(plainRows(given)))
        if (ours.count > 500) many++
      }),
      { seed: 20261126, numRuns: 60 },
    )
    expect(many).toBeGreaterThan(20)
  })

  it('are left to the plain loop where keys crowd, where there is nothing, and beyond so many', () => {
    expect(loopKernels).not.toBeNull()
    expect(kernelRows(becoming(1, 3000, 1, 1, true, false))).toBeNull()
    expect(kernelRows(becoming(1, 10, 1, 11, false, false))?.order.length).toBe(1)
    expect(kernelRows({ ...becoming(1, 10, 1, 1, false, false), stay: new Uint32Array(0) })).toBeNull()
    expect(kernelRows(becoming(1, 65537, 1, 1, false, false))).toBeNull()
  })
})
