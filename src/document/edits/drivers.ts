import type { ParamValue } from '../../core/kinds.ts'
import type { DriverTarget, DriverUse } from '../../core/meadow.ts'
import { firstAmounts, newDriver } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import { changePlanting } from './plantings.ts'

/** The named edits of drivers. */

export function addDriver(editor: Editor, planting: string, kind: string, params: Record<string, ParamValue>): void {
  changePlanting(editor, planting, 'Add a driver', ({ drivers }) => void drivers.push(newDriver(kind, 'size', { params })))
}

export function removeDriver(editor: Editor, planting: string, driver: string): void {
  changePlanting(editor, planting, 'Remove a driver', (one) => void (one.drivers = one.drivers.filter(({ id }) => id !== driver)))
}

export function setDriver(editor: Editor, planting: string, driver: string, name: string, recipe: (draft: DriverUse) => void, gesture?: string): void {
  changePlanting(
    editor,
    planting,
    name,
    ({ drivers }) => {
      const use = drivers.find(({ id }) => id === driver)
      if (use) recipe(use)
    },
    gesture,
  )
}

/** Lets a driver change something else, with amounts that make sense there. */
export function setDriverTarget(editor: Editor, planting: string, driver: string, target: DriverTarget): void {
  setDriver(editor, planting, driver, 'Change what a driver changes', (use) => {
    use.target = target
    ;[use.low, use.high] = firstAmounts(use.kind, target)
  })
}
