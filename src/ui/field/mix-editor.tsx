import { X } from 'lucide-react'
import { CONDITIONS } from '../../core/fields/conditions/index.ts'
import { isShown } from '../../core/kinds.ts'
import type { ConditionUse, Planting } from '../../core/meadow.ts'
import { newCondition } from '../../document/new-planting.ts'
import { IconAction } from '../parts/actions.tsx'
import { NumberField } from '../params/number-field.tsx'
import { ParamField } from '../params/param-field.tsx'
import { AssetThumb } from './asset-thumb.tsx'
import { useField, useFieldState } from './field-context.ts'
import { firstRefs } from './habitat-editor.tsx'
import { setMix } from '../../document/edits/plantings.ts'
import { normalShares, withShare } from './shares.ts'

/** Which assets, in which proportions. */
export function MixEditor({ planting }: { readonly planting: Planting }) {
  const { session } = useField()
  const assets = useFieldState((state) => state.history.meadow.assets)
  const shares = normalShares(planting.mix)
  const free = assets.filter((asset) => !planting.mix.some((entry) => entry.asset === asset.id))
  return (
    <>
      <div className="share-bar" aria-hidden="true">
        {planting.mix.map((entry, i) => (
          <span key={entry.asset} style={{ flexGrow: Math.max(shares[i], 0.001), background: planting.colour, opacity: 1 - (0.6 * i) / Math.max(1, planting.mix.length) }} />
        ))}
      </div>
      <ul className="mix">
        {planting.mix.map((entry, i) => {
          const asset = assets.find((one) => one.id === entry.asset)
          return (
            <li key={entry.asset}>
              {asset && <AssetThumb asset={asset} size={34} />}
              <span className="grow">{asset?.name ?? 'A missing asset'}</span>
              <NumberField
                label={`Share of ${asset?.name ?? 'the missing asset'}`}
                value={shares[i]}
                unit="share"
                min={0}
                max={1}
                step={0.01}
                disabled={planting.locked || planting.mix.length < 2}
                onChange={(share, gesture) => share !== null && setMix(session, planting.id, 'Change the shares', withShare(planting.mix, i, share), gesture)}
              />
              <IconAction
                label={`Take ${asset?.name ?? 'it'} out of the mix`}
                disabled={planting.locked}
                onClick={() => setMix(session, planting.id, 'Take out of the mix', planting.mix.filter((_, k) => k !== i))}
              >
                <X />
              </IconAction>
              {planting.mix.length > 1 && <Preference planting={planting} place={i} name={asset?.name ?? 'it'} />}
            </li>
          )
        })}
      </ul>
      {free.length > 0 && (
        <label className="add-asset">
          <span className="faded">Add to the mix</span>
          <select
            value=""
            disabled={planting.locked}
            onChange={(event) => {
              const share = planting.mix.length ? 1 / planting.mix.length : 1
              const kept = planting.mix.map((entry, i) => ({ ...entry, share: shares[i] }))
              setMix(session, planting.id, 'Add to the mix', [...kept, { asset: event.target.value, share }])
            }}
          >
            <option value="" disabled>
              Choose an asset…
            </option>
            {free.map((asset) => (
              <option key={asset.id} value={asset.id}>
                {asset.name}
              </option>
            ))}
          </select>
        </label>
      )}
    </>
  )
}

interface PreferenceProps {
  readonly planting: Planting
  /** Which of the mix. */
  readonly place: number
  readonly name: string
}

/** Where one of a mix prefers to be: a condition that its share counts by. */
function Preference({ planting, place, name }: PreferenceProps) {
  const { session } = useField()
  const { where } = planting.mix[place]
  const set = (label: string, next: ConditionUse | undefined, gesture?: string) =>
    setMix(
      session,
      planting.id,
      label,
      planting.mix.map((entry, i) => (i === place ? { asset: entry.asset, share: entry.share, ...(next && { where: next }) } : entry)),
      gesture,
    )
  const kind = where && CONDITIONS.get(where.kind)
  return (
    <div className="preference">
      <label className="row">
        <span className="faded">prefers</span>
        <select
          aria-label={`Where ${name} prefers to be`}
          value={where?.kind ?? ''}
          disabled={planting.locked}
          onChange={(event) => {
            const chosen = event.target.value
            set('Change where one of the mix prefers to be', chosen === '' ? undefined : newCondition(chosen, firstRefs(CONDITIONS.get(chosen).params, session, planting.id)))
          }}
        >
          <option value="">anywhere</option>
          {CONDITIONS.all.map((condition) => (
            <option key={condition.kind} value={condition.kind}>
              {condition.label.toLowerCase()}
            </option>
          ))}
        </select>
      </label>
      {where &&
        kind &&
        Object.entries(kind.params)
          .filter(([, param]) => isShown(param, where.params))
          .map(([key, param]) => (
            <ParamField
              key={key}
              param={param}
              value={where.params[key]}
              disabled={planting.locked}
              onChange={(value, gesture) => set(`Change ${param.label.toLowerCase()}`, { ...where, params: { ...where.params, [key]: value } }, gesture)}
            />
          ))}
    </div>
  )
}
