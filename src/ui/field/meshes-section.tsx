import { Eye, EyeOff, Lock, LockOpen, PenLine, Plus, Trash2 } from 'lucide-react'
import { useEffect, useState } from 'react'
import { useStore } from 'zustand'
import { heightAt } from '../../core/grounds/terrain.ts'
import type { PlacedMesh } from '../../core/meadow.ts'
import { BESIDE_ENDINGS, MODEL_ENDINGS } from '../../formats/endings.ts'
import { IconAction, WordAction } from '../parts/actions.tsx'
import type { ChosenModels } from '../parts/files.ts'
import { chooseModels } from '../parts/files.ts'
import { plantingsNaming } from '../../document/named-in.ts'
import { Renamed } from '../parts/name-input.tsx'
import { NumberField } from '../params/number-field.tsx'
import { useField, useFieldState } from './field-context.ts'
import { tellRemoved } from './tell.ts'
import { terrainHeight } from '../../tools/choose/acts.ts'
import { removeMesh, ROLES, setMesh } from '../../document/edits/meshes.ts'

/** Meshes that stand in the meadow: grounds, obstacles, scenery. */
export function MeshesSection({ onImport }: { readonly onImport: (chosen: ChosenModels) => void }) {
  const { tool } = useField()
  const meshes = useFieldState((state) => state.history.meadow.meshes)
  useEffect(() => () => tool.setState({ mesh: null }), [tool])
  return (
    <>
      <h3 className="category row">
        <span className="grow">Meshes</span>
        <IconAction label="Bring in a mesh to stand here (GLB, glTF, OBJ, PLY, STL)" onClick={() => void chooseModels(MODEL_ENDINGS, BESIDE_ENDINGS).then((chosen) => chosen && onImport(chosen))}>
          <Plus />
        </IconAction>
      </h3>
      {meshes.length === 0 && <p className="faded">None yet: cliffs and walls to grow on, huts to keep out of.</p>}
      <ul className="outlines" aria-label="Meshes">
        {meshes.map((mesh) => (
          <MeshRow key={mesh.id} mesh={mesh} />
        ))}
      </ul>
    </>
  )
}

function MeshRow({ mesh }: { readonly mesh: PlacedMesh }) {
  const { session, tool } = useField()
  const selected = useStore(tool, (state) => state.mesh === mesh.id)
  const [naming, setNaming] = useState(false)
  const { id, name, visible, locked } = mesh
  const remove = () => {
    // What stood on it stays, which is said.
    const left = session.meadow().plantings.filter(({ base }) => base?.host === id).map((one) => `“${one.name}”`)
    const removed = removeMesh(session, mesh, terrainHeight(session))
    tellRemoved(session, name, removed, left.length > 0 ? `removed; ${left.join(', ')} ${left.length === 1 ? 'stays where it was' : 'stay where they were'}` : undefined)
  }
  return (
    <li className={selected ? 'outline selected' : 'outline'}>
      <div className="card-head">
        <Renamed className="card-name-input" label="Name of the mesh" name={name} naming={naming} onNaming={setNaming} onRename={(next) => setMesh(session, id, 'Rename the mesh', { name: next })}>
          <button type="button" className="card-name" aria-expanded={selected} onClick={() => tool.setState({ mesh: selected ? null : id })}>
            {name}
          </button>
        </Renamed>
        <IconAction label={visible ? `Hide ${name}` : `Show ${name}`} pressed={!visible} onClick={() => setMesh(session, id, visible ? 'Hide the mesh' : 'Show the mesh', { visible: !visible })}>
          {visible ? <Eye /> : <EyeOff />}
        </IconAction>
        <IconAction label={locked ? `Unlock ${name}` : `Lock ${name}`} pressed={locked} onClick={() => setMesh(session, id, locked ? 'Unlock the mesh' : 'Lock the mesh', { locked: !locked })}>
          {locked ? <Lock /> : <LockOpen />}
        </IconAction>
        <IconAction label={`Rename ${name}`} disabled={locked} onClick={() => setNaming(true)}>
          <PenLine />
        </IconAction>
        <IconAction label={`Remove ${name}`} disabled={locked} onClick={remove}>
          <Trash2 />
        </IconAction>
      </div>
      {selected && <MeshFields mesh={mesh} />}
    </li>
  )
}

const GRIPS = [
  { grip: 'translate', label: 'Handles move it', word: 'move' },
  { grip: 'rotate', label: 'Handles turn it', word: 'turn' },
  { grip: 'scale', label: 'Handles size it', word: 'size' },
] as const

const AXES = ['X', 'Y', 'Z'] as const

function MeshFields({ mesh }: { readonly mesh: PlacedMesh }) {
  const { session, tool } = useField()
  const grip = useStore(tool, (state) => state.grip)
  const terrain = useFieldState((state) => state.terrain)
  const users = useFieldState((state) => plantingsNaming(state.history.meadow, mesh.id).map(({ name }) => name).join(', '))
  const { id, locked, position, turn } = mesh
  const vector = (key: 'position' | 'turn', i: number, value: number, gesture?: string) => {
    const next: [number, number, number] = [...mesh[key]]
    next[i] = value
    setMesh(session, id, key === 'position' ? 'Move a mesh' : 'Turn a mesh', { [key]: next }, gesture)
  }
  return (
    <div className="outline-fields">
      <p className="faded">
        {mesh.triangles.toLocaleString('en')} triangles. {users ? `Named by ${users}.` : 'No planting names it yet.'}
      </p>
      <label className="param">
        <span className="param-label">It is</span>
        <select aria-label="What the mesh is" value={mesh.role} disabled={locked} onChange={(event) => setMesh(session, id, 'Change what a mesh is', { role: event.target.value as PlacedMesh['role'] })}>
          {ROLES.map(({ value, label, help }) => (
            <option key={value} value={value} title={help}>
              {label}
            </option>
          ))}
        </select>
      </label>
      <div className="param">
        <span className="param-label">Handles</span>
        <span className="row mesh-handles">
          {GRIPS.map(({ grip: one, label, word }) => (
            <WordAction key={one} label={label} word={word} pressed={grip === one} disabled={locked} onClick={() => tool.setState({ grip: one })} />
          ))}
        </span>
      </div>
      {AXES.map((axis, i) => (
        <div className="param" key={axis}>
          <span className="param-label">{axis}</span>
          <NumberField label={`Place along ${axis}`} value={position[i]} unit="m" min={-1e6} max={1e6} step={0.1} disabled={locked} onChange={(value, gesture) => value !== null && vector('position', i, value, gesture)} />
          <NumberField label={`Turn about ${axis}`} value={turn[i]} unit="deg" min={-360} max={360} step={1} disabled={locked} onChange={(value, gesture) => value !== null && vector('turn', i, value, gesture)} />
        </div>
      ))}
      <button
        type="button"
        className="text-action"
        disabled={locked}
        onClick={() => vector('position', 1, Math.round(1000 * heightAt(terrain, position[0], position[2])) / 1000)}
      >
        Set it on the terrain
      </button>
      <div className="param">
        <span className="param-label">Size</span>
        <NumberField label="Size of the mesh" value={mesh.size} unit="factor" min={0.001} max={1000} step={0.05} home={1} disabled={locked} onChange={(size, gesture) => size !== null && setMesh(session, id, 'Size a mesh', { size }, gesture)} />
      </div>
    </div>
  )
}
