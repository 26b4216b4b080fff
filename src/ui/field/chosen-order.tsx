import { useMemo, useRef, useState } from 'react'
import { useStore } from 'zustand'
import { CONDITIONS } from '../../core/fields/conditions/index.ts'
import { radiusOf, withRadius } from '../../core/hand/runs.ts'
import type { SpacedRun } from '../../core/meadow.ts'
import { idsOf, keyOfMember } from '../../core/things/members.ts'
import type { GatheredFit } from '../../document/edits/gather.ts'
import { fitsOf } from '../../document/edits/gather.ts'
import { newSeed } from '../../document/new-planting.ts'
import { addGroup, dissolveGroup, renameGroup } from '../../document/edits/groups.ts'
import { removeRun } from '../../document/edits/runs.ts'
import type { Chosen } from '../../state/chosen.ts'
import { chosenOf, chooseWhere, NOTHING_CHOSEN, shareOf, without } from '../../state/chosen.ts'
import { groupsIn, membersOfGroup } from '../../state/groups.ts'
import { grownBy, onlyOfAsset, onlyOfSort, sortsOf, whereHolds, withinPatch } from '../../tools/choose/others.ts'
import { runChanger, SPACE_ALONG, spaceOut } from '../../tools/choose/space-out.ts'
import { MOST_FITTED, gatherAs } from '../../tools/choose/gather.ts'
import { terrainHeight } from '../../tools/choose/acts.ts'
import { showQuantity } from '../params/quantity.ts'
import { NumberField } from '../params/number-field.tsx'
import { Renamed } from '../parts/name-input.tsx'
import type { ActProps } from './act-props.ts'
import { useField, useFieldState, useOpen } from './field-context.ts'
import { tellRemoved } from './tell.ts'

/** Spaces out what is chosen; what is spaced out already shows its numbers, which stay open to change. */
export function SpacingOut({ chosen, instances, onChoose }: ActProps) {
  const { session } = useField()
  const runs = useFieldState((state) => state.history.meadow.runs)
  const outlines = useFieldState((state) => state.history.meadow.outlines)
  const own = useMemo(() => runs.filter((run) => idsOf(run).some(({ planting, low, high }) => chosen.get(planting)?.has(low, high))), [runs, chosen])
  const paths = outlines.filter(({ kind }) => kind === 'path')
  return (
    <>
      <select aria-label="Space out evenly" value="" onChange={(event) => event.target.value && void spaceOut(session, chosen, event.target.value)}>
        <option value="">evenly…</option>
        {Object.entries(SPACE_ALONG).map(([key, word]) => (
          <option key={key} value={key}>
            {word}
          </option>
        ))}
        {paths.map(({ id, name }) => (
          <option key={id} value={id}>
            along {name}
          </option>
        ))}
      </select>
      {own.map((run) => (
        <RunFields key={run.id} run={run} />
      ))}
      <Fits chosen={chosen} instances={instances} onChoose={onChoose} />
    </>
  )
}

/** The row and the ring that what is chosen fits, with how far off they are: each becomes a planting that stands by its numbers. */
function Fits({ chosen, instances, onChoose }: Pick<ActProps, 'chosen' | 'instances' | 'onChoose'>) {
  const { session, setOpen } = useField()
  const fits = useMemo(() => (instances.length < 3 || instances.length > MOST_FITTED ? [] : fitsOf(instances, terrainHeight(session))), [instances, session])
  const gather = (kind: GatheredFit['kind']) =>
    void gatherAs(session, chosen, kind).then((made) => {
      if (!made) return
      onChoose(NOTHING_CHOSEN)
      setOpen(made)
    })
  if (fits.length === 0) return null
  return (
    <span className="row">
      gather as
      {fits.map(({ kind, off }) => (
        <span key={kind} className="row">
          <button type="button" className="text-action" title={`A new planting in a ${kind}: it stands by its numbers, and each is moved onto its place`} onClick={() => gather(kind)}>
            a {kind}
          </button>
          <span className="faded">{off < 0.005 ? 'fits' : `off by up to ${showQuantity(Number(off.toPrecision(2)), 'm')}`}</span>
        </span>
      ))}
    </span>
  )
}

