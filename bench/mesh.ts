import { BufferAttribute, BufferGeometry, Mesh, MeshBasicMaterial, Vector3 } from 'three'
import { MeshSurfaceSampler } from 'three/addons/math/MeshSurfaceSampler.js'
import { mixAssets, preparePlanting } from '../src/core/grow.ts'
import type { MeshShape } from '../src/core/grounds/mesh-shape.ts'
import { treeOf } from '../src/core/grounds/mesh-tree.ts'
import { createSolid } from '../src/core/grounds/solid.ts'
import { createTerrain } from '../src/core/grounds/terrain.ts'
import { fractal2 } from '../src/core/math/noise.ts'
import type { PlacedMesh, Planting } from '../src/core/meadow.ts'
import { areaSums } from '../src/core/stages/candidates/surface.ts'
import { MESH } from '../src/core/things/mesh.ts'
import { benchAssets, benchPlanting } from './scene.ts'

/** How long something takes, s. */
export const seconds = (work: () => void): number => {
  const start = performance.now()
  work()
  return (performance.now() - start) / 1000
}

/** A ball pushed about by noise, of about so many triangles. */
export function lump(triangles: number, radius: number): MeshShape {
  const rings = Math.round(Math.sqrt(triangles / 4))
  const around = 2 * rings
  const positions = new Float32Array(3 * (rings + 1) * around)
  for (let r = 0; r <= rings; r++)
    for (let a = 0; a < around; a++) {
      const [theta, phi] = [(Math.PI * r) / rings, (2 * Math.PI * a) / around]
      const d = [Math.sin(theta) * Math.cos(phi), Math.cos(theta), Math.sin(theta) * Math.sin(phi)]
      const size = radius * (1 + 0.15 * fractal2(7, 2 * d[0] + d[2], 2 * d[1] - d[2], 3))
      positions.set(d.map((v) => v * size), 3 * (r * around + a))
    }
  const indices: number[] = []
  for (let r = 0; r < rings; r++)
    for (let a = 0; a < around; a++) {
      const [p, q, s, t] = [r * around + a, r * around + ((a + 1) % around), (r + 1) * around + a, (r + 1) * around + ((a + 1) % around)]
      if (r > 0) indices.push(p, q, s)
      if (r < rings - 1) indices.push(q, t, s)
    }
  return { positions, indices: Uint32Array.from(indices) }
}

export interface MeshRate {
  /** Triangles of the mesh. */
  readonly triangles: number
  /** Finished instances a second when evenly spaced: the first time, and once the order of the mesh is there. */
  readonly first: number
  readonly even: number
  /** The same seated by the whole base: the others are seated by its centre, which asks the mesh nothing more. */
  readonly seated: number
  /** Finished instances a second at random. */
  readonly random: number
  /** Bare points a second of three's sampler, which keeps no distance. */
  readonly sampler: number
  /** The last three against the sampler, compared within each round. */
  readonly firstVsSampler: number
  readonly evenVsSampler: number
  readonly randomVsSampler: number
}

const COUNT = 100_000

/** All over a mesh of a million triangles: some 100,000 finished instances (turned, leaning, following), against bare points of three's sampler, made ready to sample beforehand. */
export function measureMesh(rounds: number): MeshRate {
  const shape = lump(1_000_000, 20)
  const sums = areaSums(shape)
  const area = sums[sums.length - 1]
  const placed: PlacedMesh = { id: 'lump', name: 'Lump', role: 'ground', blob: '', shape: '', triangles: 0, visible: true, locked: false, position: [0, 0, 0], turn: [0, 0, 0], size: 1 }
  const things = new Map([[MESH.kind, new Map([[placed.id, createSolid(placed, shape, treeOf)]])]])
  const terrain = createTerrain(new Float32Array(4), 2, 2, 100, 100)
  const assets = benchAssets([0])
  const base = benchPlanting(assets)
  const grow = (params: Planting['params'], seed = 1) => {
    const planting: Planting = { ...base, seed, grounds: [placed.id], habitat: [], params: { ...base.params, fill: 'all-over', ...params } }
    let count = 0
    const took = seconds(() => {
      const prepared = preparePlanting(planting, mixAssets(planting, assets), { terrain, waterLevel: -1000, things })
      const result = prepared.grow({ plot: 0, rect: prepared.plots[0].bounds }, null, 1)
      if ('block' in result) count = result.block.count
    })
    return count / took
  }
  const geometry = new BufferGeometry()
  geometry.setAttribute('position', new BufferAttribute(shape.positions, 3))
  geometry.setIndex(new BufferAttribute(shape.indices, 1))
  const sampler = new MeshSurfaceSampler(new Mesh(geometry, new MeshBasicMaterial())).build()
  const target = new Vector3()
  const sample = () => COUNT / seconds(() => { for (let i = 0; i < COUNT; i++) sampler.sample(target) })
  const spacing = Math.sqrt((0.6 * area) / COUNT)
  // The tree is built, and all has been compiled, before anything is measured.
  grow({ by: 'spacing', spacing: 4 * spacing })
  grow({ by: 'density', density: 0.1 * (COUNT / area), placing: 'random' })
  sample()
  const rates = { first: [] as number[], even: [] as number[], seated: [] as number[], random: [] as number[], sampler: [] as number[] }
  for (let round = 0; round < rounds; round++) {
    // Another throw has another order, which is made once; then a hair wider, as when its number is dragged.
    const grown = (wider: number, seat = 'centre') => grow({ by: 'spacing', spacing: spacing * wider, seat }, 100 + round)
    rates.first.push(grown(1))
    rates.even.push(grown(1.005))
    rates.seated.push(grown(1.005, 'base'))
    rates.random.push(grow({ by: 'density', density: COUNT / area, placing: 'random', seat: 'centre' }))
    rates.sampler.push(sample())
  }
  const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]
  const against = (own: readonly number[]) => median(own.map((rate, round) => rate / rates.sampler[round]))
  return {
    triangles: shape.indices.length / 3,
    first: median(rates.first),
    even: median(rates.even),
    seated: median(rates.seated),
    random: median(rates.random),
    sampler: median(rates.sampler),
    firstVsSampler: against(rates.first),
    evenVsSampler: against(rates.even),
    randomVsSampler: against(rates.random),
  }
}
