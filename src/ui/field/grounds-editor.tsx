import { ArrowUp } from 'lucide-react'
import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { Meadow, Planting } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { setGrounds } from '../../document/edits/plantings.ts'
import { IconAction } from '../parts/actions.tsx'
import { useField, useFieldState } from './field-context.ts'

/** What a planting grows on: the terrain, meshes that stand in the meadow, or both. Nothing where there is no mesh to choose. */
export function GroundsEditor({ planting }: { readonly planting: Planting }) {
  const { session } = useField()
  const meshes = useFieldState((state) => state.history.meadow.meshes)
  const { id, grounds, locked } = planting
  // What perches has no need of ground to grow on: any mesh will do.
  const { meshesOnly, inOrder } = PLANTINGS.get(planting.kind)
  const choices = [...(meshesOnly ? [] : [TERRAIN_ID]), ...meshes.filter((mesh) => meshesOnly || mesh.role === 'ground' || grounds.includes(mesh.id)).map((mesh) => mesh.id)]
  if (choices.length === 1 && grounds.includes(TERRAIN_ID)) return null
  const shown = [...grounds, ...choices.filter((one) => !grounds.includes(one))]
  const raise = (place: number) => [...grounds.slice(0, place - 1), grounds[place], grounds[place - 1], ...grounds.slice(place + 1)]
  return (
    <fieldset className="grounds" disabled={locked}>
      <legend>{meshesOnly ? 'Perches on' : inOrder ? 'Comes down on' : 'Grows on'}</legend>
      {shown.map((ground, place) => {
        const name = groundName(ground, meshes)
        const chosen = place < grounds.length
        return (
          <div className="row" key={ground}>
            <label className="row grow">
              <input type="checkbox" checked={chosen} onChange={() => setGrounds(session, id, chosen ? grounds.filter((one) => one !== ground) : [...grounds, ground])} />
              {name}
            </label>
            {chosen && place > 0 && (
              <IconAction label={`Let ${name} hold before ${groundName(grounds[place - 1], meshes)}`} disabled={locked} onClick={() => setGrounds(session, id, raise(place))}>
                <ArrowUp />
              </IconAction>
            )}
          </div>
        )
      })}
      {grounds.length > 1 && inOrder && !meshesOnly && <p className="faded">From above, on whichever is higher.</p>}
      {grounds.length > 1 && !inOrder && <p className="faded">Where two overlap, the one further up holds: nothing grows inside it.</p>}
    </fieldset>
  )
}

/** The name of a ground in the middle of a sentence. */
export function groundName(ground: string, meshes: Meadow['meshes']): string {
  return ground === TERRAIN_ID ? 'the terrain' : meshes.find(({ id }) => id === ground)?.name ?? 'a mesh that is gone'
}
