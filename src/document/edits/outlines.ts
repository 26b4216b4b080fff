import { original } from 'immer'
import type { NumberList } from '../../core/long-list.ts'
import { lengthOf, listOf, spliced, valuesOf } from '../../core/long-list.ts'
import type { Meadow, Outline } from '../../core/meadow.ts'
import { newCondition, newId, newOutline } from '../new-planting.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import type { Editor } from './editor.ts'
import { changeOne } from './editor.ts'
import { giveToWaiting } from './waiting.ts'

/** The named edits of patches and paths. */

/** A point of an outline: its line, and its place in it. */
export interface PointOf {
  readonly line: number
  readonly index: number
}

/** Colours of outlines, told apart from grass and water alike. */
const COLOURS = ['#e0a33a', '#d7552f', '#c44a86', '#7a5bd0', '#2f8fc4', '#f2efe2'] as const

export const OUTLINE_WORDS: Record<Outline['kind'], string> = { patch: 'patch', path: 'path' }

function change(editor: Editor, id: string, name: string, recipe: (outline: Outline) => void, gesture?: string): void {
  changeOne(editor, 'outlines', id, name, recipe, gesture)
}

/** Changes one line of an outline; what is not touched of it stays the same object. */
function splicePoints(editor: Editor, id: string, name: string, line: number, [at, remove, insert]: readonly [at: number, remove: number, insert?: readonly number[]], gesture?: string): void {
  change(
    editor,
    id,
    name,
    (outline) => {
      const { lines, above } = original<Outline>(outline as never) as Outline
      outline.lines[line] = spliced(lines[line], at, remove, insert)
      const high = above?.[line]
      // A point that is put in lies as high as half-way between its neighbours; one that is moved keeps its height.
      if (outline.above && high && remove !== (insert?.length ?? 0)) outline.above[line] = spliced(high, at / 2, remove / 2, insert && [middleHeight(high, at / 2)])
    },
    gesture,
  )
}

function middleHeight(high: NumberList, at: number): number {
  const values = valuesOf(high)
  return (values[at - 1] + (values[at % values.length] ?? values[at - 1])) / 2
}

/**
 * Lets a point of a path lie so high over the ground, m, or all of them where none is named. Where the path leaves the
 * ground with it, what stands in order along it goes up with it: it comes down no more.
 */
export function setAbove(editor: Editor, id: string, point: PointOf | null, metres: number, gesture?: string): void {
  editor.edit(
    'Raise a path',
    (meadow) => {
      const outline = meadow.outlines.find((one) => one.id === id)
      if (!outline) return
      const { lines, above } = original<Outline>(outline as never) as Outline
      const next = lines.map((line, l) => raised(above?.[l], lengthOf(line) / 2, point && (l === point.line ? point.index : -1), metres))
      // A path that lies on the ground all along says nothing of heights.
      if (!next.some((line) => valuesOf(line).some((value) => value !== 0))) {
        delete outline.above
        return
      }
      outline.above = next
      if (above) return
      for (const planting of meadow.plantings) if (!planting.locked && planting.along.includes(id) && planting.params.land === 1 && !PLANTINGS.get(planting.kind).within) planting.params.land = 0
    },
    gesture,
  )
}

/** Heights of a line with so many points, of which one is set, all (null) or none (−1). */
function raised(before: NumberList | undefined, points: number, index: number | null, metres: number): NumberList {
  if (index === null) return listOf(Array.from({ length: points }, () => metres))
  const own = before && lengthOf(before) === points ? before : listOf(new Array<number>(points).fill(0))
  return index < 0 ? own : spliced(own, index, 1, [metres])
}

/** Name and colour of the next patch or path. */
export function nextOutline({ outlines }: Pick<Meadow, 'outlines'>, kind: Outline['kind']): Pick<Outline, 'name' | 'colour'> {
  const number = outlines.filter((one) => one.kind === kind).length + 1
  return { name: `${kind === 'patch' ? 'Patch' : 'Path'} ${number}`, colour: COLOURS[outlines.length % COLOURS.length] }
}

