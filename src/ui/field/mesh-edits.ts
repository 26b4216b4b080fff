import type { PlacedMesh } from '../../core/meadow.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { notify } from '../../state/notices.ts'

/** The named edits of meshes that stand in the meadow. */

export const ROLES: readonly { readonly value: PlacedMesh['role']; readonly label: string; readonly help: string }[] = [
  { value: 'ground', label: 'ground', help: 'Plantings can grow on it.' },
  { value: 'obstacle', label: 'obstacle', help: 'Plantings keep out of it; new plantings do by themselves.' },
  { value: 'scenery', label: 'scenery', help: 'Only to be seen.' },
]

export function setMesh(session: FieldSession, id: string, name: string, values: Partial<Omit<PlacedMesh, 'id'>>, gesture?: string): void {
  session.edit(
    name,
    ({ meshes }) => {
      const mesh = meshes.find((one) => one.id === id)
      if (mesh && (!mesh.locked || 'locked' in values || 'visible' in values)) Object.assign(mesh, values)
    },
    gesture,
  )
}

export function removeMesh(session: FieldSession, { id, name }: PlacedMesh): void {
  session.edit('Remove the mesh', (meadow) => void (meadow.meshes = meadow.meshes.filter((one) => one.id !== id)))
  notify('word', `“${name}” is removed.`, { label: 'Bring it back', run: session.undo })
}
