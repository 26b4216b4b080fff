import type { Sites } from '../core/columns.ts'
import type { PaintedStroke } from '../core/fields/coverage.ts'
import type { StrokeAct } from '../core/fields/stroke-acts.ts'
import { POINT } from '../core/fields/coverage.ts'
import { TERRAIN_ID } from '../core/grounds/ground.ts'
import { groundOfTerrain } from '../core/grounds/terrain-ground.ts'
import { createArena } from '../core/stages/arena.ts'
import type { HabitatOf } from '../core/stages/habitat.ts'
import { prepareHabitat, weighOn } from '../core/stages/habitat.ts'
import type { Rooms } from '../core/stages/rooms.ts'
import type { Around } from '../core/surroundings.ts'
import { NOTHING_AROUND } from '../core/surroundings.ts'
import { CONDITIONS } from '../core/fields/conditions/index.ts'
import type { Block } from '../core/columns.ts'
import { mixAssets, preparePlanting } from '../core/grow.ts'
import { tileRect, tilesOver } from '../core/stages/tiles.ts'
import type { Terrain } from '../core/grounds/terrain.ts'
import { createTerrain } from '../core/grounds/terrain.ts'
import type { ParamValue } from '../core/kinds.ts'
import { defaultsOf } from '../core/kinds.ts'
import type { ImageField } from '../core/grounds/image.ts'
import type { MeshShape } from '../core/grounds/mesh-shape.ts'
import { treeOf } from '../core/grounds/mesh-tree.ts'
import type { Solid } from '../core/grounds/solid.ts'
import { createSolid } from '../core/grounds/solid.ts'
import type { Asset, Beacon, ConditionUse, GroundImage, Outline, PlacedMesh, Planting, Stroke, View } from '../core/meadow.ts'
import { BEACON } from '../core/things/beacon.ts'
import { IMAGE } from '../core/things/image.ts'
import { MESH } from '../core/things/mesh.ts'
import { OUTLINE } from '../core/things/outline.ts'
import { VIEW } from '../core/things/view.ts'
import { nearestOf } from '../core/stages/rooms.ts'
import type { Near } from '../core/stages/context.ts'
import type { Places, Surroundings } from '../core/surroundings.ts'
import { PLANTINGS } from '../core/plantings/index.ts'

/** Made-up grounds, assets and plantings for tests. */

export function terrainOf(
  height: (x: number, z: number) => number,
  size = 100,
  samples = 101,
): Terrain {
  const heights = new Float32Array(samples * samples)
  for (let j = 0; j < samples; j++)
    for (let i = 0; i < samples; i++)
      heights[j * samples + i] = height((i / (samples - 1) - 0.5) * size, (j / (samples - 1) - 0.5) * size)
  return createTerrain(heights, samples, samples, size, size)
}

export const hilly = (size = 100, samples = 101) =>
  terrainOf((x, z) => 6 * Math.sin(x / 11) * Math.cos(z / 13) + 0.8 * Math.sin(x / 2.3 + z / 3.1), size, samples)

/** Normal of a terrain's triangle, as long as makes its y 1: the cross product of its sides. */
export function slowNormal(t: Terrain, x: number, z: number): [number, number, number] {
  const u = ((x + t.sizeX / 2) / t.sizeX) * (t.columns - 1)
  const v = ((z + t.sizeZ / 2) / t.sizeZ) * (t.rows - 1)
  const i = Math.min(t.columns - 2, Math.floor(u))
  const j = Math.min(t.rows - 2, Math.floor(v))
  const h = (a: number, b: number) => t.heights[(j + b) * t.columns + i + a]
  const place = (a: number, b: number) => [(a * t.sizeX) / (t.columns - 1), h(a, b), (b * t.sizeZ) / (t.rows - 1)]
  const north = u - i + v - j < 1
  const [p, q, r] = north ? [place(0, 0), place(1, 0), place(0, 1)] : [place(1, 1), place(0, 1), place(1, 0)]
  const [e, f] = [q, r].map((corner) => corner.map((value, c) => value - p[c]))
  const up = e[2] * f[0] - e[0] * f[2]
  return [(e[1] * f[2] - e[2] * f[1]) / up, 1, (e[0] * f[1] - e[1] * f[0]) / up]
}

/** An asset with a base of 40 cm; its number is that of its letter, so that `a` has 0 and `c` 2. */
export function assetOf(id: string, room: number, base = [-0.2, 0.2, 0.2, 0.2, 0.2, -0.2, -0.2, -0.2]): Asset {
  return {
    id,
    number: (id.charCodeAt(0) - 97) & 0xff,
    name: id,
    category: 'Test',
    tags: [],
    licence: '',
    parts: [],
    drapes: false,
    blob: '0'.repeat(64),
    standIns: [],
    size: [1, 1, 1],
    base,
    room,
    triangles: [1],
  }
}

