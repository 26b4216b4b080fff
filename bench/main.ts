import { cpus } from 'node:os'
import { fileURLToPath } from 'node:url'
import { Worker } from 'node:worker_threads'
import PoissonDiskSampling from 'poisson-disk-sampling'
import { mixAssets, preparePlanting } from '../src/core/grow.ts'
import { tileRect, tilesOver } from '../src/core/stages/tiles.ts'
import type { Rect } from '../src/core/grounds/terrain.ts'
import { bareSurroundings } from '../src/core/surroundings.ts'
import { makeDemo } from '../src/demo/demo-meadow.ts'
import { measureEdits } from './edits.ts'
import { measureFiles } from './files.ts'
import { measureHand } from './hand.ts'
import { measureOrder } from './order.ts'
import { measureMesh } from './mesh.ts'
import { makeRealMeadow } from './real.ts'
import { measureWhere } from './where.ts'
import { measureMeadow } from './whole-meadow.ts'
import { benchAssets, benchHeights, benchPlanting, benchTerrain, SIZE, SPACING } from './scene.ts'

/** Rounds of every measurement. What is compared takes turns, and is compared within each round, as the machine's speed wanders. */
const ROUNDS = 9
const json = process.argv.includes('--json')
const say = (text: string) => {
  if (!json) console.log(text)
}

const heights = benchHeights()
const terrain = benchTerrain(heights)

/** Grows a rectangle; returns finished instances and seconds. */
function grow(rooms: readonly number[], area: Rect): { count: number; seconds: number } {
  const assets = benchAssets(rooms)
  const planting = benchPlanting(assets)
  const prepared = preparePlanting(planting, mixAssets(planting, assets), bareSurroundings(terrain, -1000))
  const start = performance.now()
  let count = 0
  for (const tile of tilesOver(area, prepared.plots[0].tileSide)) {
    const result = prepared.grow({ plot: 0, rect: tileRect(prepared.plots[0].tileSide, tile) }, null, 1)
    if ('block' in result) count += result.block.count
  }
  return { count, seconds: (performance.now() - start) / 1000 }
}

/** The package fills the same spacing, bare points, on the same area. */
function fillPackage(side: number): { count: number; seconds: number } {
  let state = 1
  const random = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return state / 4294967296
  }
  const start = performance.now()
  const count = new PoissonDiskSampling({ shape: [side, side], minDistance: SPACING }, random).fill().length
  return { count, seconds: (performance.now() - start) / 1000 }
}

const rate = ({ count, seconds }: { count: number; seconds: number }) => count / seconds
const square = (side: number): Rect => ({ x0: -side / 2, z0: -side / 2, x1: side / 2, z1: side / 2 })
const whole = terrain.bounds
const MIXED = [0.3, 0.6, 1.4]
const PACKAGE_SIDE = 640

grow([0.1], whole)
grow(MIXED, square(1024))
fillPackage(200)
const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]
const even: number[] = []
const mixed: number[] = []
const bare: number[] = []
for (let round = 0; round < ROUNDS; round++) {
  even.push(rate(grow([0.1], whole)))
  bare.push(rate(fillPackage(PACKAGE_SIDE)))
  mixed.push(rate(grow(MIXED, square(1024))))
}
const evenVsPackage = median(even.map((own, round) => own / bare[round]))
const mixedVsPackage = median(mixed.map((own, round) => own / bare[round]))
say(`machine: ${cpus()[0]?.model ?? 'unknown'}, ${cpus().length} cores, Node ${process.version}`)
say(`terrain ${terrain.columns} × ${terrain.rows} over ${SIZE} m, spacing ${SPACING} m, one core, the median of ${ROUNDS} rounds`)
say(`even spread, finished instances   ${Math.round(median(even)).toLocaleString('en')} a second`)
say(`mixed rooms, finished instances   ${Math.round(median(mixed)).toLocaleString('en')} a second`)
say(`poisson-disk-sampling, bare points ${Math.round(median(bare)).toLocaleString('en')} a second`)
say(`even against the package   ${evenVsPackage.toFixed(1)} ×`)
say(`mixed against the package  ${mixedVsPackage.toFixed(1)} ×`)

// The same density on growing areas: 10⁴ … 10⁶ instances.
const sides = [192, 640, 2048]
// The small ones as often as makes up for their size.
const perInstance: number[][] = sides.map(() => [])
for (let round = 0; round < ROUNDS; round++)
  sides.forEach((side, i) => {
    let all = 0
    let took = 0
    for (let k = 0; k < (sides[sides.length - 1] / side) ** 2; k++) {
      const { count, seconds } = grow([0.1], square(side))
      all += count
      took += seconds
    }
    perInstance[i].push(took / all)
  })
