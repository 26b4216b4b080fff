import type { PlacedMesh } from '../../core/meadow.ts'
import type { Editor } from './editor.ts'
import { leaveHost } from './base.ts'
import { changeOne } from './editor.ts'
import { giveToWaiting } from './waiting.ts'

/** The named edits of meshes that stand in the meadow. */

export const ROLES: readonly { readonly value: PlacedMesh['role']; readonly label: string; readonly help: string }[] = [
  { value: 'ground', label: 'ground', help: 'Plantings can grow on it.' },
  { value: 'obstacle', label: 'obstacle', help: 'Plantings keep out of it; new plantings do by themselves.' },
  { value: 'scenery', label: 'scenery', help: 'Only to be seen.' },
]

export function setMesh(editor: Editor, id: string, name: string, values: Partial<Omit<PlacedMesh, 'id'>>, gesture?: string): void {
  changeOne(editor, 'meshes', id, name, (one) => void Object.assign(one, values), gesture)
}

/** Removes a mesh; patterns that stand on it stay where they are, held by the terrain. */
export function removeMesh(editor: Editor, { id }: PlacedMesh, heightAt: (x: number, z: number) => number): boolean {
  return editor.edit('Remove the mesh', (meadow) => {
    for (const planting of meadow.plantings) if (planting.base?.host === id) leaveHost(planting, meadow, heightAt)
    meadow.meshes = meadow.meshes.filter((one) => one.id !== id)
  })
}

/** Stands a mesh in the meadow. */
export function addMesh(editor: Editor, mesh: PlacedMesh): boolean {
  return editor.edit('Bring in a mesh', (meadow) => {
    meadow.meshes.push(mesh)
    giveToWaiting(meadow, mesh.id)
  })
}
