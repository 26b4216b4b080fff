import type { Sites } from '../columns.ts'
import { carryNormals } from '../columns.ts'
import type { Ground } from '../grounds/ground.ts'
import type { Solid } from '../grounds/solid.ts'
import { firstHit } from '../grounds/solid.ts'
import type { Rect } from '../grounds/terrain.ts'
import type { Naming } from '../identity.ts'
import { CHANNEL, draw, drawBetween, drawKeyOf, drawSalt } from '../math/random.ts'
import type { Quaternion } from '../math/quaternion.ts'
import { turned } from '../math/quaternion.ts'
import type { Frames } from '../order/frames.ts'
import type { Framed, Landing } from '../stance/stance.ts'
import { NOTHING_AROUND } from '../surroundings.ts'
import type { Arena } from './arena.ts'
import { clearSites } from './arena.ts'
import { holdByHand, roomsOfHeld, withHeld } from './by-hand.ts'
import { appendSite } from './candidates/plan.ts'
import type { PlotOver, PreparedPlot } from './plot.ts'
import { looksAtRooms } from './plot.ts'
import { settleThroughSpace } from './rooms-in-space.ts'

/** How the members of a pattern come to stand. */
export interface Ordering {
  /** Those of the world. */
  readonly frames: Frames
  /** How far each reaches along its own axis, m, 0 where it keeps its length; null where all do. */
  readonly reach: Float64Array | null
  /** The axis that reaches: 0 is x, 2 is z. */
  readonly axis: 0 | 2
  /** How much of the way to the ground they come, 0…1. */
  readonly land: number
  /** Which share of them is left out, by their own dice. */
  readonly leftOut: number
  readonly seed: number
  /** From–to of the shift of each along its own x and z, m. */
  readonly eastBy: readonly [number, number]
  readonly southBy: readonly [number, number]
  /** Meshes that they come down on where these are higher than their plot's own ground. */
  readonly solids: readonly Solid[]
  /** Whether they come down on the plot's own ground at all. */
  readonly onGround: boolean
  /** Whether they stand on a mesh of their own, at places and square to directions that it gives. */
  readonly onOwn: boolean
  /** Normals x y z of what they came down on along ways of their own; null where they come straight down, if they do. */
  readonly normal: Float64Array | null
  /** Largest radius of room that a member can want, its frame's size and reach taken in, m. */
  readonly largestRoom: number
  /** How long each of the mix is along an axis at size 1, m. */
  readonly lengths: (axis: 0 | 2) => readonly number[]
}

/** A plot of members in order: grown as a whole, whatever ground they stand on; rooms are settled straight through space. */
export function plotInOrder(ground: Ground, ordering: Ordering, naming: Naming, over: PlotOver): PreparedPlot {
  const { stages } = over
  const { arena, ranks } = stages
  const { frames, land, leftOut, seed, largestRoom } = ordering
  const looks = looksAtRooms(over)
  const salt = drawSalt(seed)
  const shifts = [...ordering.eastBy, ...ordering.southBy].some((one) => one !== 0)
  // What keeps its own height needs no ground under it, and what came down already knows its height.
  const under = ordering.normal ? { ...ground, land: () => undefined, raise: () => undefined } : land > 0 ? ground : { ...ground, land: () => undefined }

  /** Enters members as sites, addressed by their numbers here: all, or the share of them that comes first. */
  function fill(part: number): void {
    const { sites } = arena
    const { place, low, high, count } = frames
    const own = ordering.onOwn || ordering.normal
    if (own) carryNormals(sites)
    for (let k = 0; k < count; k++) {
      const key = drawKeyOf(salt, low[k], high[k])
      const rank = draw(key, CHANNEL.rank)
      // A coarse look is of those that come first.
      if (rank > part || (leftOut > 0 && draw(key, CHANNEL.leftOut) < leftOut)) continue
      const [dx, , dz] = shifts ? shiftOf(ordering, k, key) : UNSHIFTED
      appendSite(sites, place[3 * k] + dx, place[3 * k + 2] + dz, rank, k, 0, key)
      if (own) standOnOwn(sites, ordering, k)
    }
  }

  return {
    ground: ground.id,
    bounds: boxOf(frames, shifts ? Math.max(...[...ordering.eastBy, ...ordering.southBy].map(Math.abs)) * 1.5 : 0),
    tileSide: 0,
    tiles: [],
    reach: looks ? largestRoom : 0,
    density: over.density,
    candidates: `${over.density} ${over.meant}`,
    grow(_tile, near, part, keyScale) {
      clearSites(arena)
      fill(part)
      const chosen = { ...stages.choose(under, [], { limit: 1, part, keyScale }, { ...(near?.around ?? NOTHING_AROUND), runs: frames }), framed: framedOf(arena, ordering, shifts) }
      raiseInFrames(ground, arena, ordering, chosen.framed)
      const others = looks && near ? [...near.rooms, ...near.elsewhere] : []
      if (!near?.hand) return { block: stages.stand(settleThroughSpace(arena, others, largestRoom, ranks), naming, chosen) }
      const held = holdByHand({ hand: near.hand, moved: new Map(), tile: null }, stages, naming, chosen)
      const stay = settleThroughSpace(arena, [...others, roomsOfHeld(held)], largestRoom, ranks, held.taken)
      return { block: withHeld(stages.stand(stay, naming, chosen), held, null), missing: held.missing }
    },
  }
}

