import { hashString, hashWords } from '../core/content-hash.ts'
import type { HandNear } from '../core/hand/held.ts'
import { H, M } from '../core/hand/held.ts'
import { NONE, S, SINGLE, T, TOUCH } from '../core/hand/layout.ts'
import type { GroundFrame } from '../core/hand/frames.ts'
import { groundFrame } from '../core/hand/frames.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import { valuesOf } from '../core/long-list.ts'
import type { Quaternion } from '../core/math/quaternion.ts'
import type { Asset, HandWork, Meadow, PlacedMesh, Planting } from '../core/meadow.ts'
import { assetsByNumber } from '../core/meadow.ts'
import { planCells } from './plan-cells.ts'

/** An instance that a touch-up takes for its own, as the one that it was made for is not there: its id and where it stands. */
export interface Attached {
  readonly low: number
  readonly high: number
  readonly place: readonly [number, number, number]
}

/** What a touch-up was made for. */
export interface TouchOf {
  /** Its number among those of its planting. */
  readonly number: number
  readonly low: number
  readonly high: number
  readonly ground: string
  readonly asset: number
  readonly home: readonly [number, number, number]
}

/** The hand work of a planting as growing asks for it. */
export interface HandOf {
  /** Names all of it. */
  readonly name: string
  readonly touches: readonly TouchOf[]
  /** What of it can matter to a tile of a ground that is widened by `by`; all that is of the ground where that grows as a whole (null), however far from it. Null when nothing can. */
  near(ground: string, rect: Rect | null, by: number): (HandNear & { readonly name: string; readonly touchNumbers: readonly number[] }) | null
  /** Whether any touch-up is of, or comes to, a tile of a ground that is widened by `by`. */
  touchesNear(ground: string, rect: Rect, by: number): boolean
  /** Plan places x z of the singles on a ground, and of what is moved there. */
  places(ground: string): readonly (readonly [number, number])[]
}

/** Rows of the world with what they concern. */
interface Entry {
  readonly row: readonly number[]
  readonly box: Rect
}

interface OnGround {
  readonly singles: readonly Entry[]
  readonly touched: readonly (Entry & { readonly number: number })[]
  readonly nearSingles: ReturnType<typeof planCells>
  readonly nearTouched: ReturnType<typeof planCells>
}

interface Known {
  readonly meshes: readonly PlacedMesh[]
  readonly assets: readonly Asset[]
  readonly share: number
  readonly attached: string
  readonly hand: HandOf
}

/** Hand work as it is, and as some of it is attached anew: a growing asks for both. */
const known = { plain: new WeakMap<HandWork, Known>(), anew: new WeakMap<HandWork, Known>() }

/** The hand work of a planting; null when there is none. `attached` are the instances that touch-ups take for their own, by the touch-ups' numbers. */
export function handOf({ hands, meshes, assets }: Meadow, { id, params }: Planting, attached: ReadonlyMap<number, Attached> = new Map()): HandOf | null {
  const work = hands.find((one) => one.id === id)
  if (!work || (valuesOf(work.singles[0] ?? []).length === 0 && valuesOf(work.touched[0] ?? []).length === 0)) return null
  const share = typeof params.room === 'number' ? params.room : 1
  const as = [...attached].map(([k, { low, high }]) => `${k} ${low} ${high}`).join()
  const kept = attached.size > 0 ? known.anew : known.plain
  const found = kept.get(work)
  if (found?.meshes === meshes && found.assets === assets && found.share === share && found.attached === as) return found.hand
  const hand = makeHand(work, meshes, assetsByNumber(assets), share, attached)
  kept.set(work, { meshes, assets, share, attached: as, hand })
  return hand
}

