import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { Vector } from '../../core/hand/frames.ts'
import { groundFrame } from '../../core/hand/frames.ts'
import { NO_TURN, turned } from '../../core/math/quaternion.ts'
import type { PatternBase, Planting } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import type { Seen } from '../../core/plantings/ask.ts'
import { baseAt, setBase } from '../../document/edits/base.ts'
import type { InstanceAt } from '../../document/edits/hands.ts'
import { sharedGround } from '../../document/edits/hands.ts'
import { mounted, ridesOnItself } from '../../document/edits/riding.ts'
import { instanceAt } from '../../state/chosen.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { notify } from '../../state/notices.ts'
import { hold, terrainHeight } from '../choose/acts.ts'
import { thingUnder } from '../choose/under.ts'
import type { Chosen } from '../../state/chosen.ts'
import type { Desk, Pointer } from '../define.ts'
import { openOf } from '../define.ts'
import { standOf } from './stand.ts'

/** Stands patterns on what is seen or chosen: on the ground, on meshes, on pegs, on other things. */

/** Where on a thing a pattern stands, or that it stands on what lies there. */
type OnWhat = 'ground' | 'foot' | 'top'

/** The open planting where it stands on a base; says why not where it does not. */
function openPattern({ session, state }: Pick<Desk, 'session' | 'state'>): Planting | null {
  const open = openOf({ session, state })
  if (open && PLANTINGS.get(open.kind).based) return open
  notify('word', `${open ? `“${open.name}” stands on no base` : 'No planting is open'}; open a row or a ring by a click on its name.`)
  return null
}

/**
 * Stands the open pattern where something is seen: square to a mesh, turned by the edge of the face that the place was
 * set to; upright on the terrain. On a peg, or on the place of a thing, it goes along with that.
 */
export function putBase(desk: Desk, seen: Seen | null, from?: Pointer): void {
  const { session } = desk
  const open = openPattern(desk)
  if (!open) return
  const heightAt = terrainHeight(session)
  const meadow = session.meadow()
  const frame = seen && groundFrame(seen.ground, meadow.meshes, heightAt)
  if (!seen || !frame) return notify('word', 'There is no ground there; point at the ground or at a mesh.')
  const upright = open.base?.host === TERRAIN_ID ? open.base.turn : NO_TURN
  const { turn } = standOf({ stands: 'slope', lift: 0, along: 'up' }, seen, { turn: 0, size: 1, dice: [0, 0] })
  const place: Vector = [seen.place.x, seen.place.y, seen.place.z]
  const base = baseAt(seen.ground, frame, place, seen.ground === TERRAIN_ID ? upright : turn)
  const set = seen.on?.kind
  if (set === 'peg') {
    const peg = meadow.pegs.find((one) => one.ground === seen.ground && apart(frame.placeToWorld(one.place), place) < ON_PEG)
    if (peg) return void setBase(session, open.id, mounted(base, { peg: peg.id }, meadow, heightAt) ?? base)
  }
  const under = from && (set === 'pivot' || set === 'box') ? thingUnder(desk, from) : null
  if (under) return ride(desk, open, instanceAt(under), base)
  setBase(session, open.id, base)
}

/** A place this near to a peg is that of the peg, m. */
const ON_PEG = 1e-6

function apart(a: Vector, b: Vector): number {
  return Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])
}

/** Stands the open pattern on a thing that is seen: on its foot or its top, turned with it. */
export function putBaseOnThing(desk: Desk, at: Pointer, on: OnWhat): void {
  const open = openPattern(desk)
  if (!open) return
  const under = thingUnder(desk, at)
  if (!under) return notify('word', 'No thing stands there; point at one, or choose “what lies there”.')
  centreOn(desk, open, instanceAt(under), on)
}

/** Centres a pattern on a thing, which it goes along with from then on. */
export function centreOn(desk: Pick<Desk, 'session'>, planting: Planting, on: InstanceAt, where: OnWhat): void {
  const { session } = desk
  const frame = groundFrame(on.ground, session.meadow().meshes, terrainHeight(session))
  if (frame) ride(desk, planting, on, baseAt(on.ground, frame, placeOnThing(session, on, where), on.turn))
}

/** Where a thing's foot or the middle of its top is. */
function placeOnThing(session: FieldSession, { asset, place, turn, size }: InstanceAt, where: OnWhat): Vector {
  if (where !== 'top') return place
  const high = session.meadow().assets.find(({ number }) => number === asset)?.size[1] ?? 0
  const [x, y, z] = turned(turn, [0, high * size[1], 0])
  return [place[0] + x, place[1] + y, place[2] + z]
}

function ride({ session }: Pick<Desk, 'session'>, { id, name }: Planting, on: InstanceAt, base: PatternBase): void {
  const meadow = session.meadow()
  if (ridesOnItself(meadow.plantings, id, on.planting)) return notify('warning', `“${name}” cannot stand on ${on.planting === id ? 'its own members' : 'what stands on it itself'}; choose another thing.`)
  const riding = mounted(base, on, meadow, terrainHeight(session))
  if (riding) setBase(session, id, riding, 'Stand it on a thing')
}

/** Marks the thing that is pointed at, where the pattern would stand on it. */
export function markThing(desk: Desk, at: Pointer, on: OnWhat): void {
  const { session, state } = desk
  const under = thingUnder(desk, at)
  const one = under && instanceAt(under)
  const place = one && placeOnThing(session, one, on)
  const name = one && session.meadow().assets.find(({ number }) => number === one.asset)?.name
  state.setState({ snap: place ? { at: place, on: { place, words: `the ${on === 'top' ? 'top' : 'foot'} of ${name ?? 'a thing'}` } } : null })
}

/** Centres a pattern on what is chosen: on the one thing, which it goes along with, or in the middle of several. */
export async function centreOnChosen(session: FieldSession, planting: Planting, chosen: Chosen): Promise<void> {
  const { instances } = await hold(session, chosen)
  if (instances.length === 0) return notify('word', 'Nothing is chosen; take up Choose and click the thing that it is to be centred on.')
  const [one] = instances
  if (instances.length === 1) return centreOn({ session }, planting, one, 'foot')
  const ground = sharedGround(instances)
  const frame = groundFrame(ground, session.meadow().meshes, terrainHeight(session))
  const [x, y, z] = [0, 1, 2].map((c) => instances.reduce((sum, { place }) => sum + place[c], 0) / instances.length)
  if (frame) setBase(session, planting.id, baseAt(ground, frame, [x, y, z], planting.base?.host === ground ? frame.turnToWorld(planting.base.turn) : NO_TURN), 'Centre it on what is chosen')
}
