import type { Block, SiteNormals, Sites } from '../columns.ts'
import type { Driven } from '../drivers/drive.ts'
import type { Base } from '../ground/footprint.ts'
import { seatBases } from '../ground/footprint.ts'
import type { SeatBases } from '../ground/mesh-seat.ts'
import type { Normals, Terrain } from '../ground/terrain.ts'
import { landNormals } from '../ground/terrain.ts'
import { angle, choice, share, span } from '../kinds.ts'
import { atan, atan2, cos, DEGREE, sin, sinCosColumn, sinCosSmallColumn, TAU } from '../math/portable.ts'
import { CHANNEL, draw } from '../math/random.ts'
import type { ValuesOf } from '../kinds.ts'

const fold = 'how-it-stands'

/** How an instance stands; shared by every kind of planting. */
export const STANCE_PARAMS = {
  turn: span('deg', 0, 360, { fold, label: 'Turn', help: 'Turn about its own up axis.', min: -360, max: 360, step: 5 }),
  size: span('factor', 0.8, 1.25, { fold, label: 'Size', help: 'Factor on the natural size.', min: 0.01, max: 100, step: 0.05 }),
  sizeSpread: choice(
    'even',
    [
      { value: 'even', label: 'any size alike' },
      { value: 'middle', label: 'mostly middling' },
    ],
    { fold, label: 'Sizes', help: 'Whether all sizes are as likely, or middling ones more so.' },
  ),
  lean: span('deg', 0, 6, { fold, label: 'Lean', help: 'How far it leans away from its up axis.', min: 0, max: 80, step: 1 }),
  leanTo: choice(
    'any',
    [
      { value: 'any', label: 'any side' },
      { value: 'wind', label: 'one wind' },
    ],
    { fold, label: 'Leaning to', help: 'Each its own way, or all with one wind.' },
  ),
  wind: angle(90, {
    fold,
    label: 'Wind blows to',
    help: 'Compass direction they lean to: 0° north, 90° east.',
    min: 0,
    max: 360,
    step: 5,
    shownWhen: { param: 'leanTo', is: ['wind'] },
  }),
  follow: share(0.3, {
    fold,
    label: 'Follow the slope',
    help: '0 % stands upright, 100 % stands square on the ground.',
    step: 0.05,
  }),
  lift: span('m', 0, 0, {
    fold,
    label: 'Lift',
    help: 'Shift after seating; below 0 sinks it into the ground.',
    min: -100,
    max: 100,
    step: 0.05,
  }),
  liftAlong: choice(
    'up',
    [
      { value: 'up', label: 'straight up' },
      { value: 'ground', label: 'square to the ground' },
    ],
    { fold, label: 'Lift along', help: 'The direction of the lift.' },
  ),
  seat: choice(
    'base',
    [
      { value: 'base', label: 'the whole base' },
      { value: 'centre', label: 'the centre only' },
    ],
    { fold, label: 'Seated by', help: 'By the whole base, no corner of it floats.' },
  ),
}

export type StanceValues = ValuesOf<typeof STANCE_PARAMS>

/** Ends of a closed span in the right order. */
export function closed(s: { from: number | null; to: number | null }): [number, number] {
  const a = s.from ?? 0
  const b = s.to ?? a
  return a <= b ? [a, b] : [b, a]
}

/** Writes size factors of `count` draw keys, from the size range alone. */
export function sizeDrawer(values: StanceValues): (keys: Int32Array, count: number, out: Float64Array) => void {
  const [low, high] = closed(values.size)
  const range = high - low
  const middling = values.sizeSpread === 'middle'
  return (keys, count, out) => (middling ? drawMiddling(keys, count, low, range, out) : drawAlike(keys, count, low, range, out))
}

function drawAlike(keys: Int32Array, count: number, low: number, range: number, out: Float64Array): void {
  for (let i = 0; i < count; i++) out[i] = low + range * draw(keys[i], CHANNEL.size)
}

function drawMiddling(keys: Int32Array, count: number, low: number, range: number, out: Float64Array): void {
  for (let i = 0; i < count; i++) out[i] = low + range * (0.5 * (draw(keys[i], CHANNEL.size) + draw(keys[i], CHANNEL.sizeSpread)))
}

/** Columns of working space for a batch: quaternion, angles with their sines and cosines, directions, normals. */
interface Scratch {
  x: Float64Array
  y: Float64Array
  z: Float64Array
  w: Float64Array
  angle: Float64Array
  sine: Float64Array
  cosine: Float64Array
  towardX: Float64Array
  towardZ: Float64Array
  normal: Normals
}

/**
 * Writes position and rotation of a block's rows. `rows` lists the sites in any order (neighbours
 * beside each other go fastest), `seat` the block's row of a site, `size` its factor, `pick` which
 * of `bases` it has.
 */
