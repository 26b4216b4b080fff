import { enlargeSites } from '../columns.ts'
import { seatOnSolid } from '../grounds/mesh-seat.ts'
import { writeCross } from '../grounds/mesh-shape.ts'
import type { Solid } from '../grounds/solid.ts'
import { faceNormal, toOwn, toWorld } from '../grounds/solid.ts'
import type { Rect } from '../grounds/terrain.ts'
import { namingOf } from '../identity.ts'
import { cos, DEGREE, sin } from '../math/portable.ts'
import { drawKey, hashText, mix } from '../math/random.ts'
import type { Planting } from '../meadow.ts'
import { NOTHING_AROUND } from '../surroundings.ts'
import type { GrowContext, Near, PreparedPlanting, TileResult } from './define.ts'
import { EVEN_FILL, powerOfTwo } from '../stages/candidates/even-pattern.ts'
import type { Members } from '../stages/members.ts'
import type { SurfacePlaces } from '../stages/candidates/surface.ts'
import { areaSums, createSpaceCells, evenOnSurface, randomOnSurface } from '../stages/candidates/surface.ts'
import { byKeyThenId } from '../stages/order.ts'
import type { Rooms } from '../stages/rooms.ts'
import { chooseSource, densityOf } from '../stages/candidates/sources.ts'
import type { SpreadValues } from './spread-params.ts'
import { workspace } from '../stages/arena.ts'

/**
 * A spread over meshes. Candidates are made in each mesh's own frame and carried along with it, so
 * that to move a ground moves its plants and throws no dice anew. All over: area-true candidates on
 * every triangle, evenly spaced straight through space or at random. From above or from a side:
 * candidates in the plane across the throw, landed on the first surface hit or on every one.
 *
 * Each ground is one tile. Rooms are settled within a ground, straight through space, and against
 * those of earlier plantings on it; those of the terrain do not count here, nor those of here there.
 */
