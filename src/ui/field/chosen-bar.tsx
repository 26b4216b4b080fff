import { Menu } from '@chakra-ui/react'
import { PenLine, Plus, Trash2, X } from 'lucide-react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { useStore } from 'zustand'
import { idSet } from '../../core/hand/id-set.ts'
import type { Asset, KeptSelection } from '../../core/meadow.ts'
import { assetsByNumber } from '../../core/meadow.ts'
import type { InstanceAt } from '../../document/edits/hands.ts'
import { keepSelection, membersOf, removeSelection, renameSelection } from '../../document/edits/selections.ts'
import { notify } from '../../state/notices.ts'
import type { Chosen } from '../../state/chosen.ts'
import { chooseWhere, countChosen, factsOf, NOTHING_CHOSEN, shareOf, standing, without } from '../../state/chosen.ts'
import { MOST_BOXES } from '../../scene/chosen-layer.ts'
import type { Held } from '../../tools/choose/acts.ts'
import { atRandom, changeHeld, dropped, hold, letGoOf, movedBy, sizedBy, swapFor, takeOut, turnedBy } from '../../tools/choose/acts.ts'
import { duplicate } from '../../tools/choose/duplicate.ts'
import { setToolValue, valuesOfTool } from '../../tools/define.ts'
import { TOOLS } from '../../tools/index.ts'
import { NumberField } from '../params/number-field.tsx'
import { afterMenu, IconAction } from '../parts/actions.tsx'
import { MenuLayer } from '../parts/menu-layer.tsx'
import { Renamed } from '../parts/name-input.tsx'
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
    const marked = (one: InstanceAt) => ({ ...one, box: byNumber.get(one.asset)?.size ?? ([0.5, 0.5, 0.5] as const) })
    const under = hovered && {
      place: hovered.block.position.slice(3 * hovered.row, 3 * hovered.row + 3) as unknown as InstanceAt['place'],
      turn: hovered.block.rotation.slice(4 * hovered.row, 4 * hovered.row + 4) as unknown as InstanceAt['turn'],
      size: hovered.block.scale.slice(3 * hovered.row, 3 * hovered.row + 3) as unknown as InstanceAt['size'],
      box: byNumber.get(hovered.block.asset[hovered.row])?.size ?? ([0.5, 0.5, 0.5] as const),
    }
    landscape?.setMarks(facts.places, instances.map(marked), under)
  }, [landscape, facts, instances, assets, hovered])
  useEffect(() => () => landscape?.setMarks(new Float32Array(0), [], null), [landscape])

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
      <Acts chosen={chosen} kinds={facts.byAsset} />
    </section>
  )
}

const NONE: readonly InstanceAt[] = []

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
  const { setOpen, tool, session } = useField()
  const name = useFieldState((state) => state.history.meadow.plantings.find(({ id }) => id === planting)?.name ?? '')
  const model = useFieldState((state) => state.history.meadow.assets.find(({ number }) => number === asset))
  const compass = ((Math.atan2(2 * (turn[3] * turn[1] + turn[0] * turn[2]), 1 - 2 * (turn[0] ** 2 + turn[1] ** 2)) * 180) / Math.PI + 360) % 360
  return (
    <p className="chosen-facts">
      {x.toFixed(2)} east, {z.toFixed(2)} south, {y.toFixed(2)} m high; turned {compass.toFixed(0)}°; sized {[...new Set(size.map((one) => one.toFixed(2)))].join(' × ')}; no. {high.toString(16)}-{low.toString(16)} of {name}{' '}
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
      )}
    </p>
  )
}

/** Numbers that are set relative to how things stood when they were chosen. */
interface Relative {
  readonly east: number
  readonly south: number
  readonly up: number
  readonly turn: number
  readonly size: number
}

const AS_IT_IS: Relative = { east: 0, south: 0, up: 0, turn: 0, size: 1 }