/** Adds outlines, which a planting lies along where one is given; returns the id of the first, null when they were refused. */
export function addOutlines(
  editor: Editor,
  name: string,
  given: readonly (Pick<Outline, 'kind'> & { readonly lines: readonly (readonly number[])[] } & Partial<Pick<Outline, 'name' | 'smooth' | 'closed' | 'width'>>)[],
  planting: string | null = null,
): string | null {
  const ids = given.map(() => newId())
  const added = editor.edit(name, (meadow) => {
    given.forEach((one, i) => {
      meadow.outlines.push(newOutline({ ...nextOutline(meadow, one.kind), ...one, id: ids[i] }))
      giveToWaiting(meadow, ids[i])
      const own = meadow.plantings.find(({ id }) => id === planting)
      if (own && !own.along.includes(ids[i])) own.along.push(ids[i])
    })
  })
  return added ? (ids[0] ?? null) : null
}

export function movePoint(editor: Editor, id: string, { line, index }: PointOf, x: number, z: number, gesture?: string): void {
  splicePoints(editor, id, 'Move a point', line, [2 * index, 2, [x, z]], gesture)
}

/** Puts a point in after another one. */
export function insertPoint(editor: Editor, id: string, { line, index }: PointOf, x: number, z: number): void {
  splicePoints(editor, id, 'Add a point', line, [2 * index + 2, 0, [x, z]])
}

/** Takes a point out, or the line where too few would be left of it; null when done, else why not. */
export function removePoint(editor: Editor, id: string, { line, index }: PointOf): string | null {
  const outline = editor.meadow().outlines.find((one) => one.id === id)
  if (!outline) return null
  const least = outline.kind === 'patch' ? 3 : 2
  if (lengthOf(outline.lines[line]) / 2 > least) splicePoints(editor, id, 'Take a point out', line, [2 * index, 2])
  else if (outline.lines.length > 1)
    change(editor, id, 'Take a line out', (draft) => {
      draft.lines.splice(line, 1)
      draft.above?.splice(line, 1)
    })
  else return `A ${OUTLINE_WORDS[outline.kind]} needs ${least} points; remove the whole ${OUTLINE_WORDS[outline.kind]} if it is not wanted.`
  return null
}

export function setOutline<K extends 'name' | 'smooth' | 'closed' | 'width' | 'visible' | 'locked' | 'colour'>(
  editor: Editor,
  id: string,
  name: string,
  key: K,
  value: Outline[K],
  gesture?: string,
): void {
  change(editor, id, name, (outline) => void (outline[key] = value), gesture)
}

/** Removes an outline; nothing lies along it any more. */
export function removeOutline(editor: Editor, id: string): boolean {
  const outline = editor.meadow().outlines.find((one) => one.id === id)
  if (!outline) return false
  return editor.edit(`Remove the ${OUTLINE_WORDS[outline.kind]}`, (meadow) => {
    meadow.outlines = meadow.outlines.filter((one) => one.id !== id)
    for (const planting of meadow.plantings) if (planting.along.includes(id)) planting.along = planting.along.filter((one) => one !== id)
  })
}

export function duplicateOutline(editor: Editor, id: string): string {
  const copyId = newId()
  editor.edit('Duplicate the outline', (meadow) => {
    const at = meadow.outlines.findIndex((one) => one.id === id)
    if (at < 0) return
    const copy = structuredClone({ ...editor.meadow().outlines[at] })
    meadow.outlines.splice(at + 1, 0, { ...copy, id: copyId, name: `${copy.name} copy`, locked: false })
  })
  return copyId
}

/** What a planting can do with an outline, and the condition that does it. */
export const OUTLINE_USES: Record<Outline['kind'], readonly { readonly label: string; readonly condition: string; readonly params: Record<string, string | { from: number | null; to: number | null }> }[]> = {
  patch: [
    { label: 'grows inside only', condition: 'patch', params: { side: 'inside' } },
    { label: 'keeps out', condition: 'patch', params: { side: 'outside' } },
  ],
  path: [
    { label: 'grows along it', condition: 'path', params: { away: { from: null, to: 3 } } },
    { label: 'keeps off', condition: 'path', params: { away: { from: 0, to: null } } },
  ],
}

/** Gives a planting a condition that names an outline. */
export function useOutline(editor: Editor, planting: string, outline: Outline, use: (typeof OUTLINE_USES)[Outline['kind']][number]): void {
  editor.edit('Add a condition', (meadow) => {
    const one = meadow.plantings.find(({ id }) => id === planting)
    if (one) one.habitat.push(newCondition(use.condition, { ...use.params, [outline.kind]: outline.id }))
  })
}
