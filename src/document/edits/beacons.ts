import type { Beacon } from '../../core/meadow.ts'
import { newBeacon, newId } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import { changeOne, removeOne } from './editor.ts'
import { giveToWaiting } from './waiting.ts'

/** The named edits of beacons. */

const COLOURS = ['#f2c14e', '#e4572e', '#8f5bd0', '#2f8fc4', '#f2efe2'] as const

/** Sets a beacon at a place; returns its id. */
export function addBeacon(editor: Editor, x: number, z: number): string {
  const id = newId()
  editor.edit('Set a beacon', (meadow) => {
    const { beacons, ground } = meadow
    const reach = Math.max(1, Math.round(Math.max(ground.sizeX, ground.sizeZ) / 25))
    beacons.push(newBeacon({ id, name: `Beacon ${beacons.length + 1}`, colour: COLOURS[beacons.length % COLOURS.length], x, z, reach }))
    giveToWaiting(meadow, id)
  })
  return id
}

export function setBeacon(editor: Editor, id: string, name: string, values: Partial<Omit<Beacon, 'id'>>, gesture?: string): void {
  changeOne(editor, 'beacons', id, name, (one) => void Object.assign(one, values), gesture)
}

export function removeBeacon(editor: Editor, { id }: Beacon): boolean {
  return removeOne(editor, 'beacons', id, 'Remove the beacon')
}