function Acts({ chosen, kinds }: { readonly chosen: Chosen; readonly kinds: ReadonlyMap<number, number> }) {
  const { session, tool } = useField()
  const assets = useFieldState((state) => state.history.meadow.assets)
  const about = useStore(tool, () => valuesOfTool(TOOLS.get('choose'), tool).about as 'own' | 'middle')
  const put = (next: Chosen) => tool.setState({ chosen: next })
  const relative = useRelative(chosen, about)
  const share = useShare(chosen)
  const throwSeed = () => crypto.getRandomValues(new Uint32Array(1))[0]
  const number = (label: keyof Relative, unit: 'm' | 'deg' | 'factor', min: number, max: number, step: number, words: string) => (
    <label className="chosen-number">
      {words}
      <NumberField label={words} value={relative.values[label]} unit={unit} min={min} max={max} step={step} home={AS_IT_IS[label]} onChange={(value) => value !== null && relative.set({ [label]: value })} />
    </label>
  )
  return (
    <>
      <div className="row chosen-numbers" role="group" aria-label="Move, turn and size what is chosen">
        {number('east', 'm', -1e4, 1e4, 0.1, 'east')}
        {number('south', 'm', -1e4, 1e4, 0.1, 'south')}
        {number('up', 'm', -1e3, 1e3, 0.05, 'up')}
        {number('turn', 'deg', -360, 360, 5, 'turned')}
        {number('size', 'factor', 0.01, 100, 0.05, 'sized')}
      </div>
      <div className="row chosen-acts">
        <button type="button" className="text-action" onClick={() => void takeOut(session, chosen).then((done) => done && put(NOTHING_CHOSEN))}>
          take out
        </button>
        <button type="button" className="text-action" onClick={() => void hold(session, chosen).then((held) => changeHeld(session, held, 'Turn and size at random', atRandom(throwSeed(), [0, 360], [0.85, 1.2])))}>
          again at random
        </button>
        <button type="button" className="text-action" onClick={() => void hold(session, chosen).then((held) => changeHeld(session, held, 'Drop', dropped(session)))}>
          drop
        </button>
        <button type="button" className="text-action" onClick={() => void letGoOf(session, chosen).then((done) => done && put(NOTHING_CHOSEN))}>
          let go
        </button>
        <label className="row">
          swap for
          <select
            aria-label="Swap for another asset, keeping place, turn and size"
            value=""
            onChange={(event) => {
              const asset = assets.find(({ id }) => id === event.target.value)
              if (asset) void swapFor(session, chosen, asset)
            }}
          >
            <option value="">an asset…</option>
            {assets.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </label>
      </div>
      <div className="row chosen-acts">
        <span className="row">
          <button type="button" className="text-action" onClick={share.throwAgain}>
            {share.thrown ? 'throw again' : 'choose'} a random
          </button>
          <NumberField label="Share of what is chosen" value={share.share} unit="share" min={0.01} max={1} step={0.05} home={0.4} onChange={(value) => value !== null && share.setShare(value)} />
        </span>
        <Duplicating chosen={chosen} onDone={put} />
        <button type="button" className="text-action" onClick={() => put(without(chooseWhere(session.instances, session.meadow(), ({ planting }) => chosen.has(planting)), chosen))}>
          the others of their plantings
        </button>
        <button type="button" className="text-action" onClick={() => put(chooseWhere(session.instances, session.meadow(), ({ planting, block, row }) => chosen.has(planting) && kinds.has(block.asset[row])))}>
          all like these
        </button>
      </div>
    </>
  )
}

/** Copies what is chosen so many times over, by the step that the numbers above say; again goes on from the last copies. */
function Duplicating({ chosen, onDone }: { readonly chosen: Chosen; readonly onDone: (last: Chosen) => void }) {
  const { session } = useField()
  const [times, setTimes] = useState(1)
  const [east, setEast] = useState(1)
  const [south, setSouth] = useState(0)
  const [turn, setTurn] = useState(0)
  const [size, setSize] = useState(1)
  const number = (words: string, value: number, set: (value: number) => void, unit: 'm' | 'deg' | 'factor' | 'count', min: number, max: number, step: number, home: number) => (
    <NumberField label={`Each copy: ${words}`} value={value} unit={unit} min={min} max={max} step={step} home={home} onChange={(next) => next !== null && set(next)} />
  )
  return (
    <span className="row duplicating">
      <button type="button" className="text-action" onClick={() => void duplicate(session, chosen, { move: [east, 0, south], turn, size }, Math.round(times)).then((last) => last && onDone(last))}>
        duplicate
      </button>
      {number('how many times', times, setTimes, 'count', 1, 1000, 1, 1)} times, each {number('east', east, setEast, 'm', -1e4, 1e4, 0.1, 1)} east, {number('south', south, setSouth, 'm', -1e4, 1e4, 0.1, 0)} south, turned {number('turned', turn, setTurn, 'deg', -360, 360, 5, 0)}, sized {number('sized', size, setSize, 'factor', 0.05, 20, 0.05, 1)}
    </span>
  )
}

/** Numbers relative to how what is chosen stood when the first of them was changed: what is typed later replaces what was typed before. */
function useRelative(chosen: Chosen, about: 'own' | 'middle') {
  const { session } = useField()
  const [values, setValues] = useState(AS_IT_IS)
  const held = useRef<Promise<Held> | null>(null)
  const wanted = useRef(AS_IT_IS)
  useEffect(() => {
    setValues(AS_IT_IS)
    wanted.current = AS_IT_IS
    held.current = null
  }, [chosen])
  return {
    values,
    set(change: Partial<Relative>) {
      const next = { ...wanted.current, ...change }
      wanted.current = next
      setValues(next)
      held.current ??= hold(session, chosen)
      void held.current.then((own) => {
        if (wanted.current !== next) return
        const move = movedBy(session, [next.east, next.up, next.south])
        const turn = turnedBy(own.instances, next.turn, about)
        const size = sizedBy(own.instances, next.size, about)
        changeHeld(session, own, 'Change', (at) => {
          const sized = size(at)
          const turnedAt = { ...at, ...sized } as InstanceAt
          const both = { ...sized, ...turn(turnedAt) }
          return { ...both, ...move({ ...turnedAt, ...both } as InstanceAt) }
        })
      })
    },
  }
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
      const part = shareOf(all, share, crypto.getRandomValues(new Uint32Array(1))[0])
      from.current = { all, part }
      tool.setState({ chosen: part })
    },
  }
}
