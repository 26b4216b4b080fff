import { heightOf } from '../../core/grounds/terrain.ts'
import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { Vector } from '../../core/hand/frames.ts'
import type { Quaternion } from '../../core/math/quaternion.ts'
import { multiply, normalised, turned } from '../../core/math/quaternion.ts'
import { random } from '../../core/math/random.ts'
import type { Becomes, HandGesture, InstanceAt } from '../../document/edits/hands.ts'
import { changeByHand, letGo } from '../../document/edits/hands.ts'
import { newGesture } from '../../document/history.ts'
import { newSeed } from '../../document/new-planting.ts'
import type { Chosen } from '../../state/chosen.ts'
import { countChosen, standing } from '../../state/chosen.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { notify } from '../../state/notices.ts'
import type { PartOf } from '../of-mix.ts'
import { oneOf } from '../of-mix.ts'

/** What can be done with what is chosen. */

/** Most that can be let go at once: each single is some 120 bytes of the document. */
const MOST_LET_GO = 100_000

/** What is chosen as it stands when a change begins: all edits of the change start from there. */
export interface Held extends HandGesture {
  readonly instances: readonly InstanceAt[]
}

/** Takes hold of what is chosen once growing has come to rest, so that what is seen is what the document says. */
export async function hold(session: FieldSession, chosen: Chosen): Promise<Held> {
  await atRest(session)
  return { instances: standing(session.instances, chosen), gesture: newGesture(), before: session.meadow().hands }
}

/** Takes hold once a gesture: what goes on with it begins from where things stood before it. */
export function holdByGesture(session: FieldSession): (chosen: Chosen, gesture: string | undefined) => Promise<Held> {
  let last: { readonly gesture: string | undefined; readonly held: Promise<Held> } | null = null
  return (chosen, gesture) => {
    const own = gesture !== undefined && last?.gesture === gesture ? last : { gesture, held: hold(session, chosen) }
    last = own
    return own.held
  }
}

function atRest({ store }: FieldSession): Promise<void> {
  if (!store.getState().growing) return Promise.resolve()
  return new Promise((resolve) => {
    const stop = store.subscribe(({ growing }) => {
      if (growing) return
      stop()
      resolve()
    })
  })
}

export function terrainHeight(session: FieldSession): (x: number, z: number) => number {
  return heightOf(session.store.getState().terrain)
}

/** Changes each of what is held. */
export function changeHeld(session: FieldSession, held: Held, does: string, become: (at: InstanceAt, k: number) => Becomes): boolean {
  const { instances } = held
  if (instances.length === 0) return false
  const name = `${does} ${instances.length === 1 ? 'one' : instances.length.toLocaleString('en')}`
  const changes = instances.map((at, k) => ({ at, to: become(at, k) })).filter(({ to }) => Object.keys(to).length > 0)
  return changes.length > 0 && changeByHand(session, name, changes, terrainHeight(session), held)
}

/** Moves by a way, m: on the terrain each keeps its height above the ground, and `up` comes to that. */
export function movedBy(session: FieldSession, [dx, up, dz]: Vector): (at: InstanceAt) => { readonly place: Vector } {
  return (at) => {
    const [x, y, z] = placeOver(session, at, at.place[0] + dx, at.place[2] + dz)
    return { place: [x, y + up, z] }
  }
}

/** A place over the plan at which a thing on the terrain has the height above it that it has now; elsewhere its height stays. */
export function placeOver(session: FieldSession, { place: [x, y, z], ground }: InstanceAt, toX: number, toZ: number): Vector {
  const height = terrainHeight(session)
  return [toX, y + (ground === TERRAIN_ID ? height(toX, toZ) - height(x, z) : 0), toZ]
}

/** A turn about an axis of length 1, degrees. */
export function turnAbout([x, y, z]: readonly [number, number, number], degrees: number): Quaternion {
  const half = (degrees * Math.PI) / 360
  return [x * Math.sin(half), y * Math.sin(half), z * Math.sin(half), Math.cos(half)]
}

/** Turns about the world's up, each about its own place or all about their common middle. */
export function turnedBy(instances: readonly InstanceAt[], degrees: number, about: About): (at: InstanceAt) => Becomes {
  const turn = turnAbout([0, 1, 0], degrees)
  const middle = middleOf(instances)
  return (at) => {
    const own = normalised(multiply(turn, at.turn))
    if (about === 'own') return { turn: own }
    const [x, , z] = turned(turn, [at.place[0] - middle[0], 0, at.place[2] - middle[2]])
    return { turn: own, place: [middle[0] + x, at.place[1], middle[2] + z] }
  }
}

/** Sizes by a factor, each about its own place or all about their common middle. */
export function sizedBy(instances: readonly InstanceAt[], factor: number, about: About): (at: InstanceAt) => Becomes {
  const middle = middleOf(instances)
  return ({ size, place }) => ({
    size: [size[0] * factor, size[1] * factor, size[2] * factor],
    ...(about === 'middle' && { place: [middle[0] + (place[0] - middle[0]) * factor, place[1], middle[2] + (place[2] - middle[2]) * factor] as const }),
  })
}

