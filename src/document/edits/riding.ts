import type { HeightAt } from '../../core/grounds/terrain.ts'
import type { Stand } from '../../core/hand/frames.ts'
import { groundFrame } from '../../core/hand/frames.ts'
import { conjugate, multiply, normalised, NO_TURN, turned } from '../../core/math/quaternion.ts'
import type { Meadow, PatternBase, Ridden } from '../../core/meadow.ts'
import type { Follow } from '../history.ts'
import { baseAt } from './base.ts'
import type { InstanceAt } from './hands.ts'

/** Patterns that stand on a peg or on another thing: where that is moved, their base goes along. */

type Meshes = Pick<Meadow, 'meshes'>

/** What a base is to ride on. */
export type Mount = { readonly peg: string } | InstanceAt

/** How something that stands on a ground is kept there. */
function keptAt(ground: string, { place, turn, size }: Stand, { meshes }: Meshes, heightAt: HeightAt): Pick<Ridden, 'place' | 'turn' | 'size'> | null {
  const frame = groundFrame(ground, meshes, heightAt)
  if (!frame) return null
  const [x, y, z] = frame.placeToOwn(place)
  const [a, b, c, d] = normalised(frame.turnToOwn(turn))
  return { place: [x, y, z], turn: [a, b, c, d], size: meanSize(size) / frame.size }
}

/** One factor for a thing that is sized by three. */
function meanSize([x, y, z]: Stand['size']): number {
  return Math.cbrt(Math.abs(x * y * z)) || 1
}

/** The base with what it rides on from now on; null where that is gone. */
export function mounted(base: PatternBase, on: Mount, meadow: Pick<Meadow, 'meshes' | 'pegs'>, heightAt: HeightAt): PatternBase | null {
  if ('peg' in on) {
    const peg = meadow.pegs.find(({ id }) => id === on.peg)
    return peg?.ground === base.host ? { ...base, rides: { thing: 'peg', id: peg.id, low: 0, high: 0, place: [...peg.place], turn: [...NO_TURN], size: 1 } } : null
  }
  const kept = on.ground === base.host ? keptAt(on.ground, on, meadow, heightAt) : null
  return kept && { ...base, rides: { thing: 'instance', id: on.planting, low: on.low, high: on.high, ...kept } }
}

/** The base gone along with what it rides on, which now stands so on a ground. */
function carried(base: PatternBase, rides: Ridden, to: Pick<Ridden, 'place' | 'turn' | 'size'>, ground: string, { meshes }: Meshes, heightAt: HeightAt): PatternBase | null {
  const [before, after] = [base.host, ground].map((id) => groundFrame(id, meshes, heightAt))
  if (!before || !after) return null
  // From where it stood to where it stands, both as they are in the world now.
  const [from, now] = [before.placeToWorld(rides.place), after.placeToWorld(to.place)]
  const back = conjugate(before.turnToWorld(rides.turn))
  const there = after.turnToWorld(to.turn)
  const grown = (to.size * after.size) / (rides.size * before.size)
  const own = before.placeToWorld(base.place)
  const at = turned(there, turned(back, [own[0] - from[0], own[1] - from[1], own[2] - from[2]]))
  const turn = multiply(there, multiply(back, before.turnToWorld(base.turn)))
  const stood = baseAt(ground, after, [now[0] + grown * at[0], now[1] + grown * at[1], now[2] + grown * at[2]], turn)
  return { ...stood, size: (base.size * after.size) / (before.size * grown), rides: { ...rides, place: [...to.place], turn: [...to.turn], size: to.size } }
}

/** Lets what rides on pegs go along where these are moved. */
export const followPegs =
  (heightAt: () => HeightAt): Follow =>
  (before, draft, now) => {
    if (now.pegs === before.pegs) return
    now.plantings.forEach(({ base }, k) => {
      if (base?.rides?.thing !== 'peg') return
      const { rides } = base
      const peg = now.pegs.find(({ id }) => id === rides.id)
      if (!peg || (peg.ground === base.host && peg.place.every((value, c) => value === rides.place[c]))) return
      const next = carried(base, rides, { place: peg.place, turn: NO_TURN as Ridden['turn'], size: 1 }, peg.ground, now, heightAt())
      if (next) draft.plantings[k].base = next
    })
  }

/** Places that differ by less are the same: instances are kept as single floats, m and shares of how far off they are. */
const SAME = 1e-5
const ROUNDED = 1e-6

/** The bases that have to go along, as what they ride on no longer stands as it stood; `standOf` tells how an instance stands, null where it is gone. */
export function ridersToMove(meadow: Meadow, standOf: (planting: string, low: number, high: number) => InstanceAt | null, heightAt: HeightAt): { readonly planting: string; readonly base: PatternBase }[] {
  return meadow.plantings.flatMap(({ id, base }) => {
    if (base?.rides?.thing !== 'instance') return []
    const { rides } = base
    const on = standOf(rides.id, rides.low, rides.high)
    const to = on && keptAt(on.ground, on, meadow, heightAt)
    if (!to || (on.ground === base.host && alike(rides, to, on))) return []
    const next = carried(base, rides, to, on.ground, meadow, heightAt)
    return next ? [{ planting: id, base: next }] : []
  })
}

function alike(a: Pick<Ridden, 'place' | 'turn' | 'size'>, b: Pick<Ridden, 'place' | 'turn' | 'size'>, { place }: InstanceAt): boolean {
  const far = SAME + ROUNDED * Math.max(...place.map(Math.abs))
  // The same turn has two signs.
  const sign = a.turn.reduce((sum, value, c) => sum + value * b.turn[c], 0) < 0 ? -1 : 1
  return a.place.every((value, c) => Math.abs(value - b.place[c]) <= far) && Math.abs(a.size - b.size) <= SAME * a.size && a.turn.every((value, c) => Math.abs(value - sign * b.turn[c]) <= SAME)
}

/** Whether a planting would ride on itself, through however many others: neither could be told where it stands. */
export function ridesOnItself(plantings: Meadow['plantings'], planting: string, on: string): boolean {
  const seen = new Set<string>()
  for (let at: string | undefined = on; at !== undefined && !seen.has(at); ) {
    if (at === planting) return true
    seen.add(at)
    const own: PatternBase | null | undefined = plantings.find(({ id }) => id === at)?.base
    at = own?.rides?.thing === 'instance' ? own.rides.id : undefined
  }
  return false
}
