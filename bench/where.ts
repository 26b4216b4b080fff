import { BufferAttribute, BufferGeometry, Vector3 } from 'three'
import { MeshBVH } from 'three-mesh-bvh'
import { mixAssets, preparePlanting } from '../src/core/grow.ts'
import { tileRect, tilesOver } from '../src/core/stages/tiles.ts'
import { treeOf } from '../src/core/grounds/mesh-tree.ts'
import { createSolid } from '../src/core/grounds/solid.ts'
import type { Terrain } from '../src/core/grounds/terrain.ts'
import { defaultsOf } from '../src/core/kinds.ts'
import type { ParamValue } from '../src/core/kinds.ts'
import { CONDITIONS } from '../src/core/fields/conditions/index.ts'
import { DRIVERS } from '../src/core/fields/drivers/index.ts'
import { fractal2 } from '../src/core/math/noise.ts'
import { mix } from '../src/core/math/random.ts'
import type { Beacon, Meadow, PlacedMesh, Planting } from '../src/core/meadow.ts'
import { createLineIndex } from '../src/core/outlines/distance.ts'
import { MESH } from '../src/core/things/mesh.ts'
import { heightsToBytes } from '../src/document/blobs.ts'
import { newBeacon, newMeadow } from '../src/document/new-planting.ts'
import { createGrower } from '../src/growth/grower.ts'
import { partsAmong } from '../src/growth/run-meadow.ts'
import { createShares } from '../src/growth/shares.ts'
import { createInlinePool } from '../src/runner/inline-pool.ts'
import { lump, seconds } from './mesh.ts'
import { benchAssets, benchPlanting } from './scene.ts'

/** Measurements of what says where things grow. */

type Say = (text: string) => void

const unit = (n: number) => mix(n) / 4294967296

/** A winding closed line of so many points. */
function coast(points: number): number[] {
  return Array.from({ length: points }, (_, i) => {
    const angle = (2 * Math.PI * i) / points
    const r = 300 + 80 * fractal2(3, 4 * Math.cos(angle), 4 * Math.sin(angle), 5)
    return [r * Math.cos(angle), r * Math.sin(angle)]
  }).flat()
}

/** Signed distance of a million sites to an outline of 10,000 points, against a plain loop and a tree of triangles. */
function outlineLines(say: Say): void {
  const line = coast(10000)
  const SITES = 1_000_000
  const LOOPED = 2000
  const x = Float64Array.from({ length: SITES }, (_, i) => 1000 * (unit(2 * i) - 0.5))
  const z = Float64Array.from({ length: SITES }, (_, i) => 1000 * (unit(2 * i + 1) - 0.5))
  const out = new Float64Array(SITES)
  const index = createLineIndex([line], true)
  const ours = seconds(() => index.distances(x, z, SITES, true, Infinity, out))
  let worst = 0
  const loop = seconds(() => {
    for (let i = 0; i < LOOPED; i++) worst = Math.max(worst, Math.abs(loopDistance(line, x[i], z[i]) - out[i]))
  })
  const geometry = new BufferGeometry()
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from({ length: (3 * line.length) / 2 }, (_, i) => (i % 3 === 1 ? 0 : line[2 * Math.floor(i / 3) + (i % 3 === 2 ? 1 : 0)])), 3))
  const n = line.length / 2
  geometry.setIndex(Array.from({ length: n }, (_, i) => [i, (i + 1) % n, (i + 1) % n]).flat())
  const bvh = new MeshBVH(geometry)
  const point = new Vector3()
  const LIBRARY = 50_000
  const library = seconds(() => {
    for (let i = 0; i < LIBRARY; i++) bvh.closestPointToPoint(point.set(x[i], 0, z[i]))
  })
  say(`outline of 10,000 points, signed: ${Math.round(SITES / ours).toLocaleString('en')} sites a second`)
  say(`  against a loop over all pieces ${((loop / LOOPED) * (SITES / ours)).toFixed(0)} ×, largest difference ${worst.toExponential(1)} m`)
  say(`  against three-mesh-bvh, unsigned ${((library / LIBRARY) * (SITES / ours)).toFixed(1)} ×`)
}

