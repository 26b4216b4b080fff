import { original } from 'immer'
import { POINT } from '../../core/fields/coverage.ts'
import { inOwnFrame } from '../../core/fields/placed-stroke.ts'
import { lengthOf, listOf, spliced, valuesOf } from '../../core/long-list.ts'
import type { StrokeAct } from '../../core/fields/stroke-acts.ts'
import type { Meadow, Stroke } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { newId } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import { changeOne } from './editor.ts'

/** The named edits of what is painted by hand. */

/** A stroke that is to be made; its points lie in the world, {@link POINT} numbers each, its width is m there. */
export type NewStroke = Pick<Stroke, 'planting' | 'act' | 'ground' | 'width' | 'soft' | 'strength'> & { readonly only?: readonly string[]; readonly points: readonly number[] }

export const ACT_WORDS: Readonly<Record<StrokeAct, { readonly does: string; readonly done: string }>> = {
  sow: { does: 'Sow', done: 'sown' },
  clear: { does: 'Clear', done: 'cleared' },
  thin: { does: 'Thin', done: 'thinned' },
}

/** Tenths of a millimetre are kept of places, thousandths of everything else. */
const PLACES = 1e4
const SHARES = 1e3

/** Points as they are kept: in the own frame of what they lie on, rounded. */
function kept({ meshes }: Pick<Meadow, 'meshes'>, ground: string, points: readonly number[]): number[] {
  const mesh = meshes.find(({ id }) => id === ground)
  const own = mesh ? inOwnFrame(points, mesh) : points
  return own.map((value, k) => (k % POINT < 3 ? Math.round(value * PLACES) / PLACES : Math.round(value * SHARES) / SHARES) + 0)
}

/** What an act on some plantings is called. */
function nameOf({ plantings }: Meadow, act: StrokeAct, of: readonly string[]): string {
  const [first] = plantings.filter(({ id }) => of.includes(id))
  return `${ACT_WORDS[act].does} ${of.length === 1 && first ? first.name : `${of.length} plantings`}`
}

/** Adds strokes, above all that were before; returns their ids, none when they were refused. */
export function addStrokes(editor: Editor, given: readonly NewStroke[], gesture?: string): string[] {
  const ids = given.map(() => newId())
  const [first] = given
  if (!first) return []
  const meadow = editor.meadow()
  const added = editor.edit(
    nameOf(meadow, first.act, [...new Set(given.map(({ planting }) => planting))]),
    (draft) => {
      given.forEach(({ planting, act, ground, width, soft, strength, only = [], points }, k) => {
        const mesh = meadow.meshes.find(({ id }) => id === ground)
        draft.strokes.push({ id: ids[k], name: '', planting, act, ground, width: width / (mesh?.size ?? 1), soft, strength, only: [...only], lines: [listOf(kept(meadow, ground, points))] })
      })
    },
    gesture,
  )
  return added ? ids : []
}

/** Draws strokes on: points of the world join their ends, after the first `from` points are kept. Part of the gesture that made them. */
export function drawOn(editor: Editor, ids: readonly string[], from: number, points: readonly number[], gesture: string): boolean {
  const meadow = editor.meadow()
  const found = meadow.strokes.filter(({ id }) => ids.includes(id))
  const [first] = found
  if (!first) return false
  return editor.edit(
    nameOf(meadow, first.act, [...new Set(found.map(({ planting }) => planting))]),
    (draft) => {
      for (const stroke of draft.strokes) {
        if (!ids.includes(stroke.id)) continue
        const { lines, ground } = original<Stroke>(stroke as never) as Stroke
        stroke.lines[0] = spliced(lines[0], POINT * from, lengthOf(lines[0]) - POINT * from, kept(meadow, ground, points))
      }
    },
    gesture,
  )
}

const SETTING_NAMES = { width: 'Change the width of a stroke', soft: 'Change the soft edge of a stroke', strength: 'Change the strength of a stroke', act: 'Change what a stroke does', planting: 'Give a stroke to another planting' } as const

/** Changes how a stroke acts; widths are in the frame of what it lies on. */
export function setStroke<K extends keyof typeof SETTING_NAMES>(editor: Editor, id: string, key: K, value: Stroke[K], gesture?: string): void {
  changeOne(editor, 'strokes', id, SETTING_NAMES[key], (stroke) => {
    stroke[key] = value
    // What sows acts on all; what is another planting's has other assets.
    if ((key === 'act' && value === 'sow') || key === 'planting') stroke.only = []
  }, gesture)
}

/** Moves a stroke, or one point of it, over what it lies on; m in its own frame. */
export function moveStroke(editor: Editor, id: string, point: number | null, by: readonly [number, number, number], gesture?: string): void {
  changeOne(editor, 'strokes', id, point === null ? 'Move a stroke' : 'Reshape a stroke', (draft) => {
    const { lines } = original<Stroke>(draft as never) as Stroke
    const [points] = lines
    const from = point === null ? 0 : POINT * point
    const count = point === null ? lengthOf(points) : POINT
    const moved = valuesOf(points).slice(from, from + count).map((value, k) => (k % POINT < 3 ? Math.round((value + by[k % POINT]) * PLACES) / PLACES + 0 : value))
    draft.lines[0] = spliced(points, from, count, moved)
  }, gesture)
}

/** Takes strokes out. */
export function removeStrokes(editor: Editor, ids: readonly string[]): boolean {
  return editor.edit(ids.length === 1 ? 'Take a stroke out' : `Take ${ids.length.toLocaleString('en')} strokes out`, (draft) => void (draft.strokes = draft.strokes.filter(({ id }) => !ids.includes(id))))
}

/** Makes what grows by rule grow where it is sown only, or the other way round. */
export function setSown(editor: Editor, id: string, sown: boolean): void {
  changeOne(editor, 'plantings', id, sown ? 'Grow where it is sown only' : 'Grow by rule', (planting) => {
    planting.kind = sown ? 'sown' : 'spread'
    const by = PLANTINGS.get(planting.kind).params.by
    if (by.type === 'choice' && !by.options.some(({ value }) => value === planting.params.by)) planting.params.by = by.default
  })
}
