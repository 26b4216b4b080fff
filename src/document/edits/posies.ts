import { UNTINTED } from '../../core/columns.ts'
import { groundFrame } from '../../core/hand/frames.ts'
import type { Stand } from '../../core/hand/frames.ts'
import { S, SINGLE } from '../../core/hand/layout.ts'
import type { HeightAt } from '../../core/grounds/terrain.ts'
import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import { valuesOf } from '../../core/long-list.ts'
import { conjugate, multiply, normalised, turned } from '../../core/math/quaternion.ts'
import type { Asset, Meadow, OpenedPosy, Part } from '../../core/meadow.ts'
import { assetsByNumber } from '../../core/meadow.ts'
import { LIMITS } from '../../core/limits.ts'
import { measurePosy, withMeasuredPosies } from '../../core/posy/measure.ts'
import type { Standing } from '../../core/posy/posy.ts'
import { assetsById, leavesOf, partOf, riseAt, standDraped, tintedBy } from '../../core/posy/posy.ts'
import { newId, newPlanting, newSeed } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import type { InstanceAt, NewSingle } from './hands.ts'
import { addSingles, changeByHand, sharedGround } from './hands.ts'

/** The named edits of posies: what is chosen is gathered into one, it is opened, changed in place, put together, taken apart. */

/** The category of posies on the shelf. */
export const POSIES = 'Posies'

/** How something stands in the frame of a posy, which drapes over the terrain or keeps its shape. */
function inFrame(frame: Standing, stand: Stand, drapes: boolean, heightAt: HeightAt): Standing {
  const rigid = rigidInFrame(frame, stand)
  if (!drapes) return rigid
  // Where the frame leans, a rise moves the plan place a little, and that the rise: a few rounds settle both.
  let own = rigid
  for (let round = 0; round < ROUNDS; round++) {
    const [x, y, z] = stand.place
    own = rigidInFrame(frame, { ...stand, place: [x, y - riseAt(frame, [own.place[0], own.place[2]], heightAt), z] })
  }
  return own
}

const ROUNDS = 12

function rigidInFrame(frame: Standing, { place, turn, size }: Stand): Standing {
  const back = conjugate(frame.turn)
  const [by] = frame.size
  const at = turned(back, [place[0] - frame.place[0], place[1] - frame.place[1], place[2] - frame.place[2]])
  return { place: [at[0] / by, at[1] / by, at[2] / by], turn: normalised(multiply(back, turn)), size: [size[0] / by, size[1] / by, size[2] / by] }
}

/** How a part stands in the world where its posy stands so. */
function standIn(frame: Standing, part: Part, drapes: boolean, heightAt: HeightAt): Standing {
  return standDraped(frame, { ...part, anchor: drapes ? [part.place[0], part.place[2]] : null }, heightAt)
}

/** What would be too many parts, in a sentence; null when so many may be. */
export function tooManyParts(count: number): string | null {
  return count > LIMITS.parts ? `A posy has at most ${LIMITS.parts} parts, and ${count.toLocaleString('en')} are chosen; gather fewer, or gather posies of them.` : null
}

/** The upright frame that chosen things are gathered about: the middle of where they stand, as high as the lowest, or on the ground of that place. */
export function frameAround(things: readonly Stand[], ground: HeightAt | null): Standing {
  const [low, high] = [Math.min, Math.max].map((of) => [0, 1, 2].map((c) => things.reduce((found, { place }) => of(found, place[c]), of === Math.min ? Infinity : -Infinity)))
  const [x, z] = [(low[0] + high[0]) / 2, (low[2] + high[2]) / 2]
  return { place: [x, ground ? ground(x, z) : low[1], z], turn: [0, 0, 0, 1], size: [1, 1, 1] }
}

/**
 * Gathers things into a posy on the shelf, and puts one in their place when asked, in the planting of the first of them.
 * Returns the posy's id and the id of the one that was placed; null when it was refused.
 */