export function condition(kind: string, params: Record<string, ParamValue> = {}, id = kind): ConditionUse {
  return { id, kind, on: true, invert: false, params: { ...defaultsOf(CONDITIONS.get(kind).params), ...params } }
}

export function outlineOf(kind: Outline['kind'], lines: readonly (readonly number[])[], rest: Partial<Outline> = {}): Outline {
  return { id: kind, kind, name: kind, colour: '#000000', visible: true, locked: false, smooth: false, closed: kind === 'patch', width: 2, lines: [...lines], ...rest }
}

/** A box from −half to +half along each axis, 12 triangles facing out. */
export function boxShape(hx: number, hy: number, hz: number): MeshShape {
  const corners = Array.from({ length: 8 }, (_, i) => [i & 1 ? hx : -hx, i & 2 ? hy : -hy, i & 4 ? hz : -hz])
  const quads = [[0, 4, 6, 2], [1, 3, 7, 5], [0, 1, 5, 4], [2, 6, 7, 3], [0, 2, 3, 1], [4, 5, 7, 6]]
  return {
    positions: Float32Array.from(corners.flat()),
    indices: Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])),
  }
}

export function meshOf(rest: Partial<PlacedMesh> = {}): PlacedMesh {
  return { id: 'mesh', name: 'Mesh', role: 'obstacle', blob: '', shape: '', triangles: 12, visible: true, locked: false, position: [0, 0, 0], turn: [0, 0, 0], size: 1, ...rest }
}

export function solidOf(shape: MeshShape, rest: Partial<PlacedMesh> = {}): Solid {
  return createSolid(meshOf(rest), shape, treeOf)
}

/** An image of R G B A pixels over a square of the ground. */
export function imageOf(columns: number, rows: number, pixel: (i: number, j: number) => readonly [number, number, number, number], rest: Partial<GroundImage> = {}): ImageField {
  const pixels = new Uint8Array(4 * columns * rows)
  for (let j = 0; j < rows; j++) for (let i = 0; i < columns; i++) pixels.set(pixel(i, j), 4 * (j * columns + i))
  return { placed: { id: 'image', name: 'Image', blob: '', columns, rows, x: 0, z: 0, sizeX: 100, sizeZ: 100, turn: 0, ...rest }, pixels }
}

/** A stroke over the terrain through points x z …, as growing knows it. */
export function paintedOf(act: StrokeAct, plan: readonly number[], rest: Partial<PaintedStroke> = {}): PaintedStroke {
  const points = Float64Array.from({ length: (POINT * plan.length) / 2 }, (_, k) => [plan[2 * Math.floor(k / POINT)], 0, plan[2 * Math.floor(k / POINT) + 1], 0, 1, 0, 1][k % POINT])
  return { act, radius: 5, soft: 0, strength: 1, assets: [], solid: false, points, ...rest }
}

/** A stroke of a meadow through points x z … of the terrain. */
export function strokeOf(planting: string, act: StrokeAct, plan: readonly number[], rest: Partial<Stroke> = {}): Stroke {
  const { points } = paintedOf(act, plan)
  return { id: `${act} ${plan.join(' ')}`, name: '', planting, act, ground: TERRAIN_ID, width: 10, soft: 0, strength: 1, only: [], lines: [Array.from(points)], ...rest }
}

/** Instances of a planting at given places, as conditions ask for them. */
export function placesAt(points: readonly (readonly [number, number])[], reach = 10): Places {
  return nearestOf(Float32Array.from(points, ([x]) => x), Float32Array.from(points, ([, z]) => z), reach)
}

export function spreadOf(
  params: Record<string, ParamValue>,
  rest: Partial<Omit<Planting, 'params'>> = {},
): Planting {
  return {
    id: 'spread',
    kind: 'spread',
    name: 'Spread',
    colour: '#000000',
    visible: true,
    locked: false,
    freeWhileHidden: false,
    seed: 7,
    mix: [{ asset: 'a', share: 1 }],
    habitat: [],
    combine: 'all',
    drivers: [],
    grounds: [TERRAIN_ID],
    along: [],
    base: null,
    ...rest,
    params: { ...defaultsOf(PLANTINGS.get(rest.kind ?? 'spread').params), ...params },
  }
}

/** What stands beside a planting in a test: things as conditions and drivers find them. */
export interface Beside {
  readonly outlines?: readonly Outline[]
  readonly images?: readonly ImageField[]
  readonly beacons?: readonly Beacon[]
  readonly views?: readonly View[]
  readonly solids?: readonly Solid[]
  readonly waterLevel?: number
}

