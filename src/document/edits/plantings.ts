import type { ParamValue } from '../../core/kinds.ts'
import type { Asset, PatternBase, Planting } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { nameOfMix } from '../mix-name.ts'
import { habitatAtFirst, newId, newPlanting, newSeed, nextColour } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import { changeOne } from './editor.ts'

/** The named edits of plantings. */

/** Makes a named edit of one planting. */
export function changePlanting(editor: Editor, id: string, name: string, recipe: (planting: Planting) => void, gesture?: string): void {
  changeOne(editor, 'plantings', id, name, recipe, gesture)
}

/** Sets one of a planting's settings, and with it those that have to change along for what grows to stay. */
export function setParam(editor: Editor, id: string, label: string, param: string, value: ParamValue, gesture?: string): void {
  changePlanting(editor, id, `Change ${label.toLowerCase()}`, (planting) => void Object.assign(planting.params, PLANTINGS.get(planting.kind).alongWith(planting.params, param, value), { [param]: value }), gesture)
}

export function setConditionParam(
  editor: Editor,
  id: string,
  condition: string,
  label: string,
  param: string,
  value: ParamValue,
  gesture?: string,
): void {
  changePlanting(
    editor,
    id,
    `Change ${label.toLowerCase()}`,
    (planting) => {
      const use = planting.habitat.find((one) => one.id === condition)
      if (use) use.params[param] = value
    },
    gesture,
  )
}

const SWITCH_NAMES = {
  visible: ['Hide the planting', 'Show the planting'],
  locked: ['Unlock the planting', 'Lock the planting'],
  freeWhileHidden: ['Hold the room while hidden', 'Give the room free while hidden'],
} as const

export function setSwitch(editor: Editor, id: string, what: keyof typeof SWITCH_NAMES, value: boolean): void {
  changePlanting(editor, id, SWITCH_NAMES[what][value ? 1 : 0], (planting) => void (planting[what] = value))
}

export function renamePlanting(editor: Editor, id: string, name: string): void {
  changePlanting(editor, id, 'Rename the planting', (planting) => void (planting.name = name))
}

/** Changes what a planting grows on, and which of it holds first where two overlap. */
export function setGrounds(editor: Editor, id: string, grounds: string[]): void {
  changePlanting(editor, id, 'Change what it grows on', (planting) => void (planting.grounds = grounds))
}

export function throwAgain(editor: Editor, id: string): void {
  const seed = newSeed()
  changePlanting(editor, id, 'Throw again', (planting) => void (planting.seed = seed))
}

export function removeCondition(editor: Editor, id: string, condition: string): void {
  changePlanting(
    editor,
    id,
    'Remove a condition',
    (planting) => void (planting.habitat = planting.habitat.filter((use) => use.id !== condition)),
  )
}

export function switchCondition(editor: Editor, id: string, condition: string, on: boolean): void {
  changePlanting(editor, id, on ? 'Switch a condition on' : 'Switch a condition off', (planting) => {
    const use = planting.habitat.find((one) => one.id === condition)
    if (use) use.on = on
  })
}

/** Adds a planting of one asset, below all others, on a base where its kind stands on one; returns its id. */
export function addPlanting(editor: Editor, assetId?: string, grounds?: string[], kind = 'spread', base: PatternBase | null = null): string {
  const meadow = editor.meadow()
  const asset = meadow.assets.find((one) => one.id === assetId) ?? meadow.assets[0]
  const id = newId()
  const mix = asset ? [{ asset: asset.id, share: 1 }] : []
  editor.edit('Add a planting', (draft) => {
    draft.plantings.push(
      newPlanting({
        id,
        kind,
        name: nameOfMix(mix, meadow.assets),
        colour: nextColour(draft),
        seed: newSeed(),
        mix,
        grounds,
        habitat: habitatAtFirst(draft),
        base,
        params: PLANTINGS.get(kind).atFirst(asset ? spacingAtFirst(kind, asset, draft.ground) : FALLBACK_SPACING),
      }),
    )
  })
  return id
}

const FALLBACK_SPACING = 2
/** Instances that a new planting may have at first. */
const FIRST_MOST = 60000

/** A first spacing of a new planting, m: what a hand sows or strews comes where the hand is, however large the ground. */
export function spacingAtFirst(kind: string, asset: Pick<Asset, 'room'>, ground: { readonly sizeX: number; readonly sizeZ: number }): number {
  const { base, lineReach, based } = PLANTINGS.get(kind)
  return base === 0 || lineReach || based ? spacingOfRoom(asset.room) : firstSpacing(asset, ground)
}

/** A spacing that leaves each a room of so many metres. */
export function spacingOfRoom(room: number): number {
  return Math.max(0.3, Math.round(room * 30) / 10)
}

/** A first spacing that leaves each its room and does not flood a large ground, m. */
export function firstSpacing(asset: Pick<Asset, 'room'>, { sizeX, sizeZ }: { readonly sizeX: number; readonly sizeZ: number }): number {
  const wanted = spacingOfRoom(asset.room)
  const least = Math.sqrt((0.63 * sizeX * sizeZ) / FIRST_MOST)
  return least <= wanted ? wanted : Number(least.toPrecision(2))
}

export function duplicatePlanting(editor: Editor, id: string): string {
  const copyId = newId()
  editor.edit('Duplicate the planting', (meadow) => {
    const at = meadow.plantings.findIndex((one) => one.id === id)
    if (at < 0) return
    const copy = structuredClone({ ...editor.meadow().plantings[at] })
    meadow.plantings.splice(at + 1, 0, {
      ...copy,
      id: copyId,
      name: `${copy.name} copy`,
      seed: (copy.seed + 1) >>> 0,
      locked: false,
      habitat: copy.habitat.map((use) => ({ ...use, id: newId() })),
      drivers: copy.drivers.map((use) => ({ ...use, id: newId() })),
    })
    const strokes = editor.meadow().strokes.filter(({ planting }) => planting === id)
    const hand = editor.meadow().hands.find((one) => one.id === id)
    // Its dice are others: touch-ups have nothing to stand on there.
    if (hand) meadow.hands.push({ ...hand, id: copyId, touched: [[]] })
    if (strokes.length > 0) meadow.strokes.push(...strokes.map((stroke) => ({ ...stroke, id: newId(), planting: copyId })))
  })
  return copyId
}

/** Removes a planting, and its strokes and hand work with it. */
export function removePlanting(editor: Editor, id: string): boolean {
  return editor.edit('Remove the planting', (meadow) => {
    meadow.plantings = meadow.plantings.filter((one) => one.id !== id)
    if (editor.meadow().strokes.some(({ planting }) => planting === id)) meadow.strokes = meadow.strokes.filter(({ planting }) => planting !== id)
    if (editor.meadow().hands.some((one) => one.id === id)) meadow.hands = meadow.hands.filter((one) => one.id !== id)
  })
}

/** Moves a planting to a place in the order of claim. */
export function movePlanting(editor: Editor, id: string, to: number): void {
  editor.edit('Change the order', (meadow) => {
    const from = meadow.plantings.findIndex((one) => one.id === id)
    const place = Math.max(0, Math.min(meadow.plantings.length - 1, to))
    if (from < 0 || from === place) return
    meadow.plantings.splice(place, 0, ...meadow.plantings.splice(from, 1))
  })
}
