import { angle, length, number } from '../../core/kinds.ts'
import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { Stand, Vector } from '../../core/hand/frames.ts'
import { multiply, normalised, turned } from '../../core/math/quaternion.ts'
import type { InstanceAt, NewSingle } from '../../document/edits/hands.ts'
import { addSingles } from '../../document/edits/hands.ts'
import { newGesture } from '../../document/history.ts'
import type { Chosen } from '../../state/chosen.ts'
import { chosenOf } from '../../state/chosen.ts'
import type { FieldSession } from '../../state/field-session.ts'
import type { FieldTool } from '../../state/field-tool.ts'
import { setToolValue } from '../define.ts'
import { tidy } from '../grips/nudge.ts'
import { hold, terrainHeight, turnAbout } from './acts.ts'

/** How copies are made, kept beside the settings of tools: a drag of copies says what the next ones are moved by. */
export const COPY_PARAMS = {
  times: number('count', 1, { label: 'How many times', help: 'How many copies of each are made.', min: 1, max: 1000, step: 1 }),
  east: length(1, { label: 'East', help: 'How far east each copy stands of the one before.', min: -1e4, max: 1e4, step: 0.1 }),
  south: length(0, { label: 'South', help: 'How far south each copy stands of the one before.', min: -1e4, max: 1e4, step: 0.1 }),
  up: length(0, { label: 'Up', help: 'How much higher each copy stands than the one before, above its ground.', min: -1e3, max: 1e3, step: 0.05 }),
  turn: angle(0, { label: 'Turned', help: 'How far each copy is turned from the one before.', min: -360, max: 360, step: 5 }),
  size: number('factor', 1, { label: 'Sized', help: 'How much larger each copy is than the one before.', min: 0.05, max: 20, step: 0.05 }),
}

/** What those settings are kept under. */
export const COPIES = { kind: 'copies', params: COPY_PARAMS }

/** What each copy is moved by, m, turned by about the world's up, degrees, and sized by, seen from the one before it. */
export interface Step {
  readonly move: Vector
  readonly turn: number
  readonly size: number
}

/**
 * How the copy of a number stands: the step done so many times over, each from where and how the one before stands, so
 * that a turn bends the way and a size draws it in.
 */
export function stepped({ place, turn, size }: Stand, { move, turn: degrees, size: factor }: Step, times: number): Stand {
  let at: Vector = place
  let way: Vector = move
  const by = turnAbout([0, 1, 0], degrees)
  let now = turn
  let grown = 1
  for (let k = 0; k < times; k++) {
    at = [at[0] + way[0], at[1] + way[1], at[2] + way[2]]
    way = turned(by, [way[0] * factor, way[1] * factor, way[2] * factor])
    now = normalised(multiply(by, now))
    grown *= factor
  }
  return { place: at, turn: now, size: [size[0] * grown, size[1] * grown, size[2] * grown] }
}

/** Copies of instances as singles, each so many times; on the terrain they keep their heights above it, with what the step adds. */
export function copiesOf(instances: readonly InstanceAt[], step: Step, times: number, heightAt: (x: number, z: number) => number): NewSingle[] {
  return instances.flatMap((one) =>
    Array.from({ length: times }, (_, k): NewSingle => {
      const stand = stepped(one, step, k + 1)
      const [x, y, z] = stand.place
      const rise = one.ground === TERRAIN_ID ? heightAt(x, z) - heightAt(one.place[0], one.place[2]) : 0
      return { planting: one.planting, ground: one.ground, asset: one.asset, tint: one.tint, ...stand, place: [x, y + rise, z] }
    }),
  )
}

/** Duplicates what is chosen; tells the last copies, so that the next step goes on from there. Null when it was refused. */
export async function duplicate(session: FieldSession, chosen: Chosen, step: Step, times: number): Promise<Chosen | null> {
  const { instances } = await hold(session, chosen)
  const height = terrainHeight(session)
  const copies = copiesOf(instances, step, times, height)
  const ids = addSingles(session, `Duplicate ${copies.length === 1 ? 'one' : copies.length.toLocaleString('en')}`, copies, height, newGesture())
  if (ids.length === 0) return null
  return chosenOf(copies.flatMap(({ planting }, k) => ((k + 1) % times === 0 ? [{ planting, ...ids[k] }] : [])))
}

/** Puts one copy of each where a drag has moved it; tells the copies, null when they were refused. */
export function copyTo(session: FieldSession, instances: readonly InstanceAt[], move: (one: InstanceAt) => { readonly place: Vector }): Chosen | null {
  const copies = instances.map((one): NewSingle => ({ planting: one.planting, ground: one.ground, asset: one.asset, tint: one.tint, turn: one.turn, size: one.size, ...move(one) }))
  const ids = addSingles(session, `Duplicate ${copies.length === 1 ? 'one' : copies.length.toLocaleString('en')}`, copies, terrainHeight(session), newGesture())
  return ids.length > 0 ? chosenOf(copies.map(({ planting }, k) => ({ planting, ...ids[k] }))) : null
}

/** Keeps the way of a drag of copies as the step of the next ones. */
export function keepStep(state: FieldTool, { place: from }: InstanceAt, { place: to }: { readonly place: Vector }): void {
  setToolValue(state, COPIES.kind, 'east', tidy(to[0] - from[0]))
  setToolValue(state, COPIES.kind, 'south', tidy(to[2] - from[2]))
}