/** A terrain with things around. */
export function surroundingsOf(terrain: Terrain, { outlines = [], images = [], beacons = [], views = [], solids = [], waterLevel }: Beside = {}, water = -1e9): Surroundings {
  const byId = <R>(list: readonly R[], idOf: (one: R) => string) => new Map(list.map((one) => [idOf(one), one]))
  const things = new Map<string, ReadonlyMap<string, unknown>>([
    [OUTLINE.kind, byId(outlines, ({ id }) => id)],
    [IMAGE.kind, byId(images, ({ placed }) => placed.id)],
    [BEACON.kind, byId(beacons, ({ id }) => id)],
    [VIEW.kind, byId(views, ({ id }) => id)],
    [MESH.kind, byId(solids, ({ placed }) => placed.id)],
  ])
  return { terrain, waterLevel: waterLevel ?? water, things }
}

export interface GrowOptions {
  readonly assets?: readonly Asset[]
  readonly water?: number
  readonly outlines?: readonly Outline[]
  /** Beside terrain, water and outlines. */
  readonly surroundings?: Beside
  /** Side of the tiles, m; the planting's own by default. */
  readonly side?: number
  readonly near?: Near | null
  readonly part?: number
  readonly reverse?: boolean
}

/** Grows a whole ground tile by tile. */
export function growAll(planting: Planting, terrain: Terrain, options: GrowOptions = {}): Block[] {
  const { assets = [assetOf('a', 0.2)], water = -1000, outlines = [], near = null, part = 1 } = options
  const prepared = preparePlanting(planting, mixAssets(planting, assets), surroundingsOf(terrain, { outlines, ...options.surroundings }, options.surroundings?.waterLevel ?? water))
  const side = options.side ?? prepared.plots[0].tileSide
  // What grows as a whole has no tiles.
  const rects = side === 0 ? [prepared.plots[0].bounds] : tilesOver(terrain.bounds, side).map((tile) => tileRect(side, tile))
  if (options.reverse) rects.reverse()
  return rects.map((rect) => {
    const result = prepared.grow({ plot: 0, rect }, near, part)
    if (!('block' in result)) throw new Error('more reach was asked for than all there is')
    return result.block
  })
}

export interface Grown {
  readonly id: string
  readonly asset: number
  readonly x: number
  readonly y: number
  readonly z: number
  readonly rotation: readonly number[]
  readonly size: number
  readonly room: number
  readonly key: number
}

/** All rows of blocks as plain objects, sorted by id. */
export function rowsOf(blocks: readonly Block[]): Grown[] {
  const rows: Grown[] = []
  for (const b of blocks)
    for (let i = 0; i < b.count; i++)
      rows.push({
        id: `${b.idHigh[i]}:${b.idLow[i]}`,
        asset: b.asset[i],
        x: b.position[3 * i],
        y: b.position[3 * i + 1],
        z: b.position[3 * i + 2],
        rotation: [...b.rotation.subarray(4 * i, 4 * i + 4)],
        size: b.scale[3 * i],
        room: b.room[i],
        key: b.key[i],
      })
  return rows.sort((a, b) => (a.id < b.id ? -1 : 1))
}

export function idsOf(blocks: readonly Block[]): Set<string> {
  return new Set(rowsOf(blocks).map((row) => row.id))
}

/** Smallest distance between any two rows, by sorting along x. */
export function leastDistance(rows: readonly Grown[]): number {
  const sorted = [...rows].sort((a, b) => a.x - b.x)
  let best = Infinity
  for (let i = 0; i < sorted.length; i++)
    for (let j = i + 1; j < sorted.length && sorted[j].x - sorted[i].x < best; j++)
      best = Math.min(best, Math.hypot(sorted[j].x - sorted[i].x, sorted[j].z - sorted[i].z))
  return best
}

/** Rooms of instances that stand already. */
export function roomsOfRows(rows: readonly Grown[]): Rooms[] {
  const columns = [rows.map(({ x }) => x), rows.map(({ y }) => y), rows.map(({ z }) => z), rows.map(({ room }) => room)]
  return [{ columns: Float32Array.from(columns.flat()), from: 0, to: rows.length }]
}

/** Lands sites on a terrain and weighs them under conditions. */
export function weighOnTerrain(habitat: HabitatOf, surroundings: Surroundings, sites: Sites, around: Around = NOTHING_AROUND): void {
  weighOn(groundOfTerrain(surroundings.terrain), prepareHabitat(habitat, surroundings), sites, around, createArena())
}
