import { Menu } from '@chakra-ui/react'
import { PenLine, Plus, Trash2, X } from 'lucide-react'
import { useEffect, useMemo, useState } from 'react'
import { useStore } from 'zustand'
import { idSet } from '../../core/hand/id-set.ts'
import type { Asset, KeptSelection } from '../../core/meadow.ts'
import { assetsByNumber } from '../../core/meadow.ts'
import type { InstanceAt } from '../../document/edits/hands.ts'
import { keepSelection, membersOf, removeSelection, renameSelection } from '../../document/edits/selections.ts'
import { notify } from '../../state/notices.ts'
import type { Chosen } from '../../state/chosen.ts'
import { chooseWhere, countChosen, factsOf, instanceAt, NOTHING_CHOSEN, standing } from '../../state/chosen.ts'
import type { Marked } from '../../scene/chosen-layer.ts'
import { MOST_BOXES } from '../../scene/chosen-layer.ts'
import { compassOf } from '../../tools/choose/acts.ts'
import { setToolValue } from '../../tools/define.ts'
import { afterMenu, IconAction } from '../parts/actions.tsx'
import { MenuLayer } from '../parts/menu-layer.tsx'
import { Renamed } from '../parts/name-input.tsx'
import { ChosenActs } from './chosen-acts.tsx'
import { useField, useFieldState } from './field-context.ts'
import { tellRemoved } from './tell.ts'

/** What is chosen as a sentence, and under it what can be done with it. Nothing while nothing is chosen. */
export function ChosenBar() {
  const { session, landscape, tool } = useField()
  const chosen = useStore(tool, (state) => state.chosen)
  const hovered = useStore(tool, (state) => state.hovered)
  const plantings = useFieldState((state) => state.history.meadow.plantings)
  const assets = useFieldState((state) => state.history.meadow.assets)
  // Another object each time something of it has grown.
  const [grown, setGrown] = useState({ instances: session.instances })
  const count = countChosen(chosen)

  // What stands is told by tiles as they grow.
  useEffect(() => {
    if (count === 0) return
    let waiting = 0
    const stop = session.instances.listen((planting) => {
      if (!chosen.has(planting) || waiting) return
      waiting = requestAnimationFrame(() => {
        waiting = 0
        setGrown({ instances: session.instances })
      })
    })
    return () => {
      cancelAnimationFrame(waiting)
      stop()
    }
  }, [session, chosen, count])
  // A planting that is gone takes its things out of the choice.
  useEffect(() => {
    const there = new Map([...chosen].filter(([id]) => plantings.some((one) => one.id === id)))
    if (there.size < chosen.size) tool.setState({ chosen: there })
  }, [plantings, chosen, tool])

  const facts = useMemo(() => factsOf(grown.instances, chosen), [grown, chosen])
  const instances = useMemo(() => (count > MOST_BOXES ? NONE : standing(grown.instances, chosen)), [grown, chosen, count])
  useEffect(() => {
    const byNumber = assetsByNumber(assets)
    landscape?.setMarks(facts.places, instances.map((one) => ({ ...one, box: boxOf(byNumber, one.asset) })))
  }, [landscape, facts, instances, assets])
  useEffect(() => landscape?.setHovered(hovered && { ...instanceAt(hovered), box: boxOf(assetsByNumber(assets), hovered.block.asset[hovered.row]) }), [landscape, hovered, assets])
  useEffect(
    () => () => {
      landscape?.setMarks(new Float32Array(0), [])
      landscape?.setHovered(null)
    },
    [landscape],
  )

  if (count === 0) return <KeptOnly />
  return (
    <section className="chosen-bar" data-over="" aria-label="What is chosen">
      <div className="row">
        <p className="grow" role="status">
          <em>{count.toLocaleString('en')} chosen</em>: {kindsOf(facts.byAsset, assets)}
          {facts.there < count && `; ${(count - facts.there).toLocaleString('en')} of them are not there now`}
        </p>
        <KeptSelections chosen={chosen} />
        <IconAction label="Let them be" onClick={() => tool.setState({ chosen: NOTHING_CHOSEN })}>
          <X />
        </IconAction>
      </div>
      {instances.length === 1 && <Facts one={instances[0]} />}
      <ChosenActs chosen={chosen} kinds={facts.byAsset} instances={instances} />
    </section>
  )
}

const NONE: readonly InstanceAt[] = []

/** How large an asset is, m; something small where it is not known. */
function boxOf(assets: ReadonlyMap<number, Asset>, number: number): Marked['box'] {
  return assets.get(number)?.size ?? [0.5, 0.5, 0.5]
}

