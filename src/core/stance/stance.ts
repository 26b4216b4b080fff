import type { Block, Sites } from '../columns.ts'
import type { Driven } from '../fields/drivers/drive.ts'
import type { Base } from '../grounds/footprint.ts'
import type { Footing } from '../grounds/ground.ts'
import type { StanceStage } from '../kernels/kernels.ts'
import { runRotate, stanceStage } from '../kernels/kernels.ts'
import { angle, choice, share, span } from '../kinds.ts'
import { atan2, cos, DEGREE, sin } from '../math/portable.ts'
import type { Quaternion } from '../math/quaternion.ts'
import { between, NO_TURN, turnTurn } from '../math/quaternion.ts'
import { CHANNEL, draw, drawBetween } from '../math/random.ts'
import type { ValuesOf } from '../kinds.ts'

const fold = 'how-it-stands'

/** How an instance stands; shared by every kind of planting. */
export const STANCE_PARAMS = {
  turn: span('deg', 0, 360, { fold, label: 'Turn', help: 'Turn about its own up axis.', min: -360, max: 360, step: 5 }),
  size: span('factor', 0.8, 1.25, { fold, label: 'Size', help: 'Factor on the natural size.', min: 0.01, max: 100, step: 0.05 }),
  sizeSpread: choice(
    'even',
    [
      { value: 'even', label: 'evenly mixed' },
      { value: 'middle', label: 'mostly medium' },
    ],
    { fold, label: 'Sizes', help: 'Whether all sizes are as likely, or medium ones more so.' },
  ),
  wide: span('factor', 1, 1, { fold, label: 'Width alone', help: 'Factor on the width, beside the size; thrown for itself.', min: 0.01, max: 100, step: 0.05 }),
  tall: span('factor', 1, 1, { fold, label: 'Height alone', help: 'Factor on the height, beside the size; thrown for itself.', min: 0.01, max: 100, step: 0.05 }),
  deep: span('factor', 1, 1, { fold, label: 'Depth alone', help: 'Factor on the depth, beside the size; thrown for itself.', min: 0.01, max: 100, step: 0.05 }),
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
  eastBy: span('m', 0, 0, { fold, label: 'Shifted to its own east', help: 'Across the way that its front looks; below 0 to its west. Thrown for each.', min: -1000, max: 1000, step: 0.05 }),
  southBy: span('m', 0, 0, { fold, label: 'Shifted to its own south', help: 'The way that its front looks; below 0 backwards. Thrown for each.', min: -1000, max: 1000, step: 0.05 }),
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
    { fold, label: 'Rests on', help: 'On the whole base, no corner of it floats.' },
  ),
}

export type StanceValues = ValuesOf<typeof STANCE_PARAMS>

/** Ends of a closed span in the right order. */
export function closed(s: { from: number | null; to: number | null }): [number, number] {
  const a = s.from ?? 0
  const b = s.to ?? a
  return a <= b ? [a, b] : [b, a]
}

/** Smallest radius of room that any instance can want, m; `rooms` are those of its mix at size 1. */
export function leastRoom({ size, wide, deep, room }: Pick<StanceValues, 'size' | 'wide' | 'deep'> & { readonly room: number }, rooms: readonly number[]): number {
  return rooms.reduce((least, one) => Math.min(least, one), Infinity) * closed(size)[0] * Math.max(closed(wide)[0], closed(deep)[0]) * room
}

/** Writes size factors of `count` draw keys, from the size range alone. */
export function sizeDrawer(values: StanceValues): (keys: Int32Array, count: number, out: Float64Array) => void {
  const [low, high] = closed(values.size)
  const range = high - low
  const middling = values.sizeSpread === 'middle'
  return (keys, count, out) => (middling ? drawMiddling(keys, count, low, range, out) : drawAlike(keys, count, low, range, out))
}

/** The factors on width, height and depth alone of a draw key; null where none of them is sized by itself. */
export function axesDrawer({ wide, tall, deep }: Pick<StanceValues, 'wide' | 'tall' | 'deep'>): ((key: number) => readonly [number, number, number]) | null {
  const spans = [closed(wide), closed(tall), closed(deep)]
  if (spans.every(([low, high]) => low === 1 && high === 1)) return null
  return (key) => [drawBetween(key, CHANNEL.wide, spans[0]), drawBetween(key, CHANNEL.tall, spans[1]), drawBetween(key, CHANNEL.deep, spans[2])]
}