/** Gives the site that was added last the height of its frame, and the normal of that or of what it came down on. */
function standOnOwn({ y, normals, count }: Sites, { frames: { place, turn }, normal }: Ordering, k: number): void {
  y[count - 1] = place[3 * k + 1]
  if (!normals) return
  const up = normal ? [normal[3 * k], normal[3 * k + 1], normal[3 * k + 2]] : turned([turn[4 * k], turn[4 * k + 1], turn[4 * k + 2], turn[4 * k + 3]], [0, 1, 0])
  normals.x[count - 1] = up[0]
  normals.y[count - 1] = up[1]
  normals.z[count - 1] = up[2]
}

/** Raises members to where they will stand: as much of the way to the ground as they come. */
function raiseInFrames(ground: Ground, { sites }: Arena, { land, solids, onGround, normal }: Ordering, { height, landing }: Framed): void {
  if (normal) return
  if (land > 0) ground.raise(sites)
  if (land > 0 && landing) {
    if (!onGround) for (let i = 0; i < sites.count; i++) sites.y[i] = height[i]
    for (const solid of solids) landOnSolid(solid, sites, landing)
    // Where there is nothing to come down on they stay at their own heights.
    if (!onGround) for (let i = 0; i < sites.count; i++) if (landing.height[i] !== landing.height[i]) landing.height[i] = height[i]
  }
  for (let i = 0; i < sites.count; i++) sites.y[i] = land > 0 ? sites.y[i] + (1 - land) * (height[i] - sites.y[i]) : height[i]
}

/** Lands sites on a mesh from above, where it is higher than what they have landed on, or where they have landed on nothing. */
function landOnSolid(solid: Solid, { x, y, z, count }: Sites, landing: Landing): void {
  const { bounds } = solid
  const top = bounds[4] + 1
  for (let i = 0; i < count; i++) {
    if (x[i] < bounds[0] || x[i] > bounds[3] || z[i] < bounds[2] || z[i] > bounds[5]) continue
    const hit = firstHit(solid, { origin: [x[i], top, z[i]], direction: [0, -1, 0], reach: Infinity })?.place
    if (!hit || (landing.height[i] === landing.height[i] && hit.y <= landing.height[i]) || (landing.grounded && hit.y <= y[i])) continue
    landing.height[i] = hit.y
    // Of a sheet either side counts.
    const upwards = hit.normal[1] < 0 ? -1 : 1
    for (let c = 0; c < 3; c++) landing.normal[3 * i + c] = upwards * hit.normal[c]
    y[i] = hit.y
  }
}

/** The frames of the arena's sites, which from now on are addressed as the members that they are; rooms grow with them. */
function framedOf({ sites, pick, girth, radius }: Arena, ordering: Ordering, shifts: boolean): Framed {
  const { frames, reach, axis, land, lengths } = ordering
  const { count, addressLow, addressHigh } = sites
  const lands = ordering.normal !== null || (land > 0 && (ordering.solids.length > 0 || !ordering.onGround))
  const landing = lands ? { height: new Float64Array(count).fill(NaN), normal: new Float64Array(3 * count), grounded: ordering.onGround } : null
  const framed = { turn: new Float64Array(4 * count), size: new Float64Array(3 * count), height: new Float64Array(count), land, landing }
  const long = reach ? lengths(axis) : []
  for (let i = 0; i < count; i++) {
    const k = addressLow[i]
    for (let c = 0; c < 4; c++) framed.turn[4 * i + c] = frames.turn[4 * k + c]
    for (let c = 0; c < 3; c++) framed.size[3 * i + c] = frames.size[3 * k + c]
    framed.height[i] = frames.place[3 * k + 1] + (shifts ? shiftOf(ordering, k, sites.draws[i])[1] : 0)
    if (landing && ordering.normal) {
      landing.height[i] = framed.height[i]
      for (let c = 0; c < 3; c++) landing.normal[3 * i + c] = ordering.normal[3 * k + c]
    }
    if (reach && reach[k] > 0 && long[pick[i]] > 0) framed.size[3 * i + axis] = reach[k] / (long[pick[i]] * girth[i])
    radius[i] *= Math.max(framed.size[3 * i], framed.size[3 * i + 2])
    addressLow[i] = frames.low[k]
    addressHigh[i] = frames.high[k]
  }
  return framed
}

const UNSHIFTED = [0, 0, 0] as const

function shiftOf({ frames: { turn }, eastBy, southBy }: Ordering, k: number, key: number): [number, number, number] {
  return shiftAlong([turn[4 * k], turn[4 * k + 1], turn[4 * k + 2], turn[4 * k + 3]], key, eastBy, southBy)
}

/** By how much a member that is turned so is shifted off its place, in the world, m: along its own axes, by its own dice. */
export function shiftAlong(turn: Quaternion, key: number, eastBy: readonly [number, number], southBy: readonly [number, number]): [number, number, number] {
  return turned(turn, [drawBetween(key, CHANNEL.eastBy, eastBy), 0, drawBetween(key, CHANNEL.southBy, southBy)])
}

function boxOf({ place, count }: Frames, shifted: number): Rect {
  const box = { x0: Infinity, z0: Infinity, x1: -Infinity, z1: -Infinity }
  for (let k = 0; k < count; k++) {
    box.x0 = Math.min(box.x0, place[3 * k])
    box.x1 = Math.max(box.x1, place[3 * k])
    box.z0 = Math.min(box.z0, place[3 * k + 2])
    box.z1 = Math.max(box.z1, place[3 * k + 2])
  }
  // A rectangle of no width meets nothing.
  const by = 0.01 + shifted
  return count > 0 ? { x0: box.x0 - by, z0: box.z0 - by, x1: box.x1 + by, z1: box.z1 + by } : { x0: 0, z0: 0, x1: 0, z1: 0 }
}
