import type { RefParam, RefTarget } from '../../core/kinds.ts'
import type { Meadow } from '../../core/meadow.ts'
import { useFieldState } from '../field/field-context.ts'

/** What of a meadow a parameter can refer to. */
const LISTS: Record<RefTarget, { readonly word: string; readonly list: (meadow: Meadow) => readonly { id: string; name: string }[] }> = {
  patch: { word: 'a patch', list: ({ outlines }) => outlines.filter((one) => one.kind === 'patch') },
  path: { word: 'a path', list: ({ outlines }) => outlines.filter((one) => one.kind === 'path') },
  planting: { word: 'a planting', list: ({ plantings }) => plantings },
  image: { word: 'an image', list: ({ images }) => images },
  beacon: { word: 'a beacon', list: ({ beacons }) => beacons },
  view: { word: 'a view', list: ({ views }) => views },
  mesh: { word: 'a mesh', list: ({ meshes }) => meshes },
}

/** The first thing that a parameter of a planting could refer to, never itself; empty when there is none. */
export function firstRef(to: RefTarget, meadow: Meadow, planting: string): string {
  return LISTS[to].list(meadow).find(({ id }) => id !== planting)?.id ?? ''
}

interface RefFieldProps {
  readonly param: RefParam
  readonly value: string
  readonly disabled?: boolean
  readonly className?: string
  readonly onChange: (value: string) => void
}

/** Chooses one of the meadow's own things by name. */
export function RefField({ param, value, disabled, className, onChange }: RefFieldProps) {
  const { word, list } = LISTS[param.to]
  const names = useFieldState((state) => JSON.stringify(list(state.history.meadow).map(({ id, name }) => [id, name])))
  const options = JSON.parse(names) as [string, string][]
  const known = options.some(([id]) => id === value)
  return (
    <select className={className} aria-label={param.label} title={param.help} value={value} disabled={disabled} onChange={(event) => onChange(event.target.value)}>
      {!known && <option value={value}>{value === '' ? (options.length > 0 ? `${word} to be chosen` : `no ${word.replace(/^an? /, '')} yet`) : `${word} that is gone`}</option>}
      {options.map(([id, name]) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
  )
}