function drawAlike(keys: Int32Array, count: number, low: number, range: number, out: Float64Array): void {
  for (let i = 0; i < count; i++) out[i] = low + range * draw(keys[i], CHANNEL.size)
}

function drawMiddling(keys: Int32Array, count: number, low: number, range: number, out: Float64Array): void {
  for (let i = 0; i < count; i++) out[i] = low + range * (0.5 * (draw(keys[i], CHANNEL.size) + draw(keys[i], CHANNEL.sizeSpread)))
}

/** How sites come to be rows of a block: in a thread, the rows in hand are good until others are begun. */
export interface BlockRows {
  /** The sites that become rows, those of one base together, otherwise in any order (neighbours beside each other go fastest). */
  readonly order: Uint32Array
  /** The block's row of each site. */
  readonly seat: Uint32Array
  /** Lays the draw keys and the sizes in plan of `order` out for the kernels. */
  lay(stage: StanceStage): void
  /** Writes where and how they stand, as the stage tells. */
  write(stage: StanceStage): void
  /** The block, once all is written. */
  block(): Block
}

/** Where members of a pattern come down: heights, m, and normals x y z, by sites; NaN where it is their plot's own ground. */
export interface Landing {
  readonly height: Float64Array
  readonly normal: Float64Array
  /** Whether there is a ground of the plot's own to come down on. */
  readonly grounded: boolean
}

/** Frames of the members of a pattern, by sites: how each is turned (x y z w) and sized (x y z), and its own height, m. */
export interface Framed {
  readonly turn: Float64Array
  readonly size: Float64Array
  readonly height: Float64Array
  /** How much of the way from their own height to the ground they come, 0…1. */
  readonly land: number
  /** Where some of them come down on meshes; null where all come down on their plot's own ground. */
  readonly landing: Landing | null
}

/** What is to be stood. */
export interface Standing {
  readonly sites: Sites
  readonly rows: BlockRows
  /** Size factor of a site in plan, and which of `bases` it has. */
  readonly size: Float64Array
  readonly pick: Uint16Array
  readonly bases: readonly Base[]
  readonly driven: Pick<Driven, 'turn' | 'lean' | 'lift'> | null
  readonly footing: Footing
  /** Where sites are members of a pattern, how their frames are; else null. */
  readonly framed: Framed | null
}

/** Finishes a block: position and rotation of its rows. */
export type Stand = (standing: Standing) => Block

/**
 * Prepares the stance of a planting. Rotation = align · lean · turn (Shoemake 1992): turn about own
 * up, lean towards a compass direction, then the great-circle blend from world up to the ground
 * normal by the follow share. A member of a pattern is turned and leaned in its own frame.
 */
export function prepareStance(values: StanceValues): Stand {
  const [turnLow, turnHigh] = closed(values.turn).map((d) => 0.5 * d * DEGREE)
  const [leanLow, leanHigh] = closed(values.lean).map((d) => 0.5 * d * DEGREE)
  const [liftLow, liftHigh] = closed(values.lift)
  const { follow } = values
  const axes = axesDrawer(values)
  const alongGround = values.liftAlong === 'ground'
  const onBase = values.seat === 'base'
  const angles = {
    turnLow,
    turnRange: turnHigh - turnLow,
    leanLow,
    leanRange: leanHigh - leanLow,
    wind: values.leanTo === 'wind' ? { x: sin(values.wind * DEGREE), z: -cos(values.wind * DEGREE) } : null,
    halfFollow: 0.5 * follow,
  }

  return ({ sites, rows, size, pick, bases, driven, footing, framed }) => {
    const { order, seat } = rows
    const count = order.length
    if (count === 0) return rows.block()
    const stage = stanceStage(count)
    const lifted = liftLow !== 0 || liftHigh !== 0 || driven?.lift
    rows.lay(stage)
    gatherAngles(driven?.turn ?? null, order, stage.turnBy)
    gatherAngles(driven?.lean ?? null, order, stage.leanBy)
    footing.lay(sites, order, stage, { normals: follow > 0 || Boolean(lifted && alongGround)})
    if (framed?.landing) landOn(framed.landing, order, stage)
    runRotate(stage, count, { ...angles, halfFollow: framed ? 0 : angles.halfFollow, leans: leanHigh > 0 || Boolean(driven?.lean) })
    if (framed) turnInFrames(framed, order, stage, follow * framed.land)
    // What does not stand on the ground is not seated on it either.
    const seated = onBase && (!framed || framed.land === 1)
    if (seated) footing.sink(sites, order, pick, bases, stage)
    else stage.sink.fill(0, 0, count)
    if (seated && framed?.landing) for (let k = 0; k < count; k++) if (framed.landing.height[order[k]] === framed.landing.height[order[k]]) stage.sink[k] = 0
    if (framed) for (let k = 0; k < count; k++) stage.height[k] += (1 - framed.land) * (framed.height[order[k]] - stage.height[k])
    rows.write(stage)
    const block = rows.block()
    if (framed) sizeInFrames(framed, order, seat, block)
    if (axes) sizeAxes(sites, axes, order, seat, block)
    if (seated) footing.settle(order, seat, size, pick, bases, block)
    if (lifted) liftAll(sites, order, seat, liftLow, liftHigh, driven?.lift ?? null, alongGround ? stage : null, block)
    return block
  }
}

