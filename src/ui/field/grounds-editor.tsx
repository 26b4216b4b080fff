import type { Planting } from '../../core/meadow.ts'
import { useField, useFieldState } from './field-context.ts'
import { changePlanting } from '../../document/edits/plantings.ts'

/** What a planting grows on: the terrain, or meshes that stand in the meadow. Nothing where there is no mesh to choose. */
export function GroundsEditor({ planting }: { readonly planting: Planting }) {
  const { session } = useField()
  const meshes = useFieldState((state) => state.history.meadow.meshes)
  const choices = meshes.filter((mesh) => mesh.role === 'ground' || planting.grounds.includes(mesh.id))
  if (choices.length === 0) return null
  const set = (grounds: string[]) => changePlanting(session, planting.id, 'Change what it grows on', (one) => void (one.grounds = grounds))
  return (
    <fieldset className="grounds" disabled={planting.locked}>
      <legend>Grows on</legend>
      <label className="row">
        <input type="radio" name={`ground-${planting.id}`} checked={planting.grounds.length === 0} onChange={() => set([])} />
        the terrain
      </label>
      {choices.map(({ id, name }) => (
        <label className="row" key={id}>
          <input
            type="checkbox"
            checked={planting.grounds.includes(id)}
            onChange={(event) => set(event.target.checked ? [...planting.grounds, id] : planting.grounds.filter((one) => one !== id))}
          />
          {name}
        </label>
      ))}
    </fieldset>
  )
}
