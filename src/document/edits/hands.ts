import { isDraft, original } from 'immer'
import { UNTINTED } from '../../core/columns.ts'
import type { GroundFrame, Stand } from '../../core/hand/frames.ts'
import { groundFrame, turning } from '../../core/hand/frames.ts'
import type { HeightAt } from '../../core/grounds/terrain.ts'
import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import { NONE, S, SINGLE, T, TOUCH, UNTOUCHED } from '../../core/hand/layout.ts'
import type { NumberList } from '../../core/long-list.ts'
import { lengthOf, listOf, spliced, valuesOf } from '../../core/long-list.ts'
import { multiply, normalised } from '../../core/math/quaternion.ts'
import type { Quaternion } from '../../core/math/quaternion.ts'
import type { HandWork, Meadow } from '../../core/meadow.ts'
import type { Editor } from './editor.ts'

/** The named edits of what a hand does to single instances: it places some, and touches up what grows by rule. */

/** An instance as it stands in the world, and on which ground. */
export interface InstanceAt extends Stand {
  readonly planting: string
  readonly low: number
  readonly high: number
  readonly ground: string
  /** The number of its asset. */
  readonly asset: number
  /** 0xRRGGBBAA */
  readonly tint: number
}

/** What becomes of an instance: it is taken out, or stands otherwise, of another asset or in another tint (0xRRGGBBAA). */
export type Becomes = { readonly out: true } | ({ readonly out?: undefined; readonly asset?: number; readonly tint?: number } & Partial<Stand>)

/** The ground that all of some things stand on; the terrain where they stand on several. */
export function sharedGround(things: readonly Pick<InstanceAt, 'ground'>[]): string {
  const [{ ground }] = things
  return things.every((one) => one.ground === ground) ? ground : TERRAIN_ID
}

/** A thing to be placed by hand. */
export interface NewSingle extends Stand {
  readonly planting: string
  readonly ground: string
  readonly asset: number
  /** 0xRRGGBBAA; none leaves it as its asset is. */
  readonly tint?: number
}


/** The hand work of a planting in a draft, made when there is none; its lists as they were. */
function workOf(draft: Meadow, planting: string): { readonly work: HandWork; readonly singles: NumberList; readonly touched: NumberList } {
  let work = draft.hands.find((one) => one.id === planting)
  if (!work) {
    draft.hands.push({ id: planting, name: '', grounds: [], singles: [[]], touched: [[]] })
    work = draft.hands[draft.hands.length - 1]
    return { work, singles: [], touched: [] }
  }
  const { singles, touched } = isDraft(work) ? (original<HandWork>(work as never) as HandWork) : work
  return { work, singles: singles[0] ?? [], touched: touched[0] ?? [] }
}

function groundNumber({ grounds }: HandWork, id: string): number {
  const at = grounds.indexOf(id)
  return at >= 0 ? at : grounds.push(id) - 1
}

/** Rows of a list by their ids. */
function rowsById(list: NumberList, numbers: number): Map<string, number> {
  const values = valuesOf(list)
  const found = new Map<string, number>()
  for (let k = 0; k < values.length; k += numbers) found.set(`${values[k + 1]}:${values[k]}`, k / numbers)
  return found
}

/** Places things by hand, above all that grows; returns their ids, none when they were refused. */
export function addSingles(editor: Editor, name: string, given: readonly NewSingle[], heightAt: HeightAt, gesture?: string): { readonly low: number; readonly high: number }[] {
  const { meshes } = editor.meadow()
  const ids = given.map(() => {
    const [low, high] = crypto.getRandomValues(new Uint32Array(2))
    return { low, high }
  })
  const added = editor.edit(
    name,
    (draft) => {
      for (const planting of new Set(given.map((one) => one.planting))) {
        const { work, singles } = workOf(draft, planting)
        const rows = given.flatMap((one, k) => {
          const frame = groundFrame(one.ground, meshes, heightAt)
          if (one.planting !== planting || !frame) return []
          return [ids[k].low, ids[k].high, groundNumber(work, one.ground), one.asset, one.tint ?? UNTINTED, ...standIn(frame, one)]
        })
        work.singles[0] = spliced(singles, lengthOf(singles), 0, rows)
      }
    },
    gesture,
  )
  return added ? ids : []
}

function standIn(frame: GroundFrame, { place, turn, size }: Stand): number[] {
  return [...frame.placeToOwn(place), ...normalised(frame.turnToOwn(turn)), ...size.map((one) => one / frame.size)]
}

