import type { Sites } from '../../columns.ts'
import { carryNormals, enlargeSites } from '../../columns.ts'
import { writeCross } from '../../grounds/mesh-shape.ts'
import type { Solid } from '../../grounds/solid.ts'
import { faceNormal, firstHit, toOwn, toWorld } from '../../grounds/solid.ts'
import type { Place } from '../../grounds/ground.ts'
import type { Rect } from '../../grounds/terrain.ts'
import { cos, DEGREE, sin } from '../../math/portable.ts'
import { drawKey, hashText, mix } from '../../math/random.ts'
import type { SpreadValues } from '../../plantings/spread-params.ts'
import type { WholeSource } from '../as-whole.ts'
import { EVEN_FILL } from './even-pattern.ts'
import type { CandidateSource } from './plan.ts'
import type { Shifts } from './shifted.ts'
import { shiftsOf } from './shifted.ts'
import { chooseSource } from './sources.ts'
import { evenOnSurface } from './even-order.ts'
import { areaSums, randomOnSurface } from './surface.ts'

/**
 * Candidates on a mesh. They are made in its own frame and carried along with it, so that to move a ground
 * moves its plants and throws no dice anew. All over: area-true candidates on every triangle, evenly spaced
 * straight through space or at random. From above or from a side: candidates in the plane across the
 * throw, landed on the first surface hit or on every one.
 */
export function sourceOnSolid(solid: Solid, values: SpreadValues, throwSeed: number, density: number, meant: number): WholeSource {
  const seed = (throwSeed ^ hashText(solid.placed.id)) >>> 0
  if (values.fill === 'all-over') return { density, fill: ({ sites }) => fillAllOver(sites, solid, values, seed, density) }
  const source = chooseSource(values, seed, density, meant)
  return { density: source.density, fill: ({ sites }) => fillThrown(sites, solid, values, seed, source) }
}

/** The way of placing on a mesh with the version of its rules, which ids are made of: thrown from elsewhere, a candidate is another one. */
export function wayOnSolid(values: SpreadValues): string {
  if (values.fill === 'all-over') return `all over, ${spacedOnSurface(values) ? 'even' : 'random'} 2`
  return `${values.fill} from ${throwDirection(values).join(' ')}, ${values.placing} 2`
}

/** Area of a solid that candidates come to lie on, m²: its surface all over, or what it catches across the throw. */
export function areaOfSolid(solid: Solid, values: SpreadValues): number {
  return values.fill === 'all-over' ? surfaceOf(solid) : caughtBy(solid, throwDirection(values), values.fill === 'levels')
}

/** Whether candidates all over a mesh keep a distance; an exact count takes random ones. */
function spacedOnSurface({ placing, by }: SpreadValues): boolean {
  return placing === 'even' && by !== 'count'
}

function fillAllOver(sites: Sites, solid: Solid, values: SpreadValues, seed: number, density: number): number {
  const { size } = solid.placed
  const spacing = values.by === 'spacing' ? values.spacing : Math.sqrt(EVEN_FILL / density)
  const { count, places, triangle, number, level, rank } = spacedOnSurface(values)
    ? evenOnSurface(solid.shape, seed, spacing / size)
    : randomOnSurface(solid.shape, seed, density * size * size)
  while (sites.capacity < count) enlargeSites(sites, 0)
  carryNormals(sites)
  const shifts = shiftsOf(values)
  for (let i = 0; i < count; i++) {
    toWorld(solid, places[3 * i], places[3 * i + 1], places[3 * i + 2], place)
    faceNormal(solid, triangle[i], normal)
    if (shifts) shiftOver(solid, shifts, drawKey(seed, number[i], level[i]))
    addSite(sites, seed, number[i], level[i], rank[i])
  }
  return 1
}

/** Shifts the place in hand over the surface, along directions square to its normal, onto what lies there; where nothing does, it stays. */
function shiftOver(solid: Solid, { most, write }: Shifts, key: number): void {
  write(key, by)
  const [nx, ny, nz] = normal
  // East over the surface, as far as there is any; then south, square to both.
  const [ex, ey, ez] = Math.abs(nx) < 0.99 ? unit(1 - nx * nx, -nx * ny, -nx * nz) : unit(-ny * nx, 1 - ny * ny, -ny * nz)
  const [sx, sy, sz] = [ey * nz - ez * ny, ez * nx - ex * nz, ex * ny - ey * nx]
  const origin: Vector = [place[0] + by[0] * ex + by[1] * sx + most * nx, place[1] + by[0] * ey + by[1] * sy + most * ny, place[2] + by[0] * ez + by[1] * sz + most * nz]
  const hit = firstHit(solid, { origin, direction: [-nx, -ny, -nz], reach: 2 * most })
  if (!hit || hit.place.normal[0] * nx + hit.place.normal[1] * ny + hit.place.normal[2] * nz <= 0) return
  place.set([hit.place.x, hit.place.y, hit.place.z])
  normal.set(hit.place.normal)
}

