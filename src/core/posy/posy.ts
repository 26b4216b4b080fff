import { UNTINTED } from '../columns.ts'
import type { HeightAt } from '../grounds/terrain.ts'
import { multiply, turned } from '../math/quaternion.ts'
import type { Quaternion } from '../math/quaternion.ts'
import type { Asset, Part } from '../meadow.ts'

/**
 * Posies: several things kept together as one asset. Whatever grows or is placed knows them as one; where they are
 * drawn or handed off they are taken apart into the models that they are made of in the end.
 */

/** How deep posies may lie in posies: one of models alone is one deep. */
export const MOST_DEEP = 4
/** More models than this, all told, are too many for one posy. */
export const MOST_LEAVES = 2000

type Vector = readonly [number, number, number]

/** Where something stands in a frame. */
export interface Standing {
  readonly place: Vector
  readonly turn: Quaternion
  /** Factor along each of its own axes. */
  readonly size: Vector
}

/** One of the models that a posy is made of in the end, in the frame of the posy. */
export interface Leaf extends Standing {
  readonly asset: Asset
  /** 0xRRGGBBAA; white leaves it as its asset is. */
  readonly tint: number
  /** The plan place of the posy's frame whose ground it follows; null where it keeps its place in the posy. */
  readonly anchor: Anchor | null
}

type Anchor = readonly [x: number, z: number]

/** Tells of one of the parts of a posy how it stands where the posy stands. */
export function standWithin({ place, turn, size }: Standing, part: Standing): Standing {
  const at = turned(turn, [part.place[0] * size[0], part.place[1] * size[1], part.place[2] * size[2]])
  return {
    place: [place[0] + at[0], place[1] + at[1], place[2] + at[2]],
    turn: multiply(turn, part.turn),
    size: size[0] === size[1] && size[1] === size[2] ? [part.size[0] * size[0], part.size[1] * size[0], part.size[2] * size[0]] : sizedAcross(size, part),
  }
}

/** How a part, or a model, of a posy that drapes stands on the terrain: raised by as much as the ground is higher there than where the posy stands. */
export function standDraped(posy: Standing, part: Standing & { readonly anchor: Anchor | null }, heightAt: HeightAt | null): Standing {
  const rigid = standWithin(posy, part)
  if (!part.anchor || !heightAt) return rigid
  const [x, y, z] = rigid.place
  return { ...rigid, place: [x, y + riseAt(posy, part.anchor, heightAt), z] }
}

/** By how much the ground at a plan place of a posy's frame is higher than the posy's own frame has it there, m. */
export function riseAt({ place, turn, size }: Standing, [x, z]: Anchor, heightAt: HeightAt): number {
  const by = turned(turn, [x * size[0], 0, z * size[2]])
  return heightAt(place[0] + by[0], place[2] + by[2]) - heightAt(place[0], place[2]) - by[1]
}

/** A part's size where its posy is sized unlike along its axes: as much longer as each of its own axes becomes. What would be slanted by that stays straight. */
function sizedAcross(size: Vector, part: Standing): Vector {
  const along = ([x, y, z]: Vector) => {
    const [a, b, c] = turned(part.turn, [x, y, z])
    const [u, v, w] = [a * size[0], b * size[1], c * size[2]]
    return Math.sqrt(u * u + v * v + w * w)
  }
  return [part.size[0] * along([1, 0, 0]), part.size[1] * along([0, 1, 0]), part.size[2] * along([0, 0, 1])]
}

/** Two tints, one after the other. */
export function tintedBy(a: number, b: number): number {
  if (a === UNTINTED) return b
  if (b === UNTINTED) return a
  let out = 0
  for (let shift = 24; shift >= 0; shift -= 8) out |= Math.round((((a >>> shift) & 255) * ((b >>> shift) & 255)) / 255) << shift
  return out >>> 0
}

/** Whether a posy, or any in it, has a part whose asset is gone. */
export function losesParts(asset: Asset, byId: ReadonlyMap<string, Asset>, seen: ReadonlySet<string> = new Set()): boolean {
  return asset.parts.some((part) => {
    const own = byId.get(part.asset)
    return !own || (!seen.has(own.id) && losesParts(own, byId, new Set([...seen, asset.id])))
  })
}