/** One gesture of changes: all of its edits begin from the hand work that there was before it. */
export interface HandGesture {
  readonly gesture: string
  readonly before: Meadow['hands']
}

/**
 * Changes instances by hand: singles themselves, and others by touch-ups that stay when the rules change. `at` is how
 * they stood before the gesture.
 */
export function changeByHand(editor: Editor, name: string, changes: readonly { readonly at: InstanceAt; readonly to: Becomes }[], heightAt: HeightAt, within?: HandGesture): boolean {
  const { meshes } = editor.meadow()
  return editor.edit(
    name,
    (draft) => {
      if (within && editor.meadow().hands !== within.before) draft.hands = within.before.map(openCopy)
      for (const planting of new Set(changes.map(({ at }) => at.planting))) {
        const { work, singles, touched } = workOf(draft, planting)
        const own = { singles: rowsById(singles, SINGLE), touched: rowsById(touched, TOUCH) }
        const next = { singles: [] as Splice[], touched: [] as Splice[], more: [] as number[] }
        for (const { at, to } of changes) {
          const frame = groundFrame(at.ground, meshes, heightAt)
          if (at.planting !== planting || !frame) continue
          const id = `${at.high}:${at.low}`
          const single = own.singles.get(id)
          const touch = own.touched.get(id)
          if (single !== undefined) next.singles.push({ row: single, values: to.out ? null : changedSingle(rowAt(singles, single, SINGLE), frame, to) })
          else if (touch !== undefined) next.touched.push({ row: touch, values: changedTouch(rowAt(touched, touch, TOUCH), frame, at, to) })
          else next.more.push(...changedTouch([at.low, at.high, groundNumber(work, at.ground), at.asset, ...homeOf(frame, at), ...UNTOUCHED], frame, at, to))
        }
        work.singles[0] = withRows(singles, SINGLE, next.singles)
        const changed = withRows(touched, TOUCH, next.touched)
        work.touched[0] = spliced(changed, lengthOf(changed), 0, next.more)
      }
    },
    within?.gesture,
  )
}

/** Hand work that can be changed: that of an earlier state is frozen. Its lists are never written to. */
function openCopy(work: HandWork): HandWork {
  return { ...work, grounds: [...work.grounds], singles: [...work.singles], touched: [...work.touched] }
}

/** Where an instance stands, as touch-ups keep it: in the own frame of a mesh, in the world's on the terrain. */
function homeOf(frame: GroundFrame, { place, ground }: InstanceAt): readonly number[] {
  return ground === TERRAIN_ID ? place : frame.placeToOwn(place)
}

interface Splice {
  readonly row: number
  /** Null where the row goes. */
  readonly values: readonly number[] | null
}

function rowAt(list: NumberList, row: number, numbers: number): number[] {
  return valuesOf(list).slice(row * numbers, (row + 1) * numbers)
}

/** More rows than this are not put in one by one. */
const MANY = 64

/** A list with some rows changed and some taken out; pieces that are not touched stay. */
function withRows(list: NumberList, numbers: number, splices: readonly Splice[]): NumberList {
  if (splices.length > MANY) {
    const all = valuesOf(list)
    const by = new Map(splices.map(({ row, values }) => [row, values]))
    const out: number[] = []
    for (let row = 0; row < all.length / numbers; row++) {
      const changed = by.get(row)
      if (changed === null) continue
      for (let c = 0; c < numbers; c++) out.push(changed ? changed[c] : all[row * numbers + c])
    }
    return listOf(out)
  }
  // The last first, so that the places of those before hold.
  return [...splices].sort((a, b) => b.row - a.row).reduce((now, { row, values }) => spliced(now, row * numbers, numbers, values ?? []), list)
}

function changedSingle(row: readonly number[], frame: GroundFrame, { place, turn, size, asset, tint }: Exclude<Becomes, { out: true }>): number[] {
  const out = [...row]
  if (place) set(out, S.place, frame.placeToOwn(place))
  if (turn) set(out, S.turn, normalised(frame.turnToOwn(turn)))
  if (size) set(out, S.size, size.map((one) => one / frame.size))
  if (asset !== undefined) out[S.asset] = asset
  if (tint !== undefined) out[S.tint] = tint
  return out
}