export function prepareMeshSpread(
  planting: Planting,
  values: SpreadValues,
  context: GrowContext,
  members: Members,
  finer: number,
): PreparedPlanting {
  const solids = planting.grounds.flatMap((id) => context.solids.find(({ placed }) => placed.id === id) ?? [])
  const total = solids.reduce((sum, solid) => sum + (values.fill === 'all-over' ? surfaceOf(solid) : caughtBy(solid, throwDirection(values), values.fill === 'levels')), 0)
  const counted = values.by === 'count'
  const wanted = counted ? (SPARE * powerOfTwo(2 * finer) * Math.max(values.count, 1)) / Math.max(total, 1e-9) : densityOf(values)
  const { sites } = workspace
  const yieldsToEarlier = values.yields && members.largestRoom > 0

  function grow(_tile: Rect, near: Near | null, part: number, piece: number): TileResult {
    const solid = solids[piece]
    sites.count = 0
    sites.normals = { x: new Float64Array(0), y: new Float64Array(0), z: new Float64Array(0) }
    try {
      const seed = (planting.seed ^ hashText(solid.placed.id)) >>> 0
      const limit = values.fill === 'all-over' ? fillAllOver(solid, seed) : fillThrown(solid, seed)
      for (let other = 0; other < piece; other++) coverBy(solids[other])
      members.choose(limit, part, near?.around ?? NOTHING_AROUND)
      return { block: members.finish(settle(yieldsToEarlier ? near : null), namingOf(sourceOn(values), planting.seed >>> 0, solid.placed.id), seatOnSolid(solid)) }
    } finally {
      sites.normals = null
    }
  }

  function fillAllOver(solid: Solid, seed: number): number {
    const { size } = solid.placed
    const sums = areaSums(solid.shape)
    const evenly = spacedOnSurface(values)
    const spacing = Math.sqrt(EVEN_FILL / wanted)
    const found = evenly
      ? evenOnSurface(solid.shape, sums, seed, (values.by === 'spacing' ? values.spacing : spacing) / size)
      : randomOnSurface(solid.shape, sums, seed, wanted * size * size)
    enter(solid, seed, found)
    return 1
  }

  /** Enters places of a mesh's own frame as sites of the world. */
  function enter(solid: Solid, seed: number, { count, places, triangle, number, level, rank }: SurfacePlaces): void {
    const normal = new Float64Array(3)
    while (sites.capacity < count) enlargeSites(sites, 0)
    sites.normals = normalsFor(sites.capacity)
    for (let i = 0; i < count; i++) {
      toWorld(solid, places[3 * i], places[3 * i + 1], places[3 * i + 2], out)
      faceNormal(solid, triangle[i], normal)
      addSite(seed, out, normal, number[i], level[i], rank[i])
    }
  }

  /** Candidates across the throw, landed; returns the limit of their ranks. */
  function fillThrown(solid: Solid, seed: number): number {
    const source = chooseSource(values, seed, wanted, Math.max(total, 1e-9))
    const [dx, dy, dz] = throwDirection(values)
    // Two directions across the throw; for throws from above they are east and south.
    const [ax, ay, az] = dy < -0.999999 ? [1, 0, 0] : unit(-dz, 0, dx)
    const [bx, by, bz] = dy < -0.999999 ? [0, 0, 1] : [dy * az - dz * ay, dz * ax - dx * az, dx * ay - dy * ax]
    const { bounds, placed } = solid
    const [cx, cy, cz] = placed.position
    let reach = 0
    for (let corner = 0; corner < 8; corner++) {
      const x = bounds[(corner & 1) * 3] - cx
      const y = bounds[1 + ((corner >> 1) & 1) * 3] - cy
      const z = bounds[2 + ((corner >> 2) & 1) * 3] - cz
      reach = Math.max(reach, Math.sqrt(x * x + y * y + z * z))
    }
    source.fill({ x0: -reach, z0: -reach, x1: reach, z1: reach }, sites)
    const count = sites.count
    const across = { x: sites.x.slice(0, count), z: sites.z.slice(0, count), low: sites.addressLow.slice(0, count), high: sites.addressHigh.slice(0, count), rank: sites.rank.slice(0, count) }
    const tree = solid.tree()
    const normal = new Float64Array(3)
    const far = 2 * reach + 2
    sites.count = 0
    sites.normals = normalsFor(sites.capacity)
    for (let i = 0; i < count; i++) {
      const x = cx + ax * across.x[i] + bx * across.z[i] - dx * (reach + 1)
      const y = cy + ay * across.x[i] + by * across.z[i] - dy * (reach + 1)
      const z = cz + az * across.x[i] + bz * across.z[i] - dz * (reach + 1)
      toOwn(solid, x, y, z, from)
      toOwn(solid, x + dx * far, y + dy * far, z + dz * far, to)
      const length = Math.sqrt((to[0] - from[0]) ** 2 + (to[1] - from[1]) ** 2 + (to[2] - from[2]) ** 2)
      const hits = tree.hits(from[0], from[1], from[2], (to[0] - from[0]) / length, (to[1] - from[1]) / length, (to[2] - from[2]) / length)
      let level = 0
      for (let h = 0; h < hits && (h === 0 || values.fill === 'levels'); h++) {
        const along = (tree.hitDistance[h] / length) * far
        faceNormal(solid, tree.hitTriangle[h], normal)
        // Of a closed body only the sides that look towards the throw hold anything.
        const against = normal[0] * dx + normal[1] * dy + normal[2] * dz
        if (values.fill === 'levels' && against >= 0) continue
        if (against > 0) for (let c = 0; c < 3; c++) normal[c] = -normal[c]
        out[0] = x + dx * along
        out[1] = y + dy * along
        out[2] = z + dz * along
        // The same candidate on another level is another one.
        addSite(seed, out, normal, level === 0 ? across.low[i] : mix(across.low[i] ^ Math.imul(level, 0x9e3779b1)), across.high[i], across.rank[i])
        level++
      }
    }
    return source.limit
  }

  function addSite(seed: number, place: Float64Array, normal: Float64Array, low: number, high: number, rank: number): void {
    if (sites.count === sites.capacity) {
      const before = sites.normals
      enlargeSites(sites, sites.count)
      const larger = normalsFor(sites.capacity)
      if (before) for (const c of ['x', 'y', 'z'] as const) larger[c].set(before[c])
      sites.normals = larger
    }
    const n = sites.count++
    sites.x[n] = place[0]
    sites.y[n] = place[1]
    sites.z[n] = place[2]
    sites.weight[n] = 1
    sites.rank[n] = rank
    sites.addressLow[n] = low
    sites.addressHigh[n] = high
    sites.draws[n] = drawKey(seed, low, high)
    if (!sites.normals) return
    sites.normals.x[n] = normal[0]
    sites.normals.y[n] = normal[1]
    sites.normals.z[n] = normal[2]
  }

  /** Takes the weight from sites inside a ground that comes before: where two overlap, the first holds. */
  function coverBy(other: Solid): void {
    const tree = other.tree()
    const { bounds } = other
    for (let i = 0; i < sites.count; i++) {
      const [x, y, z] = [sites.x[i], sites.y[i], sites.z[i]]
      if (x < bounds[0] || x > bounds[3] || y < bounds[1] || y > bounds[4] || z < bounds[2] || z > bounds[5]) continue
      toOwn(other, x, y, z, out)
      if (tree.inside(out[0], out[1], out[2])) sites.weight[i] = 0
    }
  }

  /** Rows that stay when rooms are settled straight through space: first those of earlier plantings, then larger assets, then by key. */
  function settle(near: Near | null): Uint32Array {
    const { radius, key, rank } = workspace
    const free = near && near.rooms.count > 0 ? freeOf(near.rooms) : () => true
    const all = Uint32Array.from({ length: sites.count }, (_, i) => i).filter(free)
    if (!(members.largestRoom > 0)) return all
    const order = byKeyThenId(all, key, sites, rank, members.ranks)
    const stays = workspace.rows
    const cells = createSpaceCells(2 * members.largestRoom, sites.count)
    let count = 0
    for (let k = 0; k < order.length; k++) {
      const i = order[k]
      if (radius[i] > 0) {
        const [x, y, z] = [sites.x[i], sites.y[i], sites.z[i]]
        if (cells.meets(x, y, z, radius[i], members.largestRoom)) continue
        cells.add(x, y, z, radius[i])
      }
      stays[count++] = i
    }
    return stays.subarray(0, count)
  }

  /** Tells of a site whether no room of an earlier planting meets its own. */
  function freeOf({ count, x, y, z, radius }: Rooms): (site: number) => boolean {
    const most = radius.reduce((largest, r) => Math.max(largest, r), 0)
    const cells = createSpaceCells(most + members.largestRoom, count)
    for (let i = 0; i < count; i++) cells.add(x[i], y[i], z[i], radius[i])
    const own = workspace.radius
    return (i) => !(own[i] > 0) || !cells.meets(sites.x[i], sites.y[i], sites.z[i], own[i], most)
  }

  return {
    tileSide: 0,
    bounds: { x0: 0, z0: 0, x1: 0, z1: 0 },
    pieces: solids.map(({ bounds }) => ({ x0: bounds[0], z0: bounds[2], x1: bounds[3], z1: bounds[5] })),
    largestRoom: members.largestRoom,
    reach: yieldsToEarlier ? members.largestRoom : 0,
    exactCount: counted ? Math.round(values.count) : null,
    expected: () => (counted ? values.count : wanted * total),
    grow,
  }
}

