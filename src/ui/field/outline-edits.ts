import type { Outline } from '../../core/meadow.ts'
import { newCondition, newId, newOutline } from '../../document/new-planting.ts'
import type { OutlineFormat } from '../../formats/outline-format.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { notify } from '../../state/notices.ts'
import type { PointOf } from '../../state/field-tool.ts'
import { fileName, saveFile } from '../parts/files.ts'

/** The named edits of patches and paths. */

/** Colours of outlines, told apart from grass and water alike. */
const COLOURS = ['#e0a33a', '#d7552f', '#c44a86', '#7a5bd0', '#2f8fc4', '#f2efe2'] as const

export const OUTLINE_WORDS: Record<Outline['kind'], string> = { patch: 'patch', path: 'path' }

function change(session: FieldSession, id: string, name: string, recipe: (outline: Outline) => void, gesture?: string): void {
  session.edit(
    name,
    (meadow) => {
      const outline = meadow.outlines.find((one) => one.id === id)
      if (outline && (!outline.locked || name === 'Unlock the outline')) recipe(outline)
    },
    gesture,
  )
}

/** Adds outlines; returns the id of the first. */
export function addOutlines(
  session: FieldSession,
  name: string,
  given: readonly (Pick<Outline, 'kind' | 'lines'> & Partial<Pick<Outline, 'name' | 'smooth' | 'closed' | 'width'>>)[],
): string | null {
  const ids = given.map(() => newId())
  session.edit(name, (meadow) => {
    given.forEach((one, i) => {
      const number = meadow.outlines.filter(({ kind }) => kind === one.kind).length + 1
      const colour = COLOURS[meadow.outlines.length % COLOURS.length]
      meadow.outlines.push(newOutline({ name: `${one.kind === 'patch' ? 'Patch' : 'Path'} ${number}`, colour, ...one, id: ids[i] }))
    })
  })
  return ids[0] ?? null
}

export function movePoint(session: FieldSession, id: string, { line, index }: PointOf, x: number, z: number, gesture?: string): void {
  change(
    session,
    id,
    'Move a point',
    (outline) => {
      outline.lines[line][2 * index] = x
      outline.lines[line][2 * index + 1] = z
    },
    gesture,
  )
}

/** Puts a point in after another one. */
export function insertPoint(session: FieldSession, id: string, { line, index }: PointOf, x: number, z: number): void {
  change(session, id, 'Add a point', (outline) => void outline.lines[line].splice(2 * index + 2, 0, x, z))
}

/** Takes a point out; a line that is left with too few goes as a whole, and with the last line the outline stays empty no longer. */
export function removePoint(session: FieldSession, id: string, { line, index }: PointOf): void {
  const outline = session.store.getState().history.meadow.outlines.find((one) => one.id === id)
  if (!outline) return
  const least = outline.kind === 'patch' ? 3 : 2
  if (outline.lines[line].length / 2 > least)
    change(session, id, 'Take a point out', (draft) => void draft.lines[line].splice(2 * index, 2))
  else if (outline.lines.length > 1) change(session, id, 'Take a line out', (draft) => void draft.lines.splice(line, 1))
  else notify('word', `A ${OUTLINE_WORDS[outline.kind]} needs ${least} points; remove the whole ${OUTLINE_WORDS[outline.kind]} if it is not wanted.`)
}

export function setOutline<K extends 'name' | 'smooth' | 'closed' | 'width' | 'visible' | 'locked' | 'colour'>(
  session: FieldSession,
  id: string,
  name: string,
  key: K,
  value: Outline[K],
  gesture?: string,
): void {
  change(session, id, name, (outline) => void (outline[key] = value), gesture)
}

export function removeOutline(session: FieldSession, id: string): void {
  const outline = session.store.getState().history.meadow.outlines.find((one) => one.id === id)
  if (!outline || outline.locked) return
  session.edit(`Remove the ${OUTLINE_WORDS[outline.kind]}`, (meadow) => {
    meadow.outlines = meadow.outlines.filter((one) => one.id !== id)
  })
  notify('word', `“${outline.name}” is removed.`, { label: 'Bring it back', run: session.undo })
}

export function duplicateOutline(session: FieldSession, id: string): string {
  const copyId = newId()
  session.edit('Duplicate the outline', (meadow) => {
    const at = meadow.outlines.findIndex((one) => one.id === id)
    if (at < 0) return
    const copy = structuredClone({ ...session.store.getState().history.meadow.outlines[at] })
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
    { label: 'grows along it', condition: 'path', params: { away: { from: 0, to: 3 } } },
    { label: 'keeps off', condition: 'path', params: { away: { from: 0, to: null } } },
  ],
}

/** Gives a planting a condition that names an outline. */
export function useOutline(session: FieldSession, planting: string, outline: Outline, use: (typeof OUTLINE_USES)[Outline['kind']][number]): void {
  session.edit('Add a condition', (meadow) => {
    const one = meadow.plantings.find(({ id }) => id === planting)
    if (one && !one.locked) one.habitat.push(newCondition(use.condition, { ...use.params, [outline.kind]: outline.id }))
  })
}

/** Saves all patches and paths as a file of a format. */
export function takeOutOutlines(session: FieldSession, format: OutlineFormat): void {
  const { name, outlines, ground } = session.store.getState().history.meadow
  saveFile(new Blob([format.write(outlines, ground)], { type: format.mime }), fileName(`${name} outlines`, format.extensions[0].slice(1)))
}