function makeHand(work: HandWork, meshes: readonly PlacedMesh[], assets: ReadonlyMap<number, Asset>, share: number, attached: ReadonlyMap<number, Attached>): HandOf {
  // Heights above the terrain stay such: whoever grows a tile adds them to it.
  const frames = work.grounds.map((id) => groundFrame(id, meshes, () => 0))
  const singles = singlesOf(work, frames, assets, share)
  const { touched, touches } = touchedOf(work, frames, assets, share, attached)
  const grounds = new Map<string, OnGround>()
  work.grounds.forEach((id, g) => {
    const own = { singles: singles.filter((one) => one.ground === g), touched: touched.filter((one) => one.ground === g) }
    grounds.set(id, { ...own, nearSingles: planCells(own.singles.map(({ box }) => box)), nearTouched: planCells(own.touched.map(({ box }) => box)) })
  })
  const named = [...singles, ...touched].flatMap(({ row }) => row)
  return {
    name: hashString(`${work.grounds.join()} ${singles.length} ${hashWords(new Uint32Array(Float64Array.from(named).buffer))}`),
    touches,
    near(ground, rect, by) {
      const on = grounds.get(ground)
      if (!on) return null
      const ownSingles = rect ? on.nearSingles.near(rect, by).map((k) => on.singles[k]) : on.singles
      const ownTouched = rect ? on.nearTouched.near(rect, by).map((k) => on.touched[k]) : on.touched
      if (ownSingles.length + ownTouched.length === 0) return null
      const hand = { singles: Float64Array.from(ownSingles.flatMap(({ row }) => row)), touched: Float64Array.from(ownTouched.flatMap(({ row }) => row)) }
      const name = [hand.singles, hand.touched].map((rows) => hashWords(new Uint32Array(rows.buffer))).join(' ')
      return { ...hand, name, touchNumbers: ownTouched.map(({ number }) => number) }
    },
    touchesNear: (ground, rect, by) => (grounds.get(ground)?.nearTouched.near(rect, by).length ?? 0) > 0,
    places(ground) {
      const on = grounds.get(ground)
      if (!on) return []
      const moved = on.touched.filter(({ row }) => row[M.out] === 0).map(({ row }): [number, number] => [row[M.home] + row[M.move], row[M.home + 2] + row[M.move + 2]])
      return [...on.singles.map(({ row }): [number, number] => [row[H.place], row[H.place + 2]]), ...moved]
    },
  }
}

const at = (values: readonly number[], k: number): [number, number, number] => [values[k], values[k + 1], values[k + 2]]
const turnAt = (values: readonly number[], k: number): Quaternion => [values[k], values[k + 1], values[k + 2], values[k + 3]]

function singlesOf({ singles }: HandWork, frames: readonly (GroundFrame | null)[], assets: ReadonlyMap<number, Asset>, share: number) {
  const values = valuesOf(singles[0] ?? [])
  const found: (Entry & { readonly ground: number })[] = []
  for (let k = 0; k < values.length; k += SINGLE) {
    const frame = frames[values[k + S.ground]]
    const asset = assets.get(values[k + S.asset])
    // What stood on a mesh that is gone, or was of an asset that is gone, is kept and waits.
    if (!frame || !asset) continue
    const [x, y, z] = frame.placeToWorld(at(values, k + S.place))
    const turn = frame.turnToWorld(turnAt(values, k + S.turn))
    const size = at(values, k + S.size).map((one) => one * frame.size)
    const room = asset.room * share * Math.max(size[0], size[2])
    found.push({ ground: values[k + S.ground], row: [values[k + S.low], values[k + S.high], values[k + S.asset], values[k + S.tint], x, y, z, ...turn, ...size, room], box: { x0: x - room, z0: z - room, x1: x + room, z1: z + room } })
  }
  return found
}

function touchedOf({ touched, grounds }: HandWork, frames: readonly (GroundFrame | null)[], assets: ReadonlyMap<number, Asset>, share: number, attached: ReadonlyMap<number, Attached>) {
  const values = valuesOf(touched[0] ?? [])
  const found: (Entry & { readonly ground: number; readonly number: number })[] = []
  const touches: TouchOf[] = []
  for (let k = 0; k < values.length; k += TOUCH) {
    const number = k / TOUCH
    const ground = values[k + T.ground]
    const frame = frames[ground]
    if (!frame) continue
    const as = attached.get(number)
    const stood = frame.placeToWorld(at(values, k + T.home))
    const home = as?.place ?? stood
    touches.push({ number, low: values[k + T.low], high: values[k + T.high], ground: grounds[ground], asset: values[k + T.asset], home: stood })
    const by = frame.wayToWorld(at(values, k + T.move))
    const turn = frame.turningToWorld(turnAt(values, k + T.turn))
    const size = at(values, k + T.size)
    const swap = assets.has(values[k + T.swap]) ? values[k + T.swap] : NONE
    const room = (assets.get(swap === NONE ? values[k + T.asset] : swap)?.room ?? 0) * share
    const wide = 2 * room * Math.max(size[0], size[2], 1)
    const [x0, x1] = [Math.min(home[0], home[0] + by[0]), Math.max(home[0], home[0] + by[0])]
    const [z0, z1] = [Math.min(home[2], home[2] + by[2]), Math.max(home[2], home[2] + by[2])]
    found.push({
      ground,
      number,
      row: [as?.low ?? values[k + T.low], as?.high ?? values[k + T.high], ...home, values[k + T.out], ...by, ...turn, ...size, swap, values[k + T.tint], room],
      box: { x0: x0 - wide, z0: z0 - wide, x1: x1 + wide, z1: z1 + wide },
    })
  }
  return { touched: found, touches }
}
