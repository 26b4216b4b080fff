import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { Stand, Vector } from '../../core/hand/frames.ts'
import { multiply, normalised, turned } from '../../core/math/quaternion.ts'
import type { InstanceAt, NewSingle } from '../../document/edits/hands.ts'
import { addSingles } from '../../document/edits/hands.ts'
import { newGesture } from '../../document/history.ts'
import type { Chosen } from '../../state/chosen.ts'
import { chosenOf } from '../../state/chosen.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { hold, terrainHeight, turnAbout } from './acts.ts'

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
      return { planting: one.planting, ground: one.ground, asset: one.asset, ...stand, place: [x, y + rise, z] }
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