export type Stand = (
  sites: Sites,
  rows: Uint32Array,
  seat: Uint32Array,
  size: Float64Array,
  pick: Uint16Array,
  bases: readonly Base[],
  block: Block,
  driven: Pick<Driven, 'turn' | 'lean' | 'lift'> | null,
  /** Seats bases where the sites do not lie on the terrain. */
  seatElsewhere: SeatBases | null,
) => void

/**
 * Prepares the stance of a planting. Rotation = align · lean · turn (Shoemake 1992): turn about own
 * up, lean towards a compass direction, then the great-circle blend from world up to the ground
 * normal by the follow share. Done in passes over columns, so that engines keep each loop tight.
 */
export function prepareStance(values: StanceValues, terrain: Terrain): Stand {
  const [turnLow, turnHigh] = closed(values.turn).map((d) => d * DEGREE)
  const [leanLow, leanHigh] = closed(values.lean).map((d) => d * DEGREE)
  const [liftLow, liftHigh] = closed(values.lift)
  const windX = sin(values.wind * DEGREE)
  const windZ = -cos(values.wind * DEGREE)
  const { leanTo, follow, liftAlong } = values
  const lifts = liftLow !== 0 || liftHigh !== 0

  return (sites, rows, seat, size, pick, bases, block, driven, seatElsewhere) => {
    if (rows.length > scratch.x.length) scratch = scratchOf(2 * rows.length)
    const q = scratch
    turnAll(sites.draws, rows, turnLow, turnHigh, driven?.turn ?? null, q)
    if (leanHigh > 0 || driven?.lean) {
      if (leanTo === 'wind') {
        q.towardX.fill(windX, 0, rows.length)
        q.towardZ.fill(windZ, 0, rows.length)
      } else drawDirections(sites.draws, rows, q)
      leanAll(sites.draws, rows, leanLow, leanHigh, driven?.lean ?? null, q)
    }
    const lifted = lifts || driven?.lift
    const { normals } = sites
    if (follow > 0 || (lifted && liftAlong === 'ground')) {
      if (normals) gatherNormals(normals, rows, q.normal)
      else landNormals(terrain, sites, rows, q.normal)
    }
    if (follow > 0) alignAll(rows.length, follow, normals !== null, q)
    writeAll(sites, rows, seat, q, block)
    if (values.seat === 'base') {
      if (!normals) seatBases(terrain, rows, seat, size, pick, bases, block)
      else seatElsewhere?.(rows, seat, size, pick, bases, block)
    }
    if (lifted) liftAll(sites, rows, seat, liftLow, liftHigh, driven?.lift ?? null, liftAlong === 'ground', q.normal, block)
  }
}

// One for all plantings of a thread: a batch is stood in one go.
let scratch = scratchOf(8192)

function scratchOf(capacity: number): Scratch {
  const column = () => new Float64Array(capacity)
  return {
    x: column(),
    y: column(),
    z: column(),
    w: column(),
    angle: column(),
    sine: column(),
    cosine: column(),
    towardX: column(),
    towardZ: column(),
    normal: { x: column(), y: column(), z: column() },
  }
}

/** Quaternion (0, sin, 0, cos) of half the drawn turn. */
function turnAll(draws: Int32Array, rows: Uint32Array, low: number, high: number, by: Float64Array | null, q: Scratch): void {
  const { angle } = q
  for (let k = 0; k < rows.length; k++) angle[k] = 0.5 * (low + (high - low) * draw(draws[rows[k]], CHANNEL.turn))
  if (by) for (let k = 0; k < rows.length; k++) angle[k] += 0.5 * DEGREE * by[rows[k]]
  sinCosColumn(angle, rows.length, q.y, q.w)
  q.x.fill(0, 0, rows.length)
  q.z.fill(0, 0, rows.length)
}

/** A compass direction of its own for every row. */
function drawDirections(draws: Int32Array, rows: Uint32Array, q: Scratch): void {
  const { angle } = q
  for (let k = 0; k < rows.length; k++) angle[k] = TAU * draw(draws[rows[k]], CHANNEL.leanToward)
  sinCosColumn(angle, rows.length, q.towardX, q.towardZ)
}

/** Nothing leans farther than this, rad. */
const HALF_MOST_LEAN = 40 * DEGREE

