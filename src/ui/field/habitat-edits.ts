import type { Combine, ConditionUse, Planting, SavedHabitat } from '../../core/meadow.ts'
import { newId } from '../../document/new-planting.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { notify } from '../../state/notices.ts'
import { changePlanting } from './planting-edits.ts'

/** The named edits of habitats. */

/** Copies of conditions, as their own. */
function copies(uses: readonly ConditionUse[]): ConditionUse[] {
  return uses.map((use) => ({ ...use, params: { ...use.params }, id: newId() }))
}

export function addConditions(session: FieldSession, planting: string, uses: readonly ConditionUse[], name: string): void {
  changePlanting(session, planting, name, ({ habitat }) => void habitat.push(...copies(uses)))
}

export function setCombine(session: FieldSession, planting: string, combine: Combine): void {
  changePlanting(session, planting, combine === 'all' ? 'All conditions must hold' : 'One condition is enough', (one) => void (one.combine = combine))
}

export function invertCondition(session: FieldSession, planting: string, condition: string): void {
  changePlanting(session, planting, 'Turn a condition round', ({ habitat }) => {
    const use = habitat.find(({ id }) => id === condition)
    if (use) use.invert = !use.invert
  })
}

/** Moves a condition to a place in the list. */
export function moveCondition(session: FieldSession, planting: string, condition: string, to: number): void {
  changePlanting(session, planting, 'Move a condition', ({ habitat }) => {
    const from = habitat.findIndex(({ id }) => id === condition)
    if (from < 0 || to < 0 || to >= habitat.length) return
    habitat.splice(to, 0, ...habitat.splice(from, 1))
  })
}

const MOST_KEPT = 200

/** Keeps the habitat of a planting under the planting's name. */
export function keepHabitat(session: FieldSession, id: string): void {
  const { meadow } = session.store.getState().history
  const planting = meadow.plantings.find((one) => one.id === id)
  if (!planting) return
  if (meadow.habitats.length >= MOST_KEPT) {
    notify('warning', `${MOST_KEPT} habitats are kept already; forget one first.`)
    return
  }
  const name = nameFor(planting, meadow.habitats)
  session.edit('Keep a habitat', ({ habitats }) => void habitats.push({ id: newId(), name, combine: planting.combine, uses: copies(planting.habitat) }))
  notify('word', `The habitat is kept as “${name}”; any planting can take it from the same menu.`)
}

function nameFor({ name }: Planting, habitats: readonly SavedHabitat[]): string {
  const taken = new Set(habitats.map((one) => one.name))
  for (let n = 1; ; n++) {
    const wanted = n === 1 ? name : `${name} ${n}`
    if (!taken.has(wanted)) return wanted
  }
}

/** Gives a planting the conditions of a kept habitat instead of its own. */
export function applyHabitat(session: FieldSession, planting: string, { uses, combine }: SavedHabitat): void {
  changePlanting(session, planting, 'Take a kept habitat', (one) => {
    one.habitat = copies(uses)
    one.combine = combine
  })
}

export function renameHabitat(session: FieldSession, { id }: SavedHabitat, name: string): void {
  session.edit('Rename a kept habitat', ({ habitats }) => {
    const found = habitats.find((one) => one.id === id)
    if (found) found.name = name
  })
}

export function removeHabitat(session: FieldSession, { id, name }: SavedHabitat): void {
  session.edit('Forget a habitat', (meadow) => void (meadow.habitats = meadow.habitats.filter((one) => one.id !== id)))
  notify('word', `“${name}” is forgotten.`, { label: 'Bring it back', run: session.undo })
}
