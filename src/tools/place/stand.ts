import type { Stand, Vector } from '../../core/hand/frames.ts'
import type { Quaternion } from '../../core/math/quaternion.ts'
import { between, multiply, normalised, ofAxes } from '../../core/math/quaternion.ts'
import type { Planting } from '../../core/meadow.ts'
import type { Seen } from '../../core/plantings/ask.ts'
import { addSingles } from '../../document/edits/hands.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { terrainHeight, turnAbout } from '../choose/acts.ts'
import { oneOf, partsOfMix } from '../of-mix.ts'
import { normalOf } from './row-between.ts'

/** How a thing is turned about its own up, degrees, and sized. */
export interface Look {
  readonly turn: number
  readonly size: number
  /** Two throws of −1…1: along a row and to its sides. */
  readonly dice: readonly [along: number, aside: number]
}

/** How a thing is stood on a place. */
export interface Standing {
  readonly stands: 'upright' | 'slope'
  /** How far off the ground, m, and which way. */
  readonly lift: number
  readonly along: 'up' | 'normal'
}

const UP: Vector = [0, 1, 0]

/** A throw of turn and size, as a planting says how things stand. */
export function thrown(planting: Planting | undefined): Look {
  const { turn, size } = (planting?.params ?? {}) as { turn?: { from: number; to: number }; size?: { from: number; to: number } }
  const of = (span: { from: number; to: number } | undefined, plain: number) => (span ? span.from + Math.random() * (span.to - span.from) : plain)
  return { turn: of(turn, 0), size: of(size, 1), dice: [2 * Math.random() - 1, 2 * Math.random() - 1] }
}

/**
 * Where and how a thing stands on a place. Square to the ground on the centre of a face or the middle of an edge, it
 * is turned from there: its own east runs along the edge.
 */
export function standOf({ stands, lift, along }: Standing, { place: at, on }: Seen, { turn, size }: Look): Stand {
  const normal = normalOf(at)
  const by: Vector = along === 'normal' ? normal : UP
  const yaw = turnAbout(UP, turn)
  const square: Quaternion = on?.direction ? (ofAxes(on.direction, normal) ?? between(UP, normal)) : between(UP, normal)
  const aligned: Quaternion = stands === 'slope' ? normalised(multiply(square, yaw)) : yaw
  return { place: [at.x + by[0] * lift, at.y + by[1] * lift, at.z + by[2] * lift], turn: aligned, size: [size, size, size] }
}

/** Places one of a planting's mix, by its shares, as the planting says how things stand. */
export function placeOne(session: FieldSession, planting: Planting, seen: Seen): boolean {
  const { assets } = session.meadow()
  const one = oneOf(partsOfMix(planting.mix, assets), Math.random())
  if (!one) return false
  const stand = standOf({ stands: 'upright', lift: 0, along: 'up' }, seen, thrown(planting))
  return addSingles(session, `Place ${one.asset.name}`, [{ ...stand, planting: planting.id, ground: seen.ground, asset: one.asset.number }], terrainHeight(session)).length > 0
}