/** The numbers of one run. */
export function RunFields({ run }: { readonly run: SpacedRun }) {
  const { session } = useField()
  const change = useRef<ReturnType<typeof runChanger> | null>(null)
  const set = (to: Partial<SpacedRun>, gesture?: string) => (change.current ??= runChanger(session))(run, to, gesture)
  const { id, name, kind, spacing, arc } = run
  return (
    <span className="row run-fields" role="group" aria-label={name}>
      <span>
        {name}, {idsOf(run).length.toLocaleString('en')}:
      </span>
      {kind === 'ring' ? (
        <>
          radius
          <NumberField label={`Radius of ${name}`} value={radiusOf(run)} unit="m" min={0.01} max={1e5} step={0.1} home={radiusOf(run)} onChange={(value, gesture) => value !== null && set({ to: withRadius(run, value) }, gesture)} />
          over
          <NumberField label={`Arc of ${name}`} value={arc} unit="deg" min={-360} max={360} step={5} home={360} onChange={(value, gesture) => value !== null && set({ arc: value }, gesture)} />
        </>
      ) : (
        <>
          every
          <NumberField label={`Spacing of ${name}`} value={spacing} unit="m" min={0.01} max={1e5} step={0.05} home={spacing} onChange={(value, gesture) => value !== null && set({ spacing: value }, gesture)} />
        </>
      )}
      <button type="button" className="text-action" onClick={() => tellRemoved(session, name, removeRun(session, id), 'forgotten: its things stay where they are')}>
        forget
      </button>
    </span>
  )
}

/** Makes one of what is chosen, names it, takes it apart. */
export function Grouping({ chosen, onChoose }: ActProps) {
  const { session, tool } = useField()
  const groups = useFieldState((state) => state.history.meadow.groups)
  const entered = useStore(tool, (state) => state.entered)
  const own = useMemo(() => groupsIn(groups, chosen, entered), [groups, chosen, entered])
  const [naming, setNaming] = useState<string | null>(null)
  const group = () => {
    const inside = new Set(own.flatMap((id) => membersOfGroup(groups, id)).map(keyOfMember))
    const alone = [...chosen].flatMap(([planting, ids]) => [...ids].map(([low, high]) => ({ planting, low, high }))).filter((one) => !inside.has(keyOfMember(one)))
    addGroup(session, alone, own)
  }
  const inner = entered ? groups.find(({ id }) => id === entered) : undefined
  return (
    <>
      {(own.length !== 1 || inner) && (
        <button type="button" className="text-action" onClick={group}>
          make one of them
        </button>
      )}
      {inner && <span className="faded">inside {inner.name}; Esc steps out</span>}
      {own.map((id) => {
        const name = groups.find((one) => one.id === id)?.name ?? ''
        return (
          <span key={id} className="row">
            <Renamed label="Name of the group" name={name} naming={naming === id} onNaming={(on) => setNaming(on ? id : null)} onRename={(next) => renameGroup(session, id, next)}>
              <button type="button" className="text-action" title="Rename" onClick={() => setNaming(id)}>
                {name}
              </button>
            </Renamed>
            {membersOfGroup(groups, id).length.toLocaleString('en')} things
            <button type="button" className="text-action" onClick={() => onChoose(chosenOf(membersOfGroup(groups, id)))}>
              choose all of it
            </button>
            <button type="button" className="text-action" onClick={() => tellRemoved(session, name, dissolveGroup(session, id), 'dissolved')}>
              dissolve
            </button>
          </span>
        )
      })}
    </>
  )
}

/** What stands for all conditions; no condition has such an id. */
const ALL = 'all'

