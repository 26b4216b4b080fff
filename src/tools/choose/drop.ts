import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { Vector } from '../../core/hand/frames.ts'
import type { Chosen } from '../../state/chosen.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { notify } from '../../state/notices.ts'
import { groundsSeen } from '../eyes.ts'
import { changeHeld, hold } from './acts.ts'

/** Ways that things can be dropped. */
export const DROPS = {
  down: { word: 'down', way: [0, -1, 0] },
  up: { word: 'up', way: [0, 1, 0] },
  north: { word: 'to the north', way: [0, 0, -1] },
  east: { word: 'to the east', way: [1, 0, 0] },
  south: { word: 'to the south', way: [0, 0, 1] },
  west: { word: 'to the west', way: [-1, 0, 0] },
} as const satisfies Readonly<Record<string, { readonly word: string; readonly way: Vector }>>
export type Drop = keyof typeof DROPS

/** Farthest that things fall, m. */
const FAR = 30_000
/** Things fall from a little before where they stand, so that they meet what they stand on, m. */
const BEFORE = 0.02

/**
 * Drops each along a direction onto what lies there, the terrain or a mesh; what is under the terrain comes up to it.
 * Where nothing lies, a thing stays, and it is said how many did.
 */
export async function dropAlong(session: FieldSession, chosen: Chosen, drop: Drop): Promise<boolean> {
  const held = await hold(session, chosen)
  const { instances } = held
  const [x, y, z] = DROPS[drop].way
  const grounds = groundsSeen(session.meadow())
  const from = (place: Vector, before: number) => ({ origin: [place[0] - x * before, place[1] - y * before, place[2] - z * before] as const, direction: [x, y, z] as const, reach: FAR })
  const seen = await session.see(instances.map(({ place }) => from(place, BEFORE)), grounds)
  // What is buried falls from above.
  const buried = drop === 'down' ? await session.see(instances.map(({ place }) => from(place, FAR / 2)), [TERRAIN_ID]) : []
  let missed = 0
  const done = changeHeld(session, held, 'Drop', (_, k) => {
    const found = seen[k] ?? buried[k]
    if (!found) {
      missed++
      return {}
    }
    return { place: [found.place.x, found.place.y, found.place.z] }
  })
  if (missed > 0) notify('word', `Nothing lies ${DROPS[drop].word} of ${missed.toLocaleString('en')} of them; ${missed === 1 ? 'it stays' : 'they stay'} where ${missed === 1 ? 'it is' : 'they are'}.`)
  return done
}
