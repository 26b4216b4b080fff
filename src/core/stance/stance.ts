import type { Block, Sites } from '../columns.ts'
import { MAX_BASE_CORNERS, sinkOfBase } from '../ground/footprint.ts'
import type { Terrain } from '../ground/terrain.ts'
import { angle, choice, share, span } from '../kinds.ts'
import { atan, cos, DEGREE, sin, sinCosColumn, TAU } from '../math/portable.ts'
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

/** Size factor of a draw key, from the size range alone. */
export function sizeDrawer(values: StanceValues): (key: number) => number {
  const [low, high] = closed(values.size)
  const middling = values.sizeSpread === 'middle'
  return (key) => {
    const u = draw(key, CHANNEL.size)
    return low + (high - low) * (middling ? 0.5 * (u + draw(key, CHANNEL.sizeSpread)) : u)
  }
}

/** Columns of working space for a batch: quaternion, then angles and their sines and cosines. */
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
}

/**
 * Writes position and rotation of a block's rows. `rows` lists the sites, `size` their factors,
 * `pick` which of `bases` (outlines at size 1, x z pairs, m) each has.
 */
export type Stand = (
  sites: Sites,
  rows: Uint32Array,
  size: Float64Array,
  pick: Uint16Array,
  bases: readonly Float64Array[],
  block: Block,
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
  let scratch = scratchOf(1024)

  return (sites, rows, size, pick, bases, block) => {
    if (rows.length > scratch.x.length) scratch = scratchOf(2 * rows.length)
    turnAll(sites, rows, turnLow, turnHigh, scratch)
    if (leanHigh > 0) {
      if (values.leanTo === 'wind') {
        scratch.towardX.fill(windX, 0, rows.length)
        scratch.towardZ.fill(windZ, 0, rows.length)
      } else drawDirections(sites, rows, scratch)
      leanAll(sites, rows, leanLow, leanHigh, scratch)
    }
    if (values.follow > 0) alignAll(sites, rows, values.follow, scratch)
    writeAll(sites, rows, scratch, block)
    if (values.seat === 'base') seatAll(terrain, rows, size, pick, bases, block)
    if (liftLow !== 0 || liftHigh !== 0)
      liftAll(sites, rows, liftLow, liftHigh, values.liftAlong === 'ground', block)
  }
}

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
  }
}

/** Quaternion (0, sin, 0, cos) of half the drawn turn. */
function turnAll({ draws }: Sites, rows: Uint32Array, low: number, high: number, q: Scratch): void {
  const { angle } = q
  for (let k = 0; k < rows.length; k++)
    angle[k] = 0.5 * (low + (high - low) * draw(draws[rows[k]], CHANNEL.turn))
  sinCosColumn(angle, rows.length, q.y, q.w)
  q.x.fill(0, 0, rows.length)
  q.z.fill(0, 0, rows.length)
}

/** A compass direction of its own for every row. */
function drawDirections({ draws }: Sites, rows: Uint32Array, q: Scratch): void {
  const { angle } = q
  for (let k = 0; k < rows.length; k++) angle[k] = TAU * draw(draws[rows[k]], CHANNEL.leanToward)
  sinCosColumn(angle, rows.length, q.towardX, q.towardZ)
}