/** Other choices made of this one. */
export function Others({ chosen, kinds, onChoose }: ActProps) {
  const { session } = useField()
  const assets = useFieldState((state) => state.history.meadow.assets)
  const outlines = useFieldState((state) => state.history.meadow.outlines)
  const [near, setNear] = useState(1)
  const share = useShare(chosen)
  const sorts = sortsOf(session, kinds)
  const openId = useOpen()
  const open = useFieldState((state) => state.history.meadow.plantings.find(({ id }) => id === openId))
  const everything = () => chooseWhere(session.instances, session.meadow(), ({ planting }) => chosen.has(planting))
  return (
    <>
      <span className="row">
        <button type="button" className="text-action" onClick={share.throwAgain}>
          {share.thrown ? 'throw again' : 'choose'} a random
        </button>
        <NumberField label="Share of what is chosen" value={share.share} unit="share" min={0.01} max={1} step={0.05} home={0.4} onChange={(value) => value !== null && share.setShare(value)} />
      </span>
      {kinds.size > 1 && (
        <select aria-label="Only one kind of these" value="" onChange={(event) => onChoose(event.target.value.startsWith('sort ') ? onlyOfSort(session, chosen, event.target.value.slice(5)) : onlyOfAsset(session, chosen, Number(event.target.value)))}>
          <option value="">only…</option>
          {[...kinds].map(([number, many]) => (
            <option key={number} value={number}>
              {assets.find((one) => one.number === number)?.name ?? 'of an asset that is gone'} ({many.toLocaleString('en')})
            </option>
          ))}
          {sorts.size > 1 &&
            [...sorts].map(([category, many]) => (
              <option key={category} value={`sort ${category}`}>
                all of the sort {category} ({many.toLocaleString('en')})
              </option>
            ))}
        </select>
      )}
      {outlines.some(({ kind }) => kind === 'patch') && (
        <select aria-label="Only those in a patch" value="" onChange={(event) => onChoose(withinPatch(session, chosen, event.target.value))}>
          <option value="">in the patch…</option>
          {outlines
            .filter(({ kind }) => kind === 'patch')
            .map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
        </select>
      )}
      {open && open.habitat.length > 0 && (
        <select aria-label={`Only where conditions of ${open.name} hold`} value="" onChange={(event) => void whereHolds(session, chosen, open.id, event.target.value === ALL ? null : event.target.value).then(onChoose)}>
          <option value="">where it holds…</option>
          <option value={ALL}>all conditions of {open.name}</option>
          {open.habitat.map(({ id, kind }) => (
            <option key={id} value={id}>
              {CONDITIONS.get(kind).label}
            </option>
          ))}
        </select>
      )}
      <span className="row">
        <button type="button" className="text-action" onClick={() => onChoose(grownBy(session, chosen, near))}>
          grow
        </button>
        <button type="button" className="text-action" onClick={() => onChoose(grownBy(session, chosen, -near))}>
          shrink
        </button>
        by
        <NumberField label="Neighbours within" value={near} unit="m" min={0.01} max={1000} step={0.25} home={1} onChange={(value) => value !== null && setNear(value)} />
      </span>
      <button type="button" className="text-action" onClick={() => onChoose(without(everything(), chosen))}>
        the others of their plantings
      </button>
      <button type="button" className="text-action" onClick={() => onChoose(everything())}>
        all of their plantings
      </button>
      <button type="button" className="text-action" onClick={() => onChoose(chooseWhere(session.instances, session.meadow(), ({ planting, block, row }) => chosen.has(planting) && kinds.has(block.asset[row])))}>
        all like these
      </button>
    </>
  )
}

/** A random share of what was chosen: thrown again, it is another share of the same. */
function useShare(chosen: Chosen) {
  const { tool } = useField()
  const [share, setShare] = useState(0.4)
  const from = useRef<{ readonly all: Chosen; readonly part: Chosen } | null>(null)
  const thrown = from.current?.part === chosen
  return {
    share,
    setShare,
    thrown,
    throwAgain() {
      const all = from.current?.part === chosen ? from.current.all : chosen
      const part = shareOf(all, share, newSeed())
      from.current = { all, part }
      tool.setState({ chosen: part })
    },
  }
}
