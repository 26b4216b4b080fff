import type * as THREE from 'three'
import { Color } from 'three'
import type { Block } from '../core/columns.ts'
import { assetRuns } from '../core/columns.ts'
import type { AssetForms } from './asset-forms.ts'
import type { GroundCover } from './materials.ts'

/** Cells along the ground. */
const SIDE = 512
/** Plants up to the first height colour the ground in full, from the second on not at all, m: those are seen from afar. */
const LOW = { full: 0.9, none: 2 }
/** Share of an asset's plan box that its leaves cover. */
const FILL = 0.45
/** More instances than this are looked at in part. */
const MOST_READ = 600_000

/** What an asset gives the ground: its mean colour, linear, and the area that one of size 1 covers, m². */
export interface CoverOf {
  readonly colour: Color
  readonly area: number
}

/** How an asset covers the ground; null when it is too tall, or of a texture whose colour is not known. */
export function coverOf(forms: AssetForms, [width, height, depth]: readonly number[]): CoverOf | null {
  const low = Math.min(1, Math.max(0, (LOW.none - height) / (LOW.none - LOW.full)))
  const form = forms.forms[forms.forms.length - 1]
  if (low === 0 || !form || form.parts.some(({ material }) => material.map)) return null
  const colour = new Color(0, 0, 0)
  let weight = 0
  for (const { geometry, material } of form.parts) {
    const colours = geometry.getAttribute('color') as THREE.BufferAttribute | undefined
    const { count } = geometry.getAttribute('position')
    const one = new Color()
    for (let i = 0; i < count; i++) {
      one.copy(material.color)
      if (colours) one.multiply(new Color(colours.getX(i), colours.getY(i), colours.getZ(i)))
      colour.add(one)
    }
    weight += count
  }
  return weight === 0 ? null : { colour: colour.multiplyScalar(1 / weight), area: width * depth * FILL * low }
}

/** Reads the map off the blocks that stand on a terrain of the given size. */
export function readCover(blocks: readonly Block[], sizeX: number, sizeZ: number, ofAsset: (asset: number) => CoverOf | null): GroundCover {
  const sums = new Float32Array(4 * SIDE * SIDE)
  const all = blocks.reduce((sum, { count }) => sum + count, 0)
  const stride = Math.ceil(all / MOST_READ)
  for (const block of blocks)
    for (const { asset, start, end } of assetRuns(block)) {
      const cover = ofAsset(asset)
      if (!cover) continue
      const { colour } = cover
      const area = cover.area * stride
      const { position, scale } = block
      for (let i = start; i < end; i += stride) {
        const c = Math.floor((position[3 * i] / sizeX + 0.5) * SIDE)
        const r = Math.floor((position[3 * i + 2] / sizeZ + 0.5) * SIDE)
        if (c < 0 || r < 0 || c >= SIDE || r >= SIDE) continue
        const own = area * scale[3 * i] * scale[3 * i + 2]
        const at = 4 * (r * SIDE + c)
        sums[at] += own * colour.r
        sums[at + 1] += own * colour.g
        sums[at + 2] += own * colour.b
        sums[at + 3] += own
      }
    }
  const bytes = new Uint8Array(4 * SIDE * SIDE)
  const cell = (sizeX * sizeZ) / (SIDE * SIDE)
  for (let at = 0; at < sums.length; at += 4) {
    const area = sums[at + 3]
    if (area === 0) continue
    for (let c = 0; c < 3; c++) bytes[at + c] = Math.min(255, Math.round(255 * Math.sqrt(sums[at + c] / area)))
    // What falls at random on what is covered already covers nothing more.
    bytes[at + 3] = Math.round(255 * (1 - Math.exp(-area / cell)))
  }
  return { side: SIDE, bytes }
}