/** The models that an asset is made of in the end: itself where it is no posy. Parts whose asset is gone are passed over. */
export function leavesOf(asset: Asset, byId: ReadonlyMap<string, Asset>): Leaf[] {
  const leaves: Leaf[] = []
  gather(asset, { place: [0, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] }, UNTINTED, { byId, deep: 0, follows: asset.drapes ? 'each' : null }, leaves)
  return leaves
}

interface Gathering {
  readonly byId: ReadonlyMap<string, Asset>
  readonly deep: number
  /** Whose ground the parts follow: each its own, all of them that of one place, or none. */
  readonly follows: 'each' | Anchor | null
}

function gather(asset: Asset, at: Standing, tint: number, { byId, deep, follows }: Gathering, into: Leaf[]): void {
  if (asset.parts.length === 0) {
    if (asset.blob !== '') into.push({ asset, ...at, tint, anchor: follows === 'each' ? [at.place[0], at.place[2]] : follows })
    return
  }
  // What goes round in a circle, or has more than it may, ends here: it was refused where it came in.
  if (deep === MOST_DEEP) return
  for (const part of asset.parts) {
    if (into.length >= MOST_LEAVES) return
    const own = byId.get(part.asset)
    if (!own) continue
    const stand = standWithin(at, part)
    // A posy that keeps its shape stands whole on the ground below its own place.
    const next = follows !== 'each' || own.drapes ? follows : ([stand.place[0], stand.place[2]] as const)
    gather(own, stand, tintedBy(tint, part.tint), { byId, deep: deep + 1, follows: next }, into)
  }
}

/** The assets of a meadow by their ids. */
export function assetsById(assets: readonly Asset[]): ReadonlyMap<string, Asset> {
  return new Map(assets.map((asset) => [asset.id, asset]))
}

/** What is wrong with how posies lie in each other, in a sentence; null when nothing is. */
export function nestingProblem(assets: readonly Asset[]): string | null {
  if (assets.every(({ parts }) => parts.length === 0)) return null
  const byId = assetsById(assets)
  /** How deep each is and how many models it has; none while it is being looked at, so that a circle is noticed. */
  const known = new Map<string, { readonly deep: number; readonly leaves: number } | null>()
  const look = (asset: Asset): string | null => {
    if (known.has(asset.id)) return known.get(asset.id) === null ? `the posy “${asset.name}” would be made of itself; take that part out` : null
    known.set(asset.id, null)
    let [deep, leaves] = [0, asset.parts.length === 0 ? 1 : 0]
    for (const { asset: id } of asset.parts) {
      const own = byId.get(id)
      if (!own) continue
      const problem = look(own)
      if (problem) return problem
      const found = known.get(id)
      deep = Math.max(deep, (found?.deep ?? 0) + 1)
      leaves += found?.leaves ?? 0
    }
    known.set(asset.id, { deep, leaves })
    if (deep > MOST_DEEP) return `the posy “${asset.name}” would lie ${deep} deep in others, and at most ${MOST_DEEP} are allowed; take an inner one apart first`
    return leaves > MOST_LEAVES ? `the posy “${asset.name}” would be made of ${leaves.toLocaleString('en')} models in all, and at most ${MOST_LEAVES.toLocaleString('en')} are allowed; leave some out` : null
  }
  for (const asset of assets) {
    const problem = look(asset)
    if (problem) return problem
  }
  return null
}

/** The posies that an asset is a part of, itself in their parts or deeper, by their ids. */
export function posiesWith(assets: readonly Asset[], id: string): Set<string> {
  const found = new Set<string>()
  for (let more = true; more; ) {
    more = false
    for (const { id: own, parts } of assets)
      if (!found.has(own) && parts.some(({ asset }) => asset === id || found.has(asset))) {
        found.add(own)
        more = true
      }
  }
  return found
}

/** A part as an asset stands in a posy's frame. */
export function partOf(asset: string, { place, turn, size }: Standing, tint: number = UNTINTED): Part {
  return { asset, place: [...place], turn: [...turn], size: [...size], tint }
}