const means = perInstance[0].map((_, round) => perInstance.reduce((sum, times) => sum + times[round], 0) / sides.length)
const linearity = Math.max(...perInstance.map((times) => Math.abs(median(times.map((t, round) => t / means[round])) - 1)))
sides.forEach((side, i) => say(`${side} m square: ${(median(perInstance[i]) * 1e9).toFixed(0)} ns an instance`))
say(`largest deviation from linear ${(100 * linearity).toFixed(1)} %`)

/** Workers that grow the whole scene together, or each all of it by itself; a round of it tells the seconds. */
function workersOf(many: number, together = true): { round: () => Promise<number>; end: () => Promise<unknown> } {
  const script = fileURLToPath(new URL('./worker.js', import.meta.url))
  const workers = Array.from({ length: many }, () => new Worker(script))
  return {
    async round() {
      const start = performance.now()
      await Promise.all(
        workers.map(
          (worker, part) =>
            new Promise<number>((resolve) => {
              worker.once('message', resolve)
              worker.postMessage(together ? { part, of: many } : { part: 0, of: 1 })
            }),
        ),
      )
      return (performance.now() - start) / 1000
    },
    end: () => Promise.all(workers.map((worker) => worker.terminate())),
  }
}

// Two that have nothing to do with each other tell what the machine gives two: its cores share a cache and memory.
const [one, two, apart] = [workersOf(1), workersOf(2), workersOf(2, false)]
const gains: number[] = []
const possible: number[] = []
for (let round = -2; round < ROUNDS; round++) {
  const alone = await one.round()
  const gain = alone / (await two.round())
  const both = (2 * alone) / (await apart.round())
  // The first rounds start the workers and let them learn.
  if (round < 0) continue
  gains.push(gain)
  possible.push(both)
}
await Promise.all([one, two, apart].map((workers) => workers.end()))
const twoWorkers = median(gains)
const twoApart = median(possible)
say(`two workers against one ${twoWorkers.toFixed(2)} ×; two that each grow all of it for themselves ${twoApart.toFixed(2)} ×`)

const bareRate = () => rate(fillPackage(PACKAGE_SIDE))
const demo = await measureMeadow(await makeDemo(), ROUNDS, bareRate)
const real = await measureMeadow(await makeRealMeadow(), ROUNDS, bareRate)
for (const [name, one] of [['the demo', demo], ['hills of 8 km with eight plantings in bands', real]] as const)
  say(`${name}, ${one.count.toLocaleString('en')} finished instances, one core, warm  ${Math.round(one.perSecond).toLocaleString('en')} a second, ${one.vsPackage.toFixed(2)} × the package; the first time ${one.cold.toFixed(1)} s`)
const mesh = measureMesh(ROUNDS)
say(`all over ${mesh.triangles.toLocaleString('en')} triangles, finished instances a second: even ${Math.round(mesh.even).toLocaleString('en')} (the first time, when its order is made, ${Math.round(mesh.first).toLocaleString('en')}; seated by the whole base ${Math.round(mesh.seated).toLocaleString('en')}), at random ${Math.round(mesh.random).toLocaleString('en')}`)
say(`  MeshSurfaceSampler, bare points that keep no distance ${Math.round(mesh.sampler).toLocaleString('en')}: even ${mesh.evenVsSampler.toFixed(2)} × (the first time ${mesh.firstVsSampler.toFixed(2)} ×), at random ${mesh.randomVsSampler.toFixed(2)} ×`)
if (!json) await measureEdits(say)
if (!json) await measureHand(say)
if (!json) measureOrder(say)
if (!json) await measureWhere(say, terrain, heights)
if (!json) await measureFiles(say)
if (json)
  console.log(
    JSON.stringify({
      evenVsPackage,
      mixedVsPackage,
      linearity,
      twoWorkers,
      twoApart,
      demoPerSecond: demo.perSecond,
      demoVsPackage: demo.vsPackage,
      realPerSecond: real.perSecond,
      realVsPackage: real.vsPackage,
      meshEvenVsSampler: mesh.evenVsSampler,
      meshEvenFirstVsSampler: mesh.firstVsSampler,
      meshRandomVsSampler: mesh.randomVsSampler,
    }),
  )