export function gatherPosy(editor: Editor, name: string, things: readonly InstanceAt[], heightAt: HeightAt, { instead, drapes }: { readonly instead: boolean; readonly drapes: boolean }): { readonly asset: string; readonly placed: InstanceAt | null } | null {
  const { assets, nextAsset: number } = editor.meadow()
  const byNumber = assetsByNumber(assets)
  const frame = frameAround(things, drapes ? heightAt : null)
  const parts = things.flatMap((thing): Part[] => {
    const own = byNumber.get(thing.asset)
    return own ? [partOf(own.id, inFrame(frame, thing, drapes, heightAt), thing.tint)] : []
  })
  if (parts.length === 0) return null
  const posy = posyOf(name, parts, drapes, assets)
  const gesture = `gather ${posy.id}`
  const title = 'Gather a posy'
  const added = editor.edit(title, (draft) => void draft.assets.push({ ...posy, number: draft.nextAsset++ }), gesture)
  if (!added) return null
  if (!instead) return { asset: posy.id, placed: null }
  const { planting } = things[0]
  const one: NewSingle = { planting, ground: sharedGround(things), asset: number, ...frame }
  const { hands } = editor.meadow()
  if (!changeByHand(editor, title, things.map((at) => ({ at, to: { out: true } })), heightAt, { gesture, before: hands })) return { asset: posy.id, placed: null }
  const [id] = addSingles(editor, title, [one], heightAt, gesture)
  return { asset: posy.id, placed: id ? { ...one, ...id, tint: UNTINTED } : null }
}

/** A posy of parts, measured. */
export function posyOf(name: string, parts: readonly Part[], drapes: boolean, assets: readonly Asset[]): Omit<Asset, 'number'> {
  const bare: Omit<Asset, 'number'> = { id: newId(), name, category: POSIES, tags: [], licence: '', parts: [...parts], drapes, blob: '', standIns: [], size: [0, 0, 0], base: [], room: 0, triangles: [] }
  return { ...bare, ...measurePosy(leavesOf({ ...bare, number: -1 }, assetsById(assets)), drapes) }
}

/** Opens a posy at a frame of the world: its parts stand there as things placed by hand, and it follows them. Another one that is open is put together. Returns the planting of its parts. */
export function openPosy(editor: Editor, asset: Asset, at: Stand, instead: OpenedPosy['instead'], heightAt: HeightAt): string | null {
  const meadow = editor.meadow()
  const size = (at.size[0] + at.size[1] + at.size[2]) / 3
  const frame: Standing = { place: at.place, turn: at.turn, size: [size, size, size] }
  const byId = assetsById(meadow.assets)
  const planting = newPlanting({ kind: 'sown', name: `Parts of ${asset.name}`, colour: '#b0536b', seed: newSeed(), mix: [...new Set(asset.parts.map((part) => part.asset))].filter((id) => byId.has(id)).map((id) => ({ asset: id, share: 1 })), params: { room: 0, yields: false } })
  const gesture = `open ${planting.id}`
  const name = `Open the posy ${asset.name}`
  const singles = asset.parts.flatMap((part): NewSingle[] => {
    const own = byId.get(part.asset)
    return own ? [{ planting: planting.id, ground: TERRAIN_ID, asset: own.number, tint: part.tint, ...standIn(frame, part, asset.drapes, heightAt) }] : []
  })
  const opened: OpenedPosy = { asset: asset.id, planting: planting.id, place: [...at.place], turn: [...normalised(at.turn)], size, instead }
  const begun = editor.edit(
    name,
    (draft) => {
      if (meadow.opened) close(draft, meadow.opened)
      draft.plantings.push(planting)
    },
    gesture,
  )
  if (!begun) return null
  if (addSingles(editor, name, singles, heightAt, gesture).length === 0) return null
  return editor.edit(name, (draft) => void (draft.opened = opened), gesture) ? planting.id : null
}

/** Puts an opened posy together again: it keeps what its parts have become. */
export function putTogether(editor: Editor): boolean {
  const { opened } = editor.meadow()
  if (!opened) return false
  return editor.edit('Put the posy together', (draft) => close(draft, opened))
}

function close(draft: Meadow, { planting }: OpenedPosy): void {
  draft.opened = null
  draft.plantings = draft.plantings.filter(({ id }) => id !== planting)
  draft.hands = draft.hands.filter(({ id }) => id !== planting)
}