// At module level: made anew by every preparing, they would be compiled and optimised anew each time.

/** Lays out what a driver adds to an angle, degrees, as halves in rad; none is 0. */
function gatherAngles(by: Float64Array | null, order: Uint32Array, out: Float32Array): void {
  if (!by) out.fill(0, 0, order.length)
  else for (let k = 0; k < order.length; k++) out[k] = 0.5 * DEGREE * by[order[k]]
}

/** Puts those that come down on meshes there. */
function landOn({ height, normal }: Landing, order: Uint32Array, stage: StanceStage): void {
  for (let k = 0; k < order.length; k++) {
    const i = order[k]
    if (height[i] !== height[i]) continue
    stage.height[k] = height[i]
    stage.normalX[k] = normal[3 * i]
    stage.normalY[k] = normal[3 * i + 1]
    stage.normalZ[k] = normal[3 * i + 2]
  }
}

/** Puts each row's turn, which is that in its frame, on its frame, and leans that towards the ground's normal by a share. */
function turnInFrames({ turn }: Framed, order: Uint32Array, { rotation, normalX, normalY, normalZ }: StanceStage, follow: number): void {
  for (let k = 0; k < order.length; k++) {
    turnTurn(turn, 4 * order[k], rotation, 4 * k, rotation, 4 * k)
    if (follow > 0) {
      const [x, y, z] = [normalX[k], normalY[k], normalZ[k]]
      const long = Math.sqrt(x * x + y * y + z * z)
      turnTurn(partOf(between([0, 1, 0], [x / long, y / long, z / long]), follow), 0, rotation, 4 * k, rotation, 4 * k)
    }
  }
}

/** A share of a turn of less than a half one. */
function partOf([x, y, z, w]: Quaternion, share: number): Quaternion {
  const sine = Math.sqrt(x * x + y * y + z * z)
  if (!(sine > 0)) return NO_TURN
  const half = share * atan2(sine, w)
  const by = sin(half) / sine
  return [x * by, y * by, z * by, cos(half)]
}

function sizeInFrames({ size }: Framed, order: Uint32Array, seat: Uint32Array, { scale }: Block): void {
  for (let k = 0; k < order.length; k++) for (let c = 0; c < 3; c++) scale[3 * seat[order[k]] + c] *= size[3 * order[k] + c]
}

function sizeAxes({ draws }: Sites, axes: (key: number) => readonly [number, number, number], order: Uint32Array, seat: Uint32Array, { scale }: Block): void {
  for (let k = 0; k < order.length; k++) {
    const factors = axes(draws[order[k]])
    for (let c = 0; c < 3; c++) scale[3 * seat[order[k]] + c] *= factors[c]
  }
}

function liftAll(
  { draws }: Sites,
  order: Uint32Array,
  seat: Uint32Array,
  low: number,
  high: number,
  by: Float64Array | null,
  /** Has the normals to lift along; null lifts straight up. */
  stage: StanceStage | null,
  { position }: Block,
): void {
  for (let k = 0; k < order.length; k++) {
    const i = order[k]
    const to = seat[i]
    const lift = low + (high - low) * draw(draws[i], CHANNEL.lift) + (by ? by[i] : 0)
    if (stage) {
      const [nx, ny, nz] = [stage.normalX[k], stage.normalY[k], stage.normalZ[k]]
      const share = lift / Math.sqrt(nx * nx + ny * ny + nz * nz)
      position[3 * to] += nx * share
      position[3 * to + 1] += ny * share
      position[3 * to + 2] += nz * share
    } else position[3 * to + 1] += lift
  }
}