/** Multiplies (axis · sin, cos) from the left, axis = up × direction = (dz, 0, −dx), on (0, y, 0, w). */
function leanAll({ draws }: Sites, rows: Uint32Array, low: number, high: number, q: Scratch): void {
  const { angle, sine, cosine, towardX, towardZ, x, y, z, w } = q
  for (let k = 0; k < rows.length; k++)
    angle[k] = 0.5 * (low + (high - low) * draw(draws[rows[k]], CHANNEL.lean))
  sinCosColumn(angle, rows.length, sine, cosine)
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

/** Multiplies the turn of up towards the normal by the follow share from the left. */
function alignAll(s: Sites, rows: Uint32Array, follow: number, q: Scratch): void {
  const { normalX, normalY, normalZ } = s
  const { angle, sine, cosine } = q
  for (let k = 0; k < rows.length; k++) {
    const i = rows[k]
    const nx = normalX[i]
    const nz = normalZ[i]
    angle[k] = 0.5 * follow * atan(Math.sqrt(nx * nx + nz * nz) / normalY[i])
  }
  sinCosColumn(angle, rows.length, sine, cosine)
  for (let k = 0; k < rows.length; k++) {
    const i = rows[k]
    const nx = normalX[i]
    const nz = normalZ[i]
    const tilt = Math.sqrt(nx * nx + nz * nz)
    if (tilt < 1e-9) continue
    const ax = (nz * sine[k]) / tilt
    const az = (-nx * sine[k]) / tilt
    const aw = cosine[k]
    const x = q.x[k]
    const y = q.y[k]
    const z = q.z[k]
    const w = q.w[k]
    q.x[k] = aw * x + ax * w - az * y
    q.y[k] = aw * y + az * x - ax * z
    q.z[k] = aw * z + az * w + ax * y
    q.w[k] = aw * w - ax * x - az * z
  }
}

function writeAll(s: Sites, rows: Uint32Array, q: Scratch, { position, rotation }: Block): void {
  for (let k = 0; k < rows.length; k++) {
    const i = rows[k]
    position[3 * k] = s.x[i]
    position[3 * k + 1] = s.y[i]
    position[3 * k + 2] = s.z[i]
    rotation[4 * k] = q.x[k]
    rotation[4 * k + 1] = q.y[k]
    rotation[4 * k + 2] = q.z[k]
    rotation[4 * k + 3] = q.w[k]
  }
}

const cornerX = new Float64Array(MAX_BASE_CORNERS)
const cornerZ = new Float64Array(MAX_BASE_CORNERS)
const plane = new Float64Array(3)

/** Lowers each instance until no part of its base is above the ground. */
function seatAll(
  terrain: Terrain,
  rows: Uint32Array,
  size: Float64Array,
  pick: Uint16Array,
  bases: readonly Float64Array[],
  { position, rotation }: Block,
): void {
  for (let k = 0; k < rows.length; k++) {
    const i = rows[k]
    const base = bases[pick[i]]
    const corners = base.length >> 1
    if (corners < 3) continue
    const qx = rotation[4 * k]
    const qy = rotation[4 * k + 1]
    const qz = rotation[4 * k + 2]
    const qw = rotation[4 * k + 3]
    // Own up (ux, uy, uz), and the plan parts of own x and own z.
    const ux = 2 * (qx * qy - qw * qz)
    const uy = 1 - 2 * (qx * qx + qz * qz)
    const uz = 2 * (qy * qz + qw * qx)
    if (uy < 1e-3) continue
    const f = size[i]
    const xx = f * (1 - 2 * (qy * qy + qz * qz))
    const xz = f * 2 * (qx * qz - qw * qy)
    const zx = f * 2 * (qx * qz + qw * qy)
    const zz = f * (1 - 2 * (qx * qx + qy * qy))
    const x = position[3 * k]
    const z = position[3 * k + 2]
    for (let c = 0; c < corners; c++) {
      const bx = base[2 * c]
      const bz = base[2 * c + 1]
      cornerX[c] = x + xx * bx + zx * bz
      cornerZ[c] = z + xz * bx + zz * bz
    }
    plane[1] = -ux / uy
    plane[2] = -uz / uy
    plane[0] = position[3 * k + 1] - plane[1] * x - plane[2] * z
    const sink = sinkOfBase(terrain, cornerX, cornerZ, corners, plane)
    if (sink > 0) position[3 * k + 1] -= sink
  }
}

function liftAll(
  s: Sites,
  rows: Uint32Array,
  low: number,
  high: number,
  alongGround: boolean,
  { position }: Block,
): void {
  for (let k = 0; k < rows.length; k++) {
    const i = rows[k]
    const lift = low + (high - low) * draw(s.draws[i], CHANNEL.lift)
    if (alongGround) {
      position[3 * k] += s.normalX[i] * lift
      position[3 * k + 1] += s.normalY[i] * lift
      position[3 * k + 2] += s.normalZ[i] * lift
    } else position[3 * k + 1] += lift
  }
}
