import type { Block } from '../columns.ts'
import { blockOf, copyRow } from '../columns.ts'
import type { HeightAt } from '../grounds/terrain.ts'
import { hashText, mix } from '../math/random.ts'
import type { Quaternion } from '../math/quaternion.ts'
import type { Asset } from '../meadow.ts'
import type { Leaf } from './posy.ts'
import { assetsById, leavesOf, standDraped, tintedBy } from './posy.ts'

/** The models of each posy, by its number. */
export type LeavesByNumber = ReadonlyMap<number, readonly Leaf[]>

const known = new WeakMap<readonly Asset[], LeavesByNumber>()

/** The models of all posies of a meadow, by their numbers; found once for a list of assets. */
export function leavesByNumber(assets: readonly Asset[]): LeavesByNumber {
  const found = known.get(assets)
  if (found) return found
  const byId = assetsById(assets)
  const made = new Map(assets.filter(({ parts }) => parts.length > 0).map((posy) => [posy.number, keptLeaves(posy, leavesOf(posy, byId))]))
  known.set(assets, made)
  return made
}

/** The models that each posy was last found to be made of. */
const last = new WeakMap<Asset, readonly Leaf[]>()

/** The same list as before where nothing of it is another, so that who compares them need not take it apart anew. */
function keptLeaves(posy: Asset, leaves: readonly Leaf[]): readonly Leaf[] {
  const before = last.get(posy)
  if (before?.length === leaves.length && before.every((leaf, k) => isSame(leaf, leaves[k]))) return before
  last.set(posy, leaves)
  return leaves
}

function isSame(a: Leaf, b: Leaf): boolean {
  const numbers = ({ place, turn, size, tint, anchor }: Leaf) => [...place, ...turn, ...size, tint, ...(anchor ?? [])]
  const [own, other] = [numbers(a), numbers(b)]
  return a.asset === b.asset && own.length === other.length && own.every((value, c) => value === other[c])
}

/** How many instances of models a block holds once its posies are taken apart. */
export function countApart({ asset, count }: Block, posies: LeavesByNumber): number {
  if (posies.size === 0) return count
  let all = 0
  for (let i = 0; i < count; i++) all += posies.get(asset[i])?.length ?? 1
  return all
}

/**
 * A block in which each posy is taken apart into the models that it is made of; the same one where there is none. Rows
 * stay sorted by asset, and within one by the key of what they were taken from. A part has an id of its own, made of
 * that of its posy and of which part it is.
 */
export function takenApart(block: Block, posies: LeavesByNumber, { heightAt = null, leftOut = () => false }: ApartOptions = {}): Block {
  const { count, asset } = block
  let some = false
  for (let i = 0; i < count && !some; i++) some = posies.has(asset[i])
  if (!some) return block
  const rows: Row[] = []
  for (let i = 0; i < count; i++) {
    const leaves = posies.get(asset[i])
    if (!leaves) rows.push({ from: i, leaf: null, which: 0, asset: asset[i] })
    else if (!leftOut(block.idLow[i], block.idHigh[i])) leaves.forEach((leaf, which) => rows.push({ from: i, leaf, which, asset: leaf.asset.number }))
  }
  rows.sort((a, b) => a.asset - b.asset || block.key[a.from] - block.key[b.from] || a.from - b.from || a.which - b.which)
  const out = blockOf(rows.length)
  rows.forEach(({ from, leaf, which }, k) => {
    copyRow(block, from, out, k)
    if (leaf) writeLeaf(block, from, leaf, which, heightAt, out, k)
  })
  return out
}

interface ApartOptions {
  /** Heights of the terrain where the block stands on it: what drapes follows them. */
  readonly heightAt?: HeightAt | null
  /** Posies that are passed over. */
  readonly leftOut?: (low: number, high: number) => boolean
}

interface Row {
  readonly from: number
  readonly leaf: Leaf | null
  readonly which: number
  readonly asset: number
}

function writeLeaf({ position: p, rotation: q, scale: s, idLow, idHigh, tint }: Block, from: number, leaf: Leaf, which: number, heightAt: HeightAt | null, out: Block, k: number): void {
  const turn: Quaternion = [q[4 * from], q[4 * from + 1], q[4 * from + 2], q[4 * from + 3]]
  const { place, turn: turnedTo, size } = standDraped({ place: [p[3 * from], p[3 * from + 1], p[3 * from + 2]], turn, size: [s[3 * from], s[3 * from + 1], s[3 * from + 2]] }, leaf, heightAt)
  out.position.set(place, 3 * k)
  out.rotation.set(turnedTo, 4 * k)
  out.scale.set(size, 3 * k)
  out.asset[k] = leaf.asset.number
  out.tint[k] = tintedBy(tint[from], leaf.tint)
  const salt = hashText(`part ${which}`)
  out.idLow[k] = idLow[from] ^ mix(salt ^ idHigh[from])
  out.idHigh[k] = idHigh[from] ^ mix(salt)
}
