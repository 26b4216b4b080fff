import { CONDITIONS } from '../../core/fields/conditions/index.ts'
import { DRIVERS } from '../../core/fields/drivers/index.ts'
import type { Planting } from '../../core/meadow.ts'
import { meshGroundsOf } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { LivePhrase } from '../params/live-phrase.tsx'
import { setDriver } from '../../document/edits/drivers.ts'
import { amountWords } from './driver-words.ts'
import { useField, useFieldState } from './field-context.ts'
import { groundName } from './grounds-editor.tsx'
import { setConditionParam, setParam } from '../../document/edits/plantings.ts'

/** Names of a mix as one reads them: "thrift and sea lavender". */
export function mixWords(names: readonly string[]): string {
  if (names.length === 0) return 'Nothing yet'
  if (names.length === 1) return names[0]
  const shown = names.length > 3 ? [...names.slice(0, 2), `${names.length - 2} more`] : names
  return `${shown.slice(0, -1).join(', ')} and ${shown[shown.length - 1]}`
}

/** A planting as a sentence, its values live. */
export function PlantingSentence({ planting }: { readonly planting: Planting }) {
  const { session } = useField()
  const assets = useFieldState((state) => state.history.meadow.assets)
  const meshes = useFieldState((state) => state.history.meadow.meshes)
  const kind = PLANTINGS.get(planting.kind)
  const names = planting.mix.map((entry) => assets.find((asset) => asset.id === entry.asset)?.name ?? 'a missing asset')
  const own = (phrase: ReturnType<typeof kind.howMany>) => (
    <LivePhrase
      phrase={phrase}
      params={kind.params}
      values={planting.params}
      disabled={planting.locked}
      onChange={(param, value, gesture) => setParam(session, planting.id, kind.params[param].label, param, value, gesture)}
    />
  )
  const words = mixWords(names)
  return (
    <p className="sentence">
      <em>{words[0].toUpperCase() + words.slice(1).toLowerCase()}</em>, {own(kind.howMany(planting.params))}
      {meshGroundsOf(planting).length > 0 && `, on ${mixWords(planting.grounds.map((ground) => groundName(ground, meshes)))}`}
      {planting.habitat
        .filter((use) => use.on)
        .map((use, i) => {
          const condition = CONDITIONS.get(use.kind)
          return (
            <span key={use.id}>
              {i === 0 ? ', ' : planting.combine === 'any' ? ' or ' : ', '}
              {use.invert && 'not '}
              <LivePhrase
                phrase={condition.sentence(use.params)}
                params={condition.params}
                values={use.params}
                disabled={planting.locked}
                onChange={(param, value, gesture) =>
                  setConditionParam(session, planting.id, use.id, condition.params[param].label, param, value, gesture)
                }
              />
            </span>
          )
        })}
      {'; '}
      {own(kind.howItStands(planting.params))}
      {planting.drivers
        .filter((use) => use.on)
        .map((use) => {
          const driver = DRIVERS.get(use.kind)
          return (
            <span key={use.id}>
              , {amountWords(use)} by{' '}
              <LivePhrase
                phrase={driver.words(use.params)}
                params={driver.params}
                values={use.params}
                disabled={planting.locked}
                onChange={(param, value, gesture) =>
                  setDriver(session, planting.id, use.id, `Change ${driver.params[param].label.toLowerCase()}`, (draft) => void (draft.params[param] = value), gesture)
                }
              />
            </span>
          )
        })}
      .
    </p>
  )
}