/** Multiplies (axis · sin, cos) from the left, axis = up × direction = (dz, 0, −dx), on (0, y, 0, w). */
function leanAll(draws: Int32Array, rows: Uint32Array, low: number, high: number, by: Float64Array | null, q: Scratch): void {
  const { angle, sine, cosine, towardX, towardZ, x, y, z, w } = q
  for (let k = 0; k < rows.length; k++) angle[k] = 0.5 * (low + (high - low) * draw(draws[rows[k]], CHANNEL.lean))
  if (by)
    for (let k = 0; k < rows.length; k++) {
      const lean = angle[k] + 0.5 * DEGREE * by[rows[k]]
      angle[k] = lean < 0 ? 0 : lean > HALF_MOST_LEAN ? HALF_MOST_LEAN : lean
    }
  sinCosSmallColumn(angle, rows.length, sine, cosine)
  for (let k = 0; k < rows.length; k++) {
    const dx = towardX[k] * sine[k]
    const dz = towardZ[k] * sine[k]
    const qy = y[k]
    const qw = w[k]
    x[k] = dz * qw + dx * qy
    y[k] = cosine[k] * qy
    z[k] = dz * qy - dx * qw
    w[k] = cosine[k] * qw
  }
}

/**
 * Multiplies the turn of up towards the normal by the follow share from the left. Normals of meshes may
 * point any way; those of the terrain have a y of 1.
 */
function alignAll(count: number, follow: number, anyWay: boolean, q: Scratch): void {
  const { angle, sine, cosine, towardX: tilts, normal, x, y, z, w } = q
  const half = 0.5 * follow
  for (let k = 0; k < count; k++) {
    const nx = normal.x[k]
    const nz = normal.z[k]
    const tilt = Math.sqrt(nx * nx + nz * nz)
    tilts[k] = tilt
    angle[k] = anyWay ? half * atan2(tilt, normal.y[k]) : half * atan(tilt)
  }
  if (anyWay) sinCosColumn(angle, count, sine, cosine)
  else sinCosSmallColumn(angle, count, sine, cosine)
  for (let k = 0; k < count; k++) {
    const tilt = tilts[k]
    if (tilt < 1e-9) {
      // Straight down there is no nearest way over; any axis will do.
      if (normal.y[k] < 0) overturn(q, k, sine[k], cosine[k])
      continue
    }
    const share = sine[k] / tilt
    const ax = normal.z[k] * share
    const az = -normal.x[k] * share
    const aw = cosine[k]
    const qx = x[k]
    const qy = y[k]
    const qz = z[k]
    const qw = w[k]
    x[k] = aw * qx + ax * qw - az * qy
    y[k] = aw * qy + az * qx - ax * qz
    z[k] = aw * qz + az * qw + ax * qy
    w[k] = aw * qw - ax * qx - az * qz
  }
}

/** Turns about the X axis by a half angle's sine and cosine, from the left. */
function overturn({ x, y, z, w }: Scratch, k: number, s: number, c: number): void {
  const [qx, qy, qz, qw] = [x[k], y[k], z[k], w[k]]
  x[k] = c * qx + s * qw
  y[k] = c * qy - s * qz
  z[k] = c * qz + s * qy
  w[k] = c * qw - s * qx
}

/** The normals of the sites that `rows` lists. */
function gatherNormals({ x, y, z }: SiteNormals, rows: Uint32Array, out: Normals): void {
  for (let k = 0; k < rows.length; k++) {
    out.x[k] = x[rows[k]]
    out.y[k] = y[rows[k]]
    out.z[k] = z[rows[k]]
  }
}

function writeAll(s: Sites, rows: Uint32Array, seat: Uint32Array, q: Scratch, { position, rotation }: Block): void {
  const { x, y, z } = s
  for (let k = 0; k < rows.length; k++) {
    const i = rows[k]
    const to = seat[i]
    position[3 * to] = x[i]
    position[3 * to + 1] = y[i]
    position[3 * to + 2] = z[i]
    rotation[4 * to] = q.x[k]
    rotation[4 * to + 1] = q.y[k]
    rotation[4 * to + 2] = q.z[k]
    rotation[4 * to + 3] = q.w[k]
  }
}

function liftAll(
  s: Sites,
  rows: Uint32Array,
  seat: Uint32Array,
  low: number,
  high: number,
  by: Float64Array | null,
  alongGround: boolean,
  normal: Normals,
  { position }: Block,
): void {
  for (let k = 0; k < rows.length; k++) {
    const i = rows[k]
    const to = seat[i]
    const lift = low + (high - low) * draw(s.draws[i], CHANNEL.lift) + (by ? by[i] : 0)
    if (alongGround) {
      const [nx, ny, nz] = [normal.x[k], normal.y[k], normal.z[k]]
      const share = lift / Math.sqrt(nx * nx + ny * ny + nz * nz)
      position[3 * to] += nx * share
      position[3 * to + 1] += ny * share
      position[3 * to + 2] += nz * share
    } else position[3 * to + 1] += lift
  }
}
