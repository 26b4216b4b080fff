import { listOf } from '../../core/long-list.ts'
import type { Planting, Share } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { nameOfMix } from '../mix-name.ts'
import { habitatAtFirst, newId, newOutline, newPlanting, newSeed, nextColour } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import { changeOne } from './editor.ts'
import { nextOutline } from './outlines.ts'
import { spacingOfRoom } from './plantings.ts'

/** The named edits of lines that plantings lie along. */

/** A line that is to be drawn: x z x z …, m. */
export interface NewLine {
  readonly line: readonly number[]
  readonly smooth: boolean
  /** What lies along it: a planting, or where none is given a new one of these assets, set so. */
  readonly planting: string | null
  readonly mix: readonly Share[]
  readonly params: Planting['params']
}

/** Draws a line that things lie along: it stays a path. Returns the planting, null when it was refused. */
export function strewLine(editor: Editor, { line, smooth, planting, mix, params }: NewLine): string | null {
  const { assets, plantings } = editor.meadow()
  const known = plantings.find(({ id }) => id === planting)
  const id = known?.id ?? newId()
  const path = newId()
  const name = known?.name ?? nameOfMix([...mix], assets)
  const done = editor.edit(`Strew ${name}`, (draft) => {
    draft.outlines.push(newOutline({ ...nextOutline(draft, 'path'), kind: 'path', id: path, lines: [listOf([...line])], smooth, width: 0 }))
    const own = draft.plantings.find((one) => one.id === id)
    if (own) own.along.push(path)
    else
      draft.plantings.push(
        newPlanting({ id, kind: 'strewn', name, colour: nextColour(draft), seed: newSeed(), mix: [...mix], along: [path], habitat: habitatAtFirst(draft), params: { ...params } }),
      )
  })
  return done ? id : null
}

/** Settings of what is strewn of an asset at first. */
export function firstStrewing(room: number): Planting['params'] {
  return PLANTINGS.get('strewn').atFirst(spacingOfRoom(room))
}

/** Lets a planting lie along a path, too. */
export function addAlong(editor: Editor, planting: string, path: string): boolean {
  return changeOne(editor, 'plantings', planting, 'Lie along a path', (one) => {
    if (!one.along.includes(path)) one.along.push(path)
  })
}

/** Lets a planting lie along a path no more; the path stays. */
export function leaveAlong(editor: Editor, planting: string, path: string): boolean {
  return changeOne(editor, 'plantings', planting, 'Lie along a path no more', (one) => void (one.along = one.along.filter((id) => id !== path)))
}

/** Gives a line of one planting to another. */
export function giveAlong(editor: Editor, from: string, to: string, path: string): boolean {
  return editor.edit('Give a line to another planting', ({ plantings }) => {
    for (const one of plantings) {
      if (one.id === from) one.along = one.along.filter((id) => id !== path)
      if (one.id === to && !one.along.includes(path)) one.along.push(path)
    }
  })
}
