import type { PlacedMesh } from '../../core/meadow.ts'
import type { Editor } from './editor.ts'

/** The named edits of meshes that stand in the meadow. */

export const ROLES: readonly { readonly value: PlacedMesh['role']; readonly label: string; readonly help: string }[] = [
  { value: 'ground', label: 'ground', help: 'Plantings can grow on it.' },
  { value: 'obstacle', label: 'obstacle', help: 'Plantings keep out of it; new plantings do by themselves.' },
  { value: 'scenery', label: 'scenery', help: 'Only to be seen.' },
]

export function setMesh(editor: Editor, id: string, name: string, values: Partial<Omit<PlacedMesh, 'id'>>, gesture?: string): void {
  editor.edit(
    name,
    ({ meshes }) => {
      const mesh = meshes.find((one) => one.id === id)
      if (mesh) Object.assign(mesh, values)
    },
    gesture,
  )
}

export function removeMesh(editor: Editor, { id }: PlacedMesh): boolean {
  return editor.edit('Remove the mesh', (meadow) => void (meadow.meshes = meadow.meshes.filter((one) => one.id !== id)))
}

/** Stands a mesh in the meadow. */
export function addMesh(editor: Editor, mesh: PlacedMesh): boolean {
  return editor.edit('Bring in a mesh', ({ meshes }) => void meshes.push(mesh))
}
