import { X } from 'lucide-react'
import { useState } from 'react'
import { CONDITIONS } from '../../core/fields/conditions/index.ts'
import { isShown } from '../../core/kinds.ts'
import { LIMITS } from '../../core/limits.ts'
import type { Planting } from '../../core/meadow.ts'
import { addToMix, partsOf, setElsewhere, setPreference, setPreferenceParam, setShare, takeOutOfMix } from '../../document/edits/mixes.ts'
import { NumberField } from '../params/number-field.tsx'
import { ParamField } from '../params/param-field.tsx'
import { IconAction } from '../parts/actions.tsx'
import { SubjectOptions } from '../parts/subject-menu.tsx'
import { useAssetCounts } from './asset-counts.ts'
import { AssetThumb } from './asset-thumb.tsx'
import { useField, useFieldState } from './field-context.ts'
import { firstRefs } from './habitat-editor.tsx'
import { percent, ShareBar } from './share-bar.tsx'

/** Which assets, in which proportions, and how many of each came out. */
export function MixEditor({ planting }: { readonly planting: Planting }) {
  const { session } = useField()
  const assets = useFieldState((state) => state.history.meadow.assets)
  const { id, mix, locked } = planting
  // The shelf may be long: its entries are made when the list is first looked at.
  const [asked, setAsked] = useState(false)
  const free = assets.filter((asset) => !mix.some((entry) => entry.asset === asset.id))
  const names = mix.map((entry) => assets.find((one) => one.id === entry.asset)?.name ?? 'a missing asset')
  return (
    <>
      {mix.length > 1 && <ShareBar planting={planting} names={names} />}
      <ul className="mix">
        {mix.map((entry, i) => (
          <MixEntry key={entry.asset} planting={planting} place={i} name={names[i]} />
        ))}
      </ul>
      {free.length > 0 && (
        <label className="add-asset">
          <span className="faded">Add to the mix</span>
          <select value="" disabled={locked} onFocus={() => setAsked(true)} onPointerDown={() => setAsked(true)} onChange={(event) => addToMix(session, id, event.target.value)}>
            <option value="" disabled>
              Choose an asset…
            </option>
            {(asked ? free : []).map((asset) => (
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

interface EntryProps {
  readonly planting: Planting
  /** Which of the mix. */
  readonly place: number
  readonly name: string
}

function MixEntry({ planting, place, name }: EntryProps) {
  const { session } = useField()
  const { id, mix, locked } = planting
  const { asset: assetId, share } = mix[place]
  const asset = useFieldState((state) => state.history.meadow.assets.find((one) => one.id === assetId))
  const counts = useAssetCounts(id)
  const count = asset && counts ? (counts.get(asset.number) ?? 0) : null
  const part = partsOf(mix)[place]
  return (
    <li>
      {asset ? <AssetThumb asset={asset} size={38} /> : <span className="thumb" />}
      <span className="mix-name">{name}</span>
      <IconAction label={`Take ${name} out of the mix`} disabled={locked} onClick={() => takeOutOfMix(session, id, place)}>
        <X />
      </IconAction>
      <span className="mix-share">
        {mix.length > 1 && (
          <>
            <NumberField
              label={`Share of ${name}`}
              value={share}
              unit="parts"
              min={0}
              max={LIMITS.share}
              step={1}
              disabled={locked}
              onChange={(next, gesture) => next !== null && setShare(session, id, place, next, gesture)}
            />
            <span className="faded" title="Its part of the whole: shares are proportions, and may add up to anything">
              {share === 1 ? 'part' : 'parts'}, {percent(part)}
            </span>
          </>
        )}
        {count !== null && (
          <span className="mix-count" data-testid="mix-count" title="So many came out">
            {count.toLocaleString('en')} grown
          </span>
        )}
      </span>
      {count === 0 && part > 0 && <Why planting={planting} place={place} counts={counts} />}
      {mix.length > 1 && <Preference planting={planting} place={place} name={name} />}
    </li>
  )
}

/** Why none of an asset has grown, while others of its mix have. */
function Why({ planting: { mix }, place, counts }: Omit<EntryProps, 'name'> & { readonly counts: ReadonlyMap<number, number> | null }) {
  const { where, elsewhere = 0 } = mix[place]
  if (![...(counts?.values() ?? [])].some((count) => count > 0)) return null
  return (
    <p className="mix-none" role="status">
      {where?.on && elsewhere === 0
        ? `None came out: what it prefers, “${CONDITIONS.get(where.kind).label.toLowerCase()}”, holds nowhere that this planting grows. Widen it, or let some grow elsewhere.`
        : 'None came out: the others took all places; give it more parts.'}
    </p>
  )
}

/** Where one of a mix prefers to be: a condition that its share counts by. */
function Preference({ planting, place, name }: EntryProps) {
  const { session } = useField()
  const { id, locked } = planting
  const { where, elsewhere = 0 } = planting.mix[place]
  const kind = where && CONDITIONS.get(where.kind)
  return (
    <div className="preference">
      <label className="row">
        <span className="faded">prefers</span>
        <select
          aria-label={`Where ${name} prefers to be`}
          value={where?.kind ?? ''}
          disabled={locked}
          onChange={(event) => {
            const chosen = event.target.value
            if (chosen === '') setPreference(session, id, place, null)
            else setPreference(session, id, place, chosen, firstRefs(CONDITIONS.get(chosen).params, session, id))
          }}
        >
          <option value="">anywhere</option>
          <SubjectOptions kinds={CONDITIONS.all} />
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
              disabled={locked}
              onChange={(value, gesture) => setPreferenceParam(session, id, place, param.label, key, value, gesture)}
            />
          ))}
      {where && (
        <div className="param">
          <span className="param-label" title="How much of its share counts where this does not hold; at 0 % it grows there only">
            Elsewhere
          </span>
          <span className="row">
            <NumberField
              label={`How much of ${name} grows elsewhere`}
              value={elsewhere}
              unit="share"
              min={0}
              max={1}
              step={0.05}
              disabled={locked}
              onChange={(next, gesture) => next !== null && setElsewhere(session, id, place, next, gesture)}
            />
            <span className="faded">{elsewhere === 0 ? 'there only' : 'as many'}</span>
          </span>
        </div>
      )}
    </div>
  )
}
