import type { GroundFrame, Vector } from '../../core/hand/frames.ts'
import { newId } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import { changeOne, removeOne } from './editor.ts'

/** The named edits of pegs: helper points that things are set to. */

/** Sets a peg at a place of the world, kept in the frame of the ground that it is on; returns its id, null when it was refused. */
export function addPeg(editor: Editor, ground: string, frame: GroundFrame, place: Vector): string | null {
  const id = newId()
  const [x, y, z] = frame.placeToOwn(place)
  const name = `Peg ${editor.meadow().pegs.length + 1}`
  return editor.edit('Set a peg', (draft) => void draft.pegs.push({ id, name, ground, place: [x, y, z] })) ? id : null
}

/** Moves a peg to a place in the frame of its ground. */
export function movePeg(editor: Editor, id: string, place: Vector, gesture?: string): boolean {
  return changeOne(editor, 'pegs', id, 'Move a peg', (peg) => void (peg.place = [place[0], place[1], place[2]]), gesture)
}

export function removePeg(editor: Editor, id: string): boolean {
  return removeOne(editor, 'pegs', id, 'Take a peg out')
}

export function removePegs(editor: Editor): boolean {
  return editor.edit('Take all pegs out', (draft) => void (draft.pegs = []))
}
