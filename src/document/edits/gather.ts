import { groundFrame } from '../../core/hand/frames.ts'
import type { HeightAt } from '../../core/grounds/terrain.ts'
import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { ParamValue } from '../../core/kinds.ts'
import type { Meadow, Share } from '../../core/meadow.ts'
import { assetsByNumber } from '../../core/meadow.ts'
import type { RingFit, RowFit } from '../../core/order/fit.ts'
import { fitRing, fitRow } from '../../core/order/fit.ts'
import { nameOfMix } from '../mix-name.ts'
import { newId, newPlanting, newSeed, nextColour } from '../new-planting.ts'
import { baseAt } from './base.ts'
import type { Editor } from './editor.ts'
import type { InstanceAt } from './hands.ts'
import { changeByHand, sharedGround } from './hands.ts'

/** The named edits that make one planting in order of things that stand about: what was let go is gathered again. */

/** A planting in order that things fit, before it is made. */
export interface GatheredFit {
  readonly kind: 'row' | 'ring'
  /** How far the worst of them is off its place, m. */
  readonly off: number
  readonly order: readonly number[]
  readonly params: Record<string, ParamValue>
  readonly place: readonly [number, number, number]
  readonly turn: readonly [number, number, number, number]
}

/** Heights above the ground that differ by less lie on it, m. */
const ON_GROUND = 0.05

/** The row and the ring that things fit, the better one first; none for less than two. */
export function fitsOf(things: readonly InstanceAt[], heightAt: HeightAt): GatheredFit[] {
  const above = things.map(({ place: [x, y, z] }) => y - heightAt(x, z))
  const mean = above.reduce((sum, one) => sum + one, 0) / things.length
  const lands = things.every(({ ground }, k) => ground === TERRAIN_ID && Math.abs(above[k] - mean) < ON_GROUND)
  // What lies on the ground is fitted in plan: it goes up and down with that.
  const flat = lands ? things.map((one) => ({ ...one, place: [one.place[0], 0, one.place[2]] as const })) : things
  const uneven = lands ? above.reduce((most, one) => Math.max(most, Math.abs(one - mean)), 0) : 0
  const alike = { land: lands ? 1 : 0, lift: { from: lands ? tidy(mean) : 0, to: lands ? tidy(mean) : 0 } }
  const whole = (off: number) => Math.sqrt(off * off + uneven * uneven)
  const row = fitRow(flat)
  const ring = fitRing(flat)
  const fits: GatheredFit[] = []
  if (row) fits.push({ kind: 'row', off: whole(row.off), order: row.order, params: { ...alike, ...rowParams(row), ...sizes(row.order, things, row.step.factor !== 1) }, place: row.place, turn: row.turn })
  if (ring) fits.push({ kind: 'ring', off: whole(ring.off), order: ring.order, params: { ...alike, ...ringParams(ring), ...sizes(ring.order, things, false) }, place: ring.place, turn: [0, 0, 0, 1] })
  return fits.sort((a, b) => a.off - b.off)
}

/** Without rounding's last places. */
const tidy = (value: number) => Number(value.toFixed(6)) + 0

const turnsOf = (alike: boolean) => ({ turn: { from: 0, to: alike ? 0 : 360 } })

function rowParams({ order, step: { move, degrees, factor }, alike }: RowFit): Record<string, ParamValue> {
  return { count1: order.length, east1: tidy(move[0]), up1: tidy(move[1]), south1: tidy(move[2]), turn1: tidy(degrees), factor1: tidy(factor), ...turnsOf(alike) }
}

function ringParams({ ring: { count, radius, start, arc, facing }, alike }: RingFit): Record<string, ParamValue> {
  // A ring begins anywhere in a round.
  return { count, radius: tidy(radius), start: tidy(start - 360 * Math.round(start / 360)), arc: tidy(arc), facing, ...turnsOf(alike) }
}

/** The sizes that things have, from–to; of what grows by a step that of the first. */
function sizes(order: readonly number[], things: readonly InstanceAt[], bySteps: boolean): Record<string, ParamValue> {
  const all = (bySteps ? order.slice(0, 1) : order).map((k) => things[k].size[1])
  return { size: { from: tidy(Math.min(...all)), to: tidy(Math.max(...all)) } }
}

/** The mix of things in their order, and how they take turns in it. */
function mixOf(order: readonly number[], things: readonly InstanceAt[], { assets }: Meadow): { readonly mix: Share[]; readonly takes: string } {
  const byNumber = assetsByNumber(assets)
  const ids = order.flatMap((k) => byNumber.get(things[k].asset)?.id ?? [])
  const kinds = [...new Set(ids)]
  const mix = kinds.map((asset) => ({ asset, share: ids.filter((id) => id === asset).length }))
  if (kinds.length < 2) return { mix, takes: 'dice' }
  if (ids.every((id, k) => id === kinds[k % kinds.length])) return { mix: kinds.map((asset) => ({ asset, share: 1 })), takes: 'turns' }
  return { mix, takes: ids.every((id, k) => k === 0 || kinds.indexOf(id) >= kinds.indexOf(ids[k - 1])) ? 'place' : 'dice' }
}

/** Makes a planting in order of things, which stand by it from now on; returns its id, null when it was refused. */
export function gatherInOrder(editor: Editor, fit: GatheredFit, things: readonly InstanceAt[], heightAt: HeightAt): string | null {
  const meadow = editor.meadow()
  const host = sharedGround(things)
  const frame = groundFrame(host, meadow.meshes, heightAt)
  if (!frame) return null
  const id = newId()
  const { mix, takes } = mixOf(fit.order, things, meadow)
  const [x, y, z] = fit.place
  const lands = fit.params.land === 1
  const planting = newPlanting({
    id,
    kind: fit.kind,
    name: nameOfMix(mix, meadow.assets),
    colour: nextColour(meadow),
    seed: newSeed(),
    mix,
    base: baseAt(host, frame, lands ? [x, heightAt(x, z), z] : [x, y, z], fit.turn),
    params: { ...fit.params, takes },
  })
  const gesture = `gather ${id}`
  const name = `Gather ${things.length.toLocaleString('en')} in a ${fit.kind}`
  if (!editor.edit(name, (draft) => void draft.plantings.push(planting), gesture)) return null
  return changeByHand(editor, name, things.map((at) => ({ at, to: { out: true } })), heightAt, { gesture, before: meadow.hands }) ? id : null
}
