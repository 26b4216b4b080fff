import type { Combine, ConditionUse, Planting, SavedHabitat } from '../../core/meadow.ts'
import { newId } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import { changeOne, removeOne } from './editor.ts'
import { changePlanting } from './plantings.ts'

/** The named edits of habitats. */

/** Copies of conditions, as their own. */
function copies(uses: readonly ConditionUse[]): ConditionUse[] {
  return uses.map((use) => ({ ...use, params: { ...use.params }, id: newId() }))
}

export function addConditions(editor: Editor, planting: string, uses: readonly ConditionUse[], name: string): void {
  changePlanting(editor, planting, name, ({ habitat }) => void habitat.push(...copies(uses)))
}

export function setCombine(editor: Editor, planting: string, combine: Combine): void {
  changePlanting(editor, planting, combine === 'all' ? 'All conditions must hold' : 'One condition is enough', (one) => void (one.combine = combine))
}

export function invertCondition(editor: Editor, planting: string, condition: string): void {
  changePlanting(editor, planting, 'Turn a condition round', ({ habitat }) => {
    const use = habitat.find(({ id }) => id === condition)
    if (use) use.invert = !use.invert
  })
}

/** Moves a condition to a place in the list. */
export function moveCondition(editor: Editor, planting: string, condition: string, to: number): void {
  changePlanting(editor, planting, 'Move a condition', ({ habitat }) => {
    const from = habitat.findIndex(({ id }) => id === condition)
    if (from < 0 || to < 0 || to >= habitat.length) return
    habitat.splice(to, 0, ...habitat.splice(from, 1))
  })
}

/** Keeps the habitat of a planting under the planting's name; returns the name, null when it was refused. */
export function keepHabitat(editor: Editor, id: string): string | null {
  const meadow = editor.meadow()
  const planting = meadow.plantings.find((one) => one.id === id)
  if (!planting) return null
  const name = nameFor(planting, meadow.habitats)
  const kept = editor.edit('Keep a habitat', ({ habitats }) => void habitats.push({ id: newId(), name, combine: planting.combine, uses: copies(planting.habitat) }))
  return kept ? name : null
}

function nameFor({ name }: Planting, habitats: readonly SavedHabitat[]): string {
  const taken = new Set(habitats.map((one) => one.name))
  for (let n = 1; ; n++) {
    const wanted = n === 1 ? name : `${name} ${n}`
    if (!taken.has(wanted)) return wanted
  }
}

/** Gives a planting the conditions of a kept habitat instead of its own. */
export function applyHabitat(editor: Editor, planting: string, { uses, combine }: SavedHabitat): void {
  changePlanting(editor, planting, 'Take a kept habitat', (one) => {
    one.habitat = copies(uses)
    one.combine = combine
  })
}

export function renameHabitat(editor: Editor, { id }: SavedHabitat, name: string): void {
  changeOne(editor, 'habitats', id, 'Rename a kept habitat', (habitat) => void (habitat.name = name))
}

export function removeHabitat(editor: Editor, { id }: SavedHabitat): boolean {
  return removeOne(editor, 'habitats', id, 'Forget a habitat')
}