/** A touch-up that makes of an instance, as it stands with what the touch-up did before, what it is to become. */
function changedTouch(row: readonly number[], frame: GroundFrame, at: InstanceAt, to: Becomes): number[] {
  const out = [...row]
  if (to.out) {
    out[T.out] = 1
    return out
  }
  if (to.place) {
    const [from, there] = [frame.placeToOwn(at.place), frame.placeToOwn(to.place)]
    set(out, T.move, [0, 1, 2].map((c) => row[T.move + c] + there[c] - from[c]))
  }
  if (to.turn) {
    const before = row.slice(T.turn, T.turn + 4) as unknown as Quaternion
    set(out, T.turn, normalised(multiply(frame.turningToOwn(turning(at.turn, to.turn)), before)))
  }
  if (to.size) set(out, T.size, to.size.map((one, c) => row[T.size + c] * (at.size[c] > 0 ? one / at.size[c] : 1)))
  if (to.asset !== undefined) out[T.swap] = to.asset === row[T.asset] ? NONE : to.asset
  if (to.tint !== undefined) out[T.tint] = to.tint
  return out
}

function set(row: number[], from: number, values: readonly number[]): void {
  values.forEach((value, c) => (row[from + c] = value + 0))
}

/** Forgets touch-ups of a planting, by their numbers: what they were made for is as the rules make it. */
export function forgetTouchUps(editor: Editor, planting: string, numbers: readonly number[]): boolean {
  return dropTouchUps(editor, numbers.length === 1 ? 'Forget a touch-up' : `Forget ${numbers.length.toLocaleString('en')} touch-ups`, planting, numbers)
}

function dropTouchUps(editor: Editor, name: string, planting: string, numbers: readonly number[], gesture?: string): boolean {
  return editor.edit(name, (draft) => {
    if (!draft.hands.some(({ id }) => id === planting)) return
    const { work, touched } = workOf(draft, planting)
    work.touched[0] = withRows(touched, TOUCH, numbers.map((row) => ({ row, values: null })))
  }, gesture)
}

/** Makes singles of touch-ups whose instances are gone, upright where those stood; what was taken out is forgotten. */
export function looseToSingles(editor: Editor, planting: string, numbers: readonly number[], heightAt: HeightAt): boolean {
  const { meshes, hands } = editor.meadow()
  const work = hands.find(({ id }) => id === planting)
  if (!work) return false
  const gesture = `loose ${crypto.randomUUID()}`
  const name = numbers.length === 1 ? 'Make a single of a loose one' : `Make singles of ${numbers.length.toLocaleString('en')} loose ones`
  const given = numbers.flatMap((number): NewSingle[] => {
    const row = rowAt(work.touched[0] ?? [], number, TOUCH)
    const ground = work.grounds[row[T.ground]]
    const frame = groundFrame(ground, meshes, heightAt)
    if (row.length < TOUCH || row[T.out] > 0 || !frame) return []
    const home = row.slice(T.home, T.home + 3).map((value, c) => value + row[T.move + c])
    const turn = row.slice(T.turn, T.turn + 4) as unknown as Quaternion
    const size = row.slice(T.size, T.size + 3) as unknown as Stand['size']
    const place = ground === TERRAIN_ID ? ([home[0], heightAt(home[0], home[2]) + row[T.move + 1], home[2]] as const) : frame.placeToWorld(home as unknown as Stand['place'])
    return [{ planting, ground, asset: row[T.swap] >= 0 ? row[T.swap] : row[T.asset], place, turn: ground === TERRAIN_ID ? turn : frame.turnToWorld(turn), size }]
  })
  if (given.length > 0 && addSingles(editor, name, given, heightAt, gesture).length === 0) return false
  return dropTouchUps(editor, name, planting, numbers, gesture)
}

/** Makes singles of instances that stand: the rules let go of them. */
export function letGo(editor: Editor, instances: readonly InstanceAt[], heightAt: HeightAt): boolean {
  const { meshes, hands } = editor.meadow()
  const gesture = `let go ${crypto.randomUUID()}`
  const name = instances.length === 1 ? 'Let one go' : `Let ${instances.length.toLocaleString('en')} go`
  // What was placed by hand is free already.
  const singles = new Map(hands.map(({ id, singles: [list = []] }) => [id, rowsById(list, SINGLE)]))
  const ruled = instances.filter(({ planting, low, high, ground }) => !singles.get(planting)?.has(`${high}:${low}`) && groundFrame(ground, meshes, heightAt) !== null)
  if (ruled.length === 0) return false
  return changeByHand(editor, name, ruled.map((at) => ({ at, to: { out: true } })), heightAt, { gesture, before: hands }) && addSingles(editor, name, ruled, heightAt, gesture).length > 0
}