/** The parts that stand open, as a posy keeps them. */
function partsThatStand({ hands, meshes, assets }: Meadow, { asset, planting, place, turn, size }: OpenedPosy, heightAt: HeightAt): Part[] {
  const work = hands.find(({ id }) => id === planting)
  if (!work) return []
  const byNumber = assetsByNumber(assets)
  const drapes = assets.some(({ id, drapes: own }) => id === asset && own)
  const frames = work.grounds.map((id) => groundFrame(id, meshes, heightAt))
  const values = valuesOf(work.singles[0] ?? [])
  const parts: Part[] = []
  for (let k = 0; k < values.length; k += SINGLE) {
    const [frame, own] = [frames[values[k + S.ground]], byNumber.get(values[k + S.asset])]
    if (!frame || !own) continue
    const three = (at: number) => [values[k + at], values[k + at + 1], values[k + at + 2]] as const
    const stand: Stand = {
      place: frame.placeToWorld(three(S.place)),
      turn: frame.turnToWorld([values[k + S.turn], values[k + S.turn + 1], values[k + S.turn + 2], values[k + S.turn + 3]]),
      size: [0, 1, 2].map((c) => values[k + S.size + c] * frame.size) as [number, number, number],
    }
    parts.push(partOf(own.id, inFrame({ place, turn, size: [size, size, size] }, stand, drapes, heightAt), values[k + S.tint]))
  }
  return parts
}

/** More than rounding, m or a factor. */
const OTHERWISE = 1e-6

/**
 * What follows of a change by itself: an opened posy is made of the parts that stand open, and posies are measured anew
 * where what they are made of has changed. Of an open posy the last part stays: it would be none any more.
 */
export function followChange(before: Meadow, draft: Meadow, now: Meadow, heightAt: HeightAt): void {
  const { opened } = now
  if (opened && !(now.plantings.some(({ id }) => id === opened.planting) && now.assets.some(({ id }) => id === opened.asset))) draft.opened = null
  else if (opened && (now.hands !== before.hands || opened !== before.opened || now.meshes !== before.meshes)) {
    const at = now.assets.findIndex(({ id }) => id === opened.asset)
    const parts = partsThatStand(now, opened, heightAt)
    if (parts.length > 0 && differ(now.assets[at].parts, parts)) draft.assets[at] = { ...now.assets[at], parts }
  }
}

/** Posies measured anew, where assets have changed. */
export function measureChange(before: Meadow, draft: Meadow, now: Meadow): void {
  if (now.assets === before.assets) return
  const measured = withMeasuredPosies(now.assets)
  if (measured !== now.assets) measured.forEach((asset, k) => asset !== now.assets[k] && (draft.assets[k] = asset))
}

function differ(a: readonly Part[], b: readonly Part[]): boolean {
  if (a.length !== b.length) return true
  const numbers = ({ place, turn, size }: Part) => [...place, ...turn, ...size]
  return a.some((part, k) => part.asset !== b[k].asset || part.tint !== b[k].tint || numbers(part).some((one, c) => Math.abs(one - numbers(b[k])[c]) > OTHERWISE))
}

/** Takes posies apart where they stand: their parts take their places, as things placed by hand. Returns the ids of the parts; none when nothing was changed. */
export function takeApart(editor: Editor, posies: readonly InstanceAt[], heightAt: HeightAt): { readonly planting: string; readonly low: number; readonly high: number }[] {
  const { assets, hands } = editor.meadow()
  const byNumber = assetsByNumber(assets)
  const byId = assetsById(assets)
  const whole = posies.filter(({ asset }) => (byNumber.get(asset)?.parts.length ?? 0) > 0)
  const given = whole.flatMap((one) => {
    const posy = byNumber.get(one.asset)
    return (posy?.parts ?? []).flatMap((part): NewSingle[] => {
      const own = byId.get(part.asset)
      return own ? [{ planting: one.planting, ground: one.ground, asset: own.number, tint: tintedBy(one.tint, part.tint), ...standIn(one, part, posy?.drapes === true && one.ground === TERRAIN_ID, heightAt) }] : []
    })
  })
  if (given.length === 0) return []
  const gesture = `apart ${newId()}`
  const name = whole.length === 1 ? 'Take a posy apart' : `Take ${whole.length.toLocaleString('en')} posies apart`
  if (!changeByHand(editor, name, whole.map((at) => ({ at, to: { out: true } })), heightAt, { gesture, before: hands })) return []
  return addSingles(editor, name, given, heightAt, gesture).map((id, k) => ({ planting: given[k].planting, ...id }))
}