/** Candidates across the throw, landed; returns the limit of their ranks. */
function fillThrown(sites: Sites, solid: Solid, values: SpreadValues, seed: number, source: CandidateSource): number {
  const direction = throwDirection(values)
  const [dx, dy, dz] = direction
  // Two directions across the throw; for throws from above they are east and south.
  const [ax, ay, az] = dy < -0.999999 ? [1, 0, 0] : unit(-dz, 0, dx)
  const [bx, by, bz] = dy < -0.999999 ? [0, 0, 1] : [dy * az - dz * ay, dz * ax - dx * az, dx * ay - dy * ax]
  const [cx, cy, cz] = solid.placed.position
  const reach = reachOf(solid)
  source.fill(shadowOf(solid, [ax, ay, az], [bx, by, bz]), sites, source.limit)
  const count = sites.count
  const across = { x: sites.x.slice(0, count), z: sites.z.slice(0, count), low: sites.addressLow.slice(0, count), high: sites.addressHigh.slice(0, count), rank: sites.rank.slice(0, count) }
  sites.count = 0
  carryNormals(sites)
  for (let i = 0; i < count; i++) {
    const [x, y, z] = [
      cx + ax * across.x[i] + bx * across.z[i] - dx * (reach + 1),
      cy + ay * across.x[i] + by * across.z[i] - dy * (reach + 1),
      cz + az * across.x[i] + bz * across.z[i] - dz * (reach + 1),
    ]
    landThrown(solid, x, y, z, direction, 2 * reach + 2, values.fill === 'levels', (level) => {
      // The same candidate on another level is another one.
      const low = level === 0 ? across.low[i] : mix(across.low[i] ^ Math.imul(level, 0x9e3779b1))
      addSite(sites, seed, low, across.high[i], across.rank[i])
    })
  }
  return source.limit
}

type Vector = readonly [number, number, number]

/** The corners of a solid's bounds, from its own origin, m. */
function cornersFrom({ bounds, placed: { position } }: Solid): Vector[] {
  return Array.from({ length: 8 }, (_, corner) => [
    bounds[(corner & 1) * 3] - position[0],
    bounds[1 + ((corner >> 1) & 1) * 3] - position[1],
    bounds[2 + ((corner >> 2) & 1) * 3] - position[2],
  ])
}

/** Distance of the farthest corner of a solid's bounds from its own origin, m. */
function reachOf(solid: Solid): number {
  return cornersFrom(solid).reduce((reach, [x, y, z]) => Math.max(reach, Math.sqrt(x * x + y * y + z * z)), 0)
}

/** What a solid's bounds cover across a throw, along two directions in that plane: nothing beside it can land. */
function shadowOf(solid: Solid, a: Vector, b: Vector): Rect {
  const along = (axis: Vector) => cornersFrom(solid).map(([x, y, z]) => axis[0] * x + axis[1] * y + axis[2] * z)
  const [across, down] = [along(a), along(b)]
  // A little more than that, as sums round.
  const slack = 1e-6 * (1 + reachOf(solid))
  return { x0: Math.min(...across) - slack, z0: Math.min(...down) - slack, x1: Math.max(...across) + slack, z1: Math.max(...down) + slack }
}

/** Follows a throw as `far` as it goes; calls `found` for the first surface hit or for each level, with place and normal set. */
function landThrown(
  solid: Solid,
  x: number,
  y: number,
  z: number,
  [dx, dy, dz]: readonly [number, number, number],
  far: number,
  levels: boolean,
  found: (level: number) => void,
): void {
  const tree = solid.tree()
  toOwn(solid, x, y, z, from)
  toOwn(solid, x + dx * far, y + dy * far, z + dz * far, to)
  const length = Math.sqrt((to[0] - from[0]) ** 2 + (to[1] - from[1]) ** 2 + (to[2] - from[2]) ** 2)
  const hits = tree.hits(from[0], from[1], from[2], (to[0] - from[0]) / length, (to[1] - from[1]) / length, (to[2] - from[2]) / length)
  let level = 0
  for (let h = 0; h < hits && (h === 0 || levels); h++) {
    const along = (tree.hitDistance[h] / length) * far
    faceNormal(solid, tree.hitTriangle[h], normal)
    // Of a closed body only the sides that look towards the throw hold anything.
    const against = normal[0] * dx + normal[1] * dy + normal[2] * dz
    if (levels && against >= 0) continue
    if (against > 0) for (let c = 0; c < 3; c++) normal[c] = -normal[c]
    place[0] = x + dx * along
    place[1] = y + dy * along
    place[2] = z + dz * along
    found(level++)
  }
}

/** A place this near to where a throw lands is where it lands, m: sights and throws meet a face by different sums. */
const SAME = 1e-3

/** Why a throw does not come to lie at a place of a solid; null when it does, or when it is filled all over. */
export function missedByThrow(solid: Solid, values: SpreadValues, { x, y, z }: Place): string | null {
  if (values.fill === 'all-over') return null
  const direction = throwDirection(values)
  const [dx, dy, dz] = direction
  const far = 2 * reachOf(solid) + 2
  let reached = false
  landThrown(solid, x - dx * far, y - dy * far, z - dz * far, direction, 2 * far, values.fill === 'levels', () => {
    reached ||= (place[0] - x) ** 2 + (place[1] - y) ** 2 + (place[2] - z) ** 2 < SAME * SAME * (1 + far * far * 1e-4)
  })
  if (reached) return null
  const { name } = solid.placed
  if (values.fill === 'side') return `“${name}” is filled from one side only, and nothing thrown from there lands here.`
  return values.fill === 'levels'
    ? `“${name}” is filled from above, on every level; this side looks down.`
    : `“${name}” is filled from above only, and something lies above this place or it looks down; fill it all over to reach it.`
}

/** Adds a site at `place` with `normal`. */
function addSite(sites: Sites, seed: number, low: number, high: number, rank: number): void {
  if (sites.count === sites.capacity) enlargeSites(sites, sites.count)
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

// Place and normal of the site in hand, its shift, and the ends of a throw in the mesh's own frame.
const place = new Float64Array(3)
const by = new Float64Array(2)
const normal = new Float64Array(3)
const from = new Float64Array(3)
const to = new Float64Array(3)

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
