import type { ParamValue } from '../../core/kinds.ts'
import type { DriverTarget, DriverUse } from '../../core/meadow.ts'
import { FIRST_AMOUNTS, newDriver } from '../../document/new-planting.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { changePlanting } from './planting-edits.ts'

/** The named edits of drivers. */

export function addDriver(session: FieldSession, planting: string, kind: string, params: Record<string, ParamValue>): void {
  changePlanting(session, planting, 'Add a driver', ({ drivers }) => void drivers.push(newDriver(kind, 'size', { params })))
}

export function removeDriver(session: FieldSession, planting: string, driver: string): void {
  changePlanting(session, planting, 'Remove a driver', (one) => void (one.drivers = one.drivers.filter(({ id }) => id !== driver)))
}

export function setDriver(session: FieldSession, planting: string, driver: string, name: string, recipe: (draft: DriverUse) => void, gesture?: string): void {
  changePlanting(
    session,
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
export function setDriverTarget(session: FieldSession, planting: string, driver: string, target: DriverTarget): void {
  setDriver(session, planting, driver, 'Change what a driver changes', (use) => {
    use.target = target
    ;[use.low, use.high] = FIRST_AMOUNTS[target]
  })
}
