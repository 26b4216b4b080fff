import { convexBase, roomOf } from '../asset/measure.ts'
import { turned } from '../math/quaternion.ts'
import type { Asset } from '../meadow.ts'
import type { Leaf } from './posy.ts'
import { assetsById, leavesOf } from './posy.ts'

/** What is measured on a posy: from the boxes and the bases of its models. */
type PosyMeasures = Pick<Asset, 'size' | 'base' | 'room' | 'triangles'>

/** What stands no higher than this above the lowest, m, or than this share of the whole height, bears the posy. */
const BEARS = 0.05
const BEARS_SHARE = 0.05

/** The posies of a meadow measured anew where what they are made of has become another; the same list where nothing has. */
export function withMeasuredPosies(assets: readonly Asset[]): readonly Asset[] {
  if (assets.every(({ parts }) => parts.length === 0)) return assets
  const byId = assetsById(assets)
  let changed = false
  const next = assets.map((asset) => {
    if (asset.parts.length === 0) return asset
    const measures = measurePosy(leavesOf(asset, byId), asset.drapes)
    const { size, base, room, triangles } = asset
    if (JSON.stringify(measures) === JSON.stringify({ size, base, room, triangles })) return asset
    changed = true
    return { ...asset, ...measures }
  })
  return changed ? next : assets
}

/**
 * Measures a posy. Its box stands on its middle, as those of all assets do: it is as wide as its farthest side is off. One
 * that drapes rests on the place that it stands at, as its parts come down to the ground by themselves.
 */
export function measurePosy(leaves: readonly Leaf[], drapes: boolean): PosyMeasures {
  const far = [0, 0, 0]
  let reach = 0
  const lowest = leaves.reduce((low, { place }) => Math.min(low, place[1]), Infinity)
  for (const { asset, place, turn, size } of leaves) {
    for (let corner = 0; corner < 8; corner++) {
      const own = [asset.size[0] * ((corner & 1) - 0.5), corner & 2 ? asset.size[1] : 0, asset.size[2] * ((corner >> 2) - 0.5)]
      const by = turned(turn, [own[0] * size[0], own[1] * size[1], own[2] * size[2]])
      const at = [place[0] + by[0], place[1] + by[1], place[2] + by[2]]
      far[0] = Math.max(far[0], Math.abs(at[0]))
      far[1] = Math.max(far[1], at[1])
      far[2] = Math.max(far[2], Math.abs(at[2]))
      reach = Math.max(reach, at[0] * at[0] + at[2] * at[2])
    }
  }
  // A lighter form of the posy is made of lighter forms; where a model has fewer of them, of its lightest.
  const forms = leaves.reduce((most, { asset }) => Math.max(most, asset.triangles.length), 0)
  const triangles = Array.from({ length: forms }, (_, form) => leaves.reduce((sum, { asset: { triangles: own } }) => sum + (own[Math.min(form, own.length - 1)] ?? 0), 0))
  const base = convexBase([baseOf(leaves, lowest + Math.max(BEARS, BEARS_SHARE * far[1]))], Infinity)
  return { size: [2 * far[0], far[1], 2 * far[2]], base: drapes ? [0, 0] : base, room: roomOf(base, reach), triangles }
}

/** The corners of the bases of all that stands low, x y z. */
function baseOf(leaves: readonly Leaf[], top: number): number[] {
  const corners: number[] = []
  for (const { asset, place, turn, size } of leaves) {
    if (place[1] > top) continue
    const { base } = asset
    for (let k = 0; k < base.length; k += 2) {
      const by = turned(turn, [base[k] * size[0], 0, base[k + 1] * size[2]])
      corners.push(place[0] + by[0], place[1] + by[1], place[2] + by[2])
    }
  }
  return corners
}