/** Kept selections, to be had while nothing is chosen. */
function KeptOnly() {
  const { tool } = useField()
  const choosing = useStore(tool, (state) => state.active === 'choose')
  const any = useFieldState((state) => state.history.meadow.selections.length > 0)
  if (!choosing || !any) return null
  return (
    <section className="chosen-bar" data-over="" aria-label="What is chosen">
      <div className="row">
        <p className="grow">Nothing is chosen.</p>
        <KeptSelections chosen={NOTHING_CHOSEN} />
      </div>
    </section>
  )
}

/** Selections kept under names. */
function KeptSelections({ chosen }: { readonly chosen: Chosen }) {
  const { session, tool } = useField()
  const selections = useFieldState((state) => state.history.meadow.selections)
  const [renaming, setRenaming] = useState<KeptSelection | null>(null)
  const take = (one: KeptSelection) => tool.setState({ active: 'choose', chosen: new Map([...membersOf(one)].map(([planting, ids]) => [planting, idSet(ids)])) })
  return (
    <Renamed label="Name of the kept selection" name={renaming?.name ?? ''} naming={renaming !== null} onNaming={(on) => !on && setRenaming(null)} onRename={(name) => renaming && renameSelection(session, renaming.id, name)}>
      <Menu.Root>
        <Menu.Trigger asChild>
          <button type="button" className="word-action" aria-label="Keep this selection, or take a kept one">
            kept…
          </button>
        </Menu.Trigger>
        <MenuLayer>
          <Menu.Item
            value="keep"
            disabled={countChosen(chosen) === 0}
            onClick={() => {
              const name = keepSelection(session, chosen)
              if (name) notify('word', `Kept as “${name}”: it stays the same things, swapped or grown anew.`)
            }}
          >
            <Plus size={14} /> Keep these
          </Menu.Item>
          {selections.map((one) => (
            <Menu.Item key={one.id} value={one.id} onClick={() => take(one)}>
              Choose “{one.name}” ({[...membersOf(one).values()].reduce((sum, { length }) => sum + length, 0).toLocaleString('en')})
            </Menu.Item>
          ))}
          {selections.map((one) => (
            <Menu.Item key={`rename-${one.id}`} value={`rename-${one.id}`} onClick={() => afterMenu(() => setRenaming(one))}>
              <PenLine size={14} /> Rename “{one.name}”
            </Menu.Item>
          ))}
          {selections.map((one) => (
            <Menu.Item key={`remove-${one.id}`} value={`remove-${one.id}`} onClick={() => tellRemoved(session, one.name, removeSelection(session, one.id), 'forgotten')}>
              <Trash2 size={14} /> Forget “{one.name}”
            </Menu.Item>
          ))}
        </MenuLayer>
      </Menu.Root>
    </Renamed>
  )
}

/** "120 sea lavender, 94 thrift". */
function kindsOf(counts: ReadonlyMap<number, number>, assets: readonly Asset[]): string {
  const words = [...counts].sort((a, b) => b[1] - a[1]).map(([asset, many]) => `${many.toLocaleString('en')} ${(assets.find(({ number }) => number === asset)?.name ?? 'of an asset that is gone').toLowerCase()}`)
  return words.length > 4 ? `${words.slice(0, 3).join(', ')} and ${words.length - 3} more kinds` : words.join(', ')
}

/** Which thing this is: place, turn, size, id, and where it comes from. */
function Facts({ one: { planting, place: [x, y, z], turn, size, low, high, asset } }: { readonly one: InstanceAt }) {
  const { setOpen, showInNursery, tool, session } = useField()
  const name = useFieldState((state) => state.history.meadow.plantings.find(({ id }) => id === planting)?.name ?? '')
  const model = useFieldState((state) => state.history.meadow.assets.find(({ number }) => number === asset))
  return (
    <p className="chosen-facts">
      {x.toFixed(2)} east, {z.toFixed(2)} south, {y.toFixed(2)} m high; turned {compassOf(turn).toFixed(0)}°; sized {[...new Set(size.map((one) => one.toFixed(2)))].join(' × ')}; no. {high.toString(16)}-{low.toString(16)} of {name}{' '}
      <button type="button" className="text-action" onClick={() => setOpen(planting)}>
        open its planting
      </button>{' '}
      <button type="button" className="text-action" onClick={() => tool.setState({ chosen: chooseWhere(session.instances, session.meadow(), ({ block, row }) => block.asset[row] === asset) })}>
        all of this asset
      </button>{' '}
      {model && (
        <button
          type="button"
          className="text-action"
          onClick={() => {
            setToolValue(tool, 'sow', 'act', 'thin')
            setToolValue(tool, 'sow', 'of', 'asset')
            setToolValue(tool, 'sow', 'asset', model.id)
            tool.setState({ active: 'sow' })
          }}
        >
          use it for the brush
        </button>
      )}{' '}
      {model && (
        <button type="button" className="text-action" onClick={() => showInNursery(model.id)}>
          show it in the nursery
        </button>
      )}
    </p>
  )
}