/** Whether candidates all over a mesh keep a distance; an exact count takes random ones. */
function spacedOnSurface({ placing, by }: SpreadValues): boolean {
  return placing === 'even' && by !== 'count'
}

/** The way of placing on a mesh with the version of its rules, which ids are made of: thrown from elsewhere, a candidate is another one. */
function sourceOn(values: SpreadValues): string {
  if (values.fill === 'all-over') return `all over, ${spacedOnSurface(values) ? 'even' : 'random'} 2`
  return `${values.fill} from ${throwDirection(values).join(' ')}, ${values.placing} 2`
}

const out = new Float64Array(3)
const from = new Float64Array(3)
const to = new Float64Array(3)

function normalsFor(capacity: number) {
  return { x: new Float64Array(capacity), y: new Float64Array(capacity), z: new Float64Array(capacity) }
}

/** Candidates for each that is wanted of an exact count. */
const SPARE = 3

/**
 * Area across the throw that a solid catches, m²: what its faces towards the throw cover, every level of them
 * or at most what its box covers. Of an open sheet the side that looks away counts as well.
 */
function caughtBy({ shape: { positions: p, indices }, matrix, placed: { size }, bounds }: Solid, [dx, dy, dz]: readonly [number, number, number], levels: boolean): number {
  // The direction in the mesh's own frame: the matrix turned back.
  const own = [0, 1, 2].map((c) => (matrix[c] * dx + matrix[3 + c] * dy + matrix[6 + c] * dz) / size)
  const cross = new Float64Array(3)
  let towards = 0
  let away = 0
  for (let t = 0; t < indices.length; t += 3) {
    writeCross(p, 3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2], cross)
    const area = -0.5 * (cross[0] * own[0] + cross[1] * own[1] + cross[2] * own[2])
    if (area > 0) towards += area
    else away -= area
  }
  const caught = (levels ? towards : Math.max(towards, away)) * size * size
  if (levels) return caught
  const [wide, high, deep] = [0, 1, 2].map((c) => bounds[c + 3] - bounds[c])
  return Math.min(caught, Math.abs(dx) * high * deep + Math.abs(dy) * wide * deep + Math.abs(dz) * wide * high)
}

/** Area of a solid in the world, m². */
function surfaceOf({ shape, placed }: Solid): number {
  const sums = areaSums(shape)
  return sums.length === 0 ? 0 : sums[sums.length - 1] * placed.size * placed.size
}

/** The unit direction in which things are thrown. */
function throwDirection({ fill, fromCompass, fromAbove }: SpreadValues): [number, number, number] {
  if (fill !== 'side') return [0, -1, 0]
  const level = cos(fromAbove * DEGREE)
  return [-sin(fromCompass * DEGREE) * level, -sin(fromAbove * DEGREE), cos(fromCompass * DEGREE) * level]
}

function unit(x: number, y: number, z: number): [number, number, number] {
  const length = Math.sqrt(x * x + y * y + z * z) || 1
  return [x / length, y / length, z / length]
}