/** Signed distance by looking at every piece. */
function loopDistance(line: readonly number[], x: number, z: number): number {
  let best = Infinity
  let inside = false
  for (let i = 0; i < line.length; i += 2) {
    const [ax, az, bx, bz] = [line[i], line[i + 1], line[(i + 2) % line.length], line[(i + 3) % line.length]]
    const [ex, ez] = [bx - ax, bz - az]
    const t = Math.max(0, Math.min(1, ((x - ax) * ex + (z - az) * ez) / (ex * ex + ez * ez)))
    best = Math.min(best, Math.hypot(ax + t * ex - x, az + t * ez - z))
    if (az > z !== bz > z && x < (ex * (z - az)) / ez + ax) inside = !inside
  }
  return inside ? -best : best
}

const use = (kind: string, params: Record<string, ParamValue>) => ({
  id: kind,
  kind,
  on: true,
  invert: false,
  params: { ...defaultsOf(CONDITIONS.get(kind).params), ...params },
})

/** The same planting without and with an obstacle of 100,000 triangles. */
function obstacleLines(say: Say, terrain: Terrain): void {
  const placed: PlacedMesh = { id: 'lump', name: 'Lump', role: 'obstacle', blob: '', shape: '', triangles: 0, visible: true, locked: false, position: [0, 5, 0], turn: [0, 0, 0], size: 1 }
  const solid = createSolid(placed, lump(100_000, 30), treeOf)
  const assets = benchAssets([0.1])
  const grow = (planting: Planting) => {
    const prepared = preparePlanting(planting, mixAssets(planting, assets), { terrain, waterLevel: -1000, things: new Map([[MESH.kind, new Map([[placed.id, solid]])]]) })
    const side = prepared.plots[0].tileSide
    return seconds(() => {
      for (const tile of tilesOver({ x0: -320, z0: -320, x1: 320, z1: 320 }, side)) prepared.grow({ plot: 0, rect: tileRect(side, tile) }, null, 1)
    })
  }
  const plain = benchPlanting(assets)
  const kept: Planting = { ...plain, habitat: [...plain.habitat, use('obstacle', { mesh: 'lump' })] }
  grow(plain)
  grow(kept)
  say(`an obstacle of 100,000 triangles in 640 m × 640 m: ${(grow(kept) / grow(plain)).toFixed(2)} × the time`)
}

/** One beacon moved in a meadow of half a million instances. */
async function beaconLines(say: Say, terrain: Terrain, heights: Float32Array<ArrayBuffer>): Promise<void> {
  const assets = benchAssets([0.1])
  const beacon = newBeacon({ id: 'beacon', name: 'Beacon', colour: '#ffffff', x: 100, z: 50, reach: 60 })
  const driver = { id: 'driver', kind: 'beacon', on: true, params: { ...defaultsOf(DRIVERS.get('beacon').params), beacon: 'beacon' }, target: 'size' as const, over: { from: 0, to: 1 }, curve: [0, 0, 1, 1], low: 1, high: 2 }
  const planting = benchPlanting(assets)
  const base = newMeadow('Bench', 'ground', { samples: terrain.columns, size: terrain.sizeX })
  const meadow: Meadow = { ...base, water: { shown: false, level: -1000 }, assets, beacons: [beacon], plantings: [{ ...planting, params: { ...planting.params, spacing: 2.1 }, drivers: [driver] }] }
  const pool = createInlinePool(1)
  await createShares(pool, partsAmong(new Map([['ground', heightsToBytes(heights)]]))).with(meadow)
  let tiles = 0
  const grower = createGrower(pool, { onTile: () => undefined, onState: () => undefined, onGone: () => undefined, onDone: (_ms, grown) => (tiles = grown) }, () => performance.now())
  await grower.grow(meadow, [0, 0])
  const all = tiles
  const count = grower.blocksOf('bench').reduce((sum, block) => sum + block.count, 0)
  const moved = (one: Beacon): Beacon => ({ ...one, x: one.x + 10 })
  const start = performance.now()
  await grower.grow({ ...meadow, beacons: meadow.beacons.map(moved) }, [0, 0])
  say(`a beacon of 60 m reach moved in ${count.toLocaleString('en')} instances: ${tiles} of ${all} tiles grown again, ${Math.round(performance.now() - start)} ms`)
  pool.close()
}

/** Prints all of them. */
export async function measureWhere(say: Say, terrain: Terrain, heights: Float32Array<ArrayBuffer>): Promise<void> {
  outlineLines(say)
  obstacleLines(say, terrain)
  await beaconLines(say, terrain, heights)
}