/** Where a thing faces: degrees clockwise seen from above. */
export function compassOf([x, y, z, w]: Quaternion): number {
  return ((Math.atan2(2 * (w * y + x * z), 1 - 2 * (x * x + y * y)) * 180) / Math.PI + 360) % 360
}

/** Sets where the middle of things is, and how each is turned about the world's up and sized; what is not given stays. */
export function setTo(instances: readonly InstanceAt[], { east, south, up, turn, size }: Partial<Readonly<Record<'east' | 'south' | 'up' | 'turn' | 'size', number>>>): (at: InstanceAt) => Becomes {
  const middle = middleOf(instances)
  const by = [east, up, south].map((to, c) => (to === undefined ? 0 : to - middle[c]))
  return (at) => ({
    ...(by.some((one) => one !== 0) && { place: [at.place[0] + by[0], at.place[1] + by[1], at.place[2] + by[2]] as const }),
    ...(turn !== undefined && { turn: normalised(multiply(turnAbout([0, 1, 0], turn - compassOf(at.turn)), at.turn)) }),
    ...(size !== undefined && { size: [size, size, size] as const }),
  })
}

/** Whether things are turned and sized about their own places, or about their common middle. */
export type About = 'own' | 'middle'

/** The middle of where things stand. */
export function middleOf(instances: readonly InstanceAt[]): readonly [number, number, number] {
  const sum = [0, 0, 0]
  for (const { place } of instances) for (const c of [0, 1, 2]) sum[c] += place[c]
  return [sum[0] / instances.length, sum[1] / instances.length, sum[2] / instances.length]
}

/** From–to of what comes at random. */
export interface RandomSpans {
  /** Degrees about its own up. */
  readonly turn: readonly [number, number]
  /** Factors on the size it has. */
  readonly size: readonly [number, number]
  /** Degrees to any side. */
  readonly lean: readonly [number, number]
}

/** Turns, sizes and leans each at random from–to, by a throw; each has dice of its own. */
export function atRandom(seed: number, { turn, size, lean }: RandomSpans): (at: InstanceAt) => Becomes {
  return ({ low, high, turn: now, size: own }) => {
    const between = ([from, to]: readonly [number, number], channel: number) => from + (to - from) * random(seed, low, high, channel)
    const factor = between(size, 2)
    const turnedAt = normalised(multiply(now, turnAbout([0, 1, 0], between(turn, 1))))
    return { turn: leant(turnedAt, between(lean, 3), 360 * random(seed, low, high, 4)), size: [own[0] * factor, own[1] * factor, own[2] * factor] }
  }
}

/** Leaned by degrees towards a compass direction, degrees. */
export function leant(turn: Quaternion, degrees: number, towards: number): Quaternion {
  if (degrees === 0) return turn
  const way = (towards * Math.PI) / 180
  // About the level axis across the direction.
  return normalised(multiply(turnAbout([Math.cos(way), 0, Math.sin(way)], -degrees), turn))
}

export async function takeOut(session: FieldSession, chosen: Chosen): Promise<boolean> {
  const held = await hold(session, chosen)
  const done = changeHeld(session, held, 'Take out', () => ({ out: true }))
  if (done) notify('word', `${countChosen(chosen).toLocaleString('en')} taken out.`, { label: 'Bring them back', run: session.undo })
  return done
}

/** What things are swapped for: assets with shares, thrown by a seed; and what of turn and size they keep. */
export interface SwapFor {
  readonly name: string
  readonly mix: readonly PartOf[]
  readonly keep: { readonly turn: boolean; readonly size: boolean }
}

/** Puts other assets in their places. What is not kept comes upright and of natural size, turned at random. */
export async function swapFor(session: FieldSession, chosen: Chosen, { name, mix, keep }: SwapFor): Promise<boolean> {
  if (mix.length === 0) {
    notify('word', 'That mix is empty; choose an asset, or a planting with a mix.')
    return false
  }
  const seed = newSeed()
  const held = await hold(session, chosen)
  return changeHeld(session, held, `Swap for ${name}`, ({ low, high }) => {
    const taken = oneOf(mix, random(seed, low, high, 5)) ?? mix[0]
    return {
      asset: taken.asset.number,
      ...(!keep.turn && { turn: turnAbout([0, 1, 0], 360 * random(seed, low, high, 6)) }),
      ...(!keep.size && { size: [1, 1, 1] as const }),
    }
  })
}

/** Lets the rules go of them; says so where there are more than a document should hold. */
export async function letGoOf(session: FieldSession, chosen: Chosen): Promise<boolean> {
  const count = countChosen(chosen)
  if (count > MOST_LET_GO) {
    notify('warning', `${count.toLocaleString('en')} singles would take some ${Math.round((count * 120) / 1e6).toLocaleString('en')} MB of the meadow's document, and every change of them as much again; at most ${MOST_LET_GO.toLocaleString('en')} are let go at once. Nothing was changed.`)
    return false
  }
  const { instances } = await hold(session, chosen)
  return letGo(session, instances, terrainHeight(session))
}
