import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { GroundFrame, Vector } from '../../core/hand/frames.ts'
import { groundFrame } from '../../core/hand/frames.ts'
import type { Quaternion } from '../../core/math/quaternion.ts'
import { conjugate, multiply, normalised } from '../../core/math/quaternion.ts'
import type { HeightAt } from '../../core/grounds/terrain.ts'
import type { Meadow, PatternBase, Planting } from '../../core/meadow.ts'
import type { Editor } from './editor.ts'
import { changeOne } from './editor.ts'

/** The named edits of what patterns stand on. */

/** A base at a place of the world, kept in the frame of its host. */
export function baseAt(host: string, frame: GroundFrame, place: Vector, turn: Quaternion): PatternBase {
  const [x, y, z] = frame.placeToOwn(place)
  const [a, b, c, d] = normalised(frame.turnToOwn(turn))
  return { host, place: [x, y, z], turn: [a, b, c, d], size: frame.size }
}

/** Stands a pattern on another base; what it stands on it need not keep out of. */
export function setBase(editor: Editor, planting: string, base: PatternBase, name = 'Stand it elsewhere', gesture?: string): boolean {
  return changeOne(
    editor,
    'plantings',
    planting,
    name,
    (one) => {
      one.base = structuredClone(base)
      for (const use of one.habitat) if (use.kind === 'obstacle' && use.params.mesh === base.host) use.on = false
    },
    gesture,
  )
}

/** How far a base is turned about its own up, degrees with the clock seen from above, and without that turn. */
export function turnOfBase({ turn: [x, y, z, w] }: Pick<PatternBase, 'turn'>): { readonly degrees: number; readonly level: Quaternion } {
  const long = Math.hypot(y, w)
  const twist: Quaternion = long > 1e-9 ? [0, y / long, 0, w / long] : [0, 0, 0, 1]
  return { degrees: (-2 * Math.atan2(twist[1], twist[3]) * 180) / Math.PI, level: multiply([x, y, z, w], conjugate(twist)) }
}

/** The same base turned so far about its own up. */
export function withTurn(base: PatternBase, degrees: number): PatternBase {
  const half = (-degrees * Math.PI) / 360
  const [x, y, z, w] = normalised(multiply(turnOfBase(base).level, [0, Math.sin(half), 0, Math.cos(half)]))
  return { ...base, turn: [x, y, z, w] }
}

/** Lets a pattern stay where it is while what it stands on is moved: its base is the terrain's then. */
export function liftOff(editor: Editor, planting: string, heightAt: HeightAt): boolean {
  return changeOne(editor, 'plantings', planting, 'Lift it off', (one) => leaveHost(one, editor.meadow(), heightAt))
}

/** Holds a pattern's base by the terrain, where it stands now. */
export function leaveHost(one: Planting, { meshes }: Pick<Meadow, 'meshes'>, heightAt: HeightAt): void {
  if (one.base?.rides) delete one.base.rides
  if (!one.base || one.base.host === TERRAIN_ID) return
  const frame = groundFrame(one.base.host, meshes, heightAt)
  const terrain = groundFrame(TERRAIN_ID, [], heightAt)
  if (frame && terrain) one.base = { ...baseAt(TERRAIN_ID, terrain, frame.placeToWorld(one.base.place), frame.turnToWorld(one.base.turn)), size: one.base.size / frame.size }
}
