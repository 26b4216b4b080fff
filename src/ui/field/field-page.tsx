import type { KeyboardEvent as ReactKeyboardEvent } from 'react'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { useStore } from 'zustand'
import type { Outline } from '../../core/meadow.ts'
import { tellProblem } from '../../document/log.ts'
import { HEIGHT_ENDINGS, hasEnding, IMAGE_ENDINGS, MODEL_ENDINGS, OUTLINE_ENDINGS } from '../../formats/endings.ts'
import type { Landscape } from '../../scene/landscape.ts'
import { Picture } from '../../scene/picture.tsx'
import { enginePool } from '../../state/engine-pool.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { openSession } from '../../state/field-session.ts'
import type { Incoming } from '../../state/field-tool.ts'
import { createFieldTool } from '../../state/field-tool.ts'
import { takeOut, takeOutOriginal } from '../../state/library.ts'
import { attempt, notify } from '../../state/notices.ts'
import { openStore } from '../../storage/open-store.ts'
import { Handoff } from '../handoff/handoff.tsx'
import { GuideText } from '../guide.tsx'
import { Action } from '../parts/actions.tsx'
import { Boundary } from '../parts/boundary.tsx'
import { fileName, saveFile } from '../parts/files.ts'
import type { ShortcutName } from '../shortcuts.ts'
import { SHORTCUTS, shortcutOf } from '../shortcuts.ts'
import { AssetImport } from './asset-import.tsx'
import { BeaconOverlay } from './beacon-overlay.tsx'
import { BeaconsDrawer } from './beacons-drawer.tsx'
import { FieldContext, useField } from './field-context.ts'
import { Folds } from './folds.tsx'
import { GroundDrawer } from './ground-drawer.tsx'
import { GroundImport } from './ground-import.tsx'
import { bringInImage } from './image-import.ts'
import { LeaveSheet } from './leave-sheet.tsx'
import { Nursery } from './nursery.tsx'
import { PlantingChooser } from './planting-chooser.tsx'
import { throwAgain } from '../../document/edits/plantings.ts'
import { OutlineImport } from './outline-import.tsx'
import { OutlineOverlay } from './outline-overlay.tsx'
import { OutlinesDrawer } from './outlines-drawer.tsx'
import { Probe } from './probe.tsx'
import { PlantingList } from './planting-list.tsx'
import { StatusLine } from './status-line.tsx'
import { TopBar } from './top-bar.tsx'
import { ViewsDrawer } from './views-drawer.tsx'

/** Opens the meadow of the address, or says why it cannot. */
export function FieldPage() {
  const { id = '' } = useParams()
  const [session, setSession] = useState<FieldSession | null>(null)
  const [problem, setProblem] = useState<string | null>(null)

  useEffect(() => {
    let here = true
    let opened: FieldSession | null = null
    openStore()
      .then((store) => openSession(store, enginePool(), id))
      .then(
        (made) => {
          opened = made
          if (!here) return void made.close()
          setSession(made)
          if (made.leftOut.length > 0) tellLeftOut(made)
          if (made.thrownAnew) notify('word', made.thrownAnew)
        },
        (error: unknown) => here && setProblem(tellProblem(error, 'Opening the meadow')),
      )
    return () => {
      here = false
      setSession(null)
      void opened?.close()
    }
  }, [id])

  if (problem)
    return (
      <main className="gate">
        <p className="warning-line" role="alert">
          {problem}
        </p>
        <Link className="text-action" to="/">
          To the gate
        </Link>
      </main>
    )
  if (!session) return <p className="waiting">Opening the meadow…</p>
  return (
    <Boundary onTakeOut={() => void takeOutNow(session)}>
      <Field session={session} />
    </Boundary>
  )
}

/** Hands out the meadow as it is now. */
async function takeOutNow(session: FieldSession): Promise<void> {
  await attempt('Taking it out', async () => {
    const { meadow } = session.store.getState().history
    saveFile(await takeOut({ getBlob: session.blob }, enginePool(), meadow), fileName(meadow.name, 'meadow'))
  })
}

/** Says what of a damaged meadow could not be opened, and hands out the original. */
function tellLeftOut({ id, leftOut, store }: FieldSession): void {
  const { name } = store.getState().history.meadow
  notify('warning', `“${name}” was damaged in the store. Left out: ${leftOut.join('; ')}. The original is kept.`, {
    label: 'Take the original out',
    run: () =>
      void attempt('Taking the original out', async () => saveFile(await takeOutOriginal(await openStore(), enginePool(), id), fileName(`${name} original`, 'meadow'))),
  })
}

type Drawer = 'plantings' | 'ground' | 'outlines' | 'beacons' | 'nursery' | 'views'
const DRAWERS: readonly { readonly name: Drawer; readonly title: string }[] = [
  { name: 'plantings', title: 'Plantings' },
  { name: 'ground', title: 'Ground' },
  { name: 'outlines', title: 'Outlines' },
  { name: 'beacons', title: 'Beacons' },
  { name: 'nursery', title: 'Nursery' },
  { name: 'views', title: 'Views' },
]

declare global {
  interface Window {
    /** For measuring: frame times and what was drawn. */
    waywardMeadow?: { landscape: Landscape; session: FieldSession }
  }
}

function Field({ session }: { readonly session: FieldSession }) {
  const [landscape, setLandscape] = useState<Landscape | null>(null)
  const [tool] = useState(createFieldTool)
  const [drawer, setDrawer] = useState<Drawer | null>('plantings')
  const [cleared, setCleared] = useState(false)
  const [leaving, setLeaving] = useState(false)
  const [open, setOpenCard] = useState<string | null>(null)
  const bring = useCallback((as: Incoming['as'], file: File, beside?: readonly File[]) => tool.setState({ incoming: { as, file, beside } }), [tool])
  const name = useStore(session.store, (state) => state.history.meadow.name)
  const navigate = useNavigate()
  const { '*': page } = useParams()
  const handoff = page === 'handoff'

  const setOpen = useCallback((planting: string | null) => {
    setOpenCard(planting)
    if (planting) {
      setDrawer('plantings')
      setCleared(false)
    }
  }, [])
  const onReady = useCallback(
    (made: Landscape | null) => {
      setLandscape(made)
      window.waywardMeadow = made ? { landscape: made, session } : undefined
    },
    [session],
  )
  const showHandoff = useCallback(
    (shown: boolean) => void navigate(`/field/${session.id}${shown ? '/handoff' : ''}`),
    [navigate, session.id],
  )
  const backToField = useCallback(() => void navigate(`/field/${session.id}`), [navigate, session.id])
  const take = useCallback(() => void takeOutNow(session), [session])

  useEffect(() => {
    document.title = `${name} · Wayward Meadow`
  }, [name])

  const draw = useCallback(
    (kind: Outline['kind']) => {
      setDrawer('outlines')
      setCleared(false)
      tool.setState({ drawing: { kind, points: [] }, selected: null, point: null })
    },
    [tool],
  )
  const run = useMemo(
    (): Record<ShortcutName, () => void> => ({
      undo: session.undo,
      redo: session.redo,
      plantings: () => setDrawer((now) => (now === 'plantings' ? null : 'plantings')),
      ground: () => setDrawer((now) => (now === 'ground' ? null : 'ground')),
      outlines: () => setDrawer((now) => (now === 'outlines' ? null : 'outlines')),
      beacons: () => setDrawer((now) => (now === 'beacons' ? null : 'beacons')),
      drawPatch: () => draw('patch'),
      drawPath: () => draw('path'),
      nursery: () => setDrawer((now) => (now === 'nursery' ? null : 'nursery')),
      views: () => setDrawer((now) => (now === 'views' ? null : 'views')),
      clear: () => setCleared((now) => !now),
      add: () => tool.setState({ choosing: true }),
      person: () => landscape?.standPerson(),
      throwAgain: () => {
        const planting = session.store.getState().history.meadow.plantings.find((one) => one.id === open)
        if (planting && !planting.locked) throwAgain(session, planting.id)
      },
      probe: () => tool.setState(({ probing }) => ({ probing: !probing, drawing: null })),
      tint: () => {
        if (!open) {
          notify('word', 'Open a planting first: its habitat is shown on the ground.')
          return
        }
        tool.setState(({ tint }) => ({ tint: tint?.planting === open && tint.use === null ? null : { planting: open, use: null } }))
      },
      whole: () => landscape?.frameAll(),
      handoff: () => showHandoff(!handoff),
    }),
    [session, landscape, open, handoff, draw, showHandoff, tool],
  )
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const name = shortcutOf(event)
      if (name) {
        event.preventDefault()
        run[name]()
      } else if (event.key === 'Escape' && !event.defaultPrevented) {
        if (page) backToField()
        else if (tool.getState().probing) tool.setState({ probing: false })
        else if (tool.getState().tint) tool.setState({ tint: null })
        else if (tool.getState().mesh) tool.setState({ mesh: null })
        else if (tool.getState().beacon) tool.setState({ beacon: null })
        else if (tool.getState().selected) tool.setState({ selected: null, point: null })
        else setOpenCard(null)
      }
    }
    addEventListener('keydown', press)
    return () => removeEventListener('keydown', press)
  }, [run, page, backToField, tool])

  function takeIn(files: readonly File[]) {
    // A model may come with its materials and textures.
    const file = files.find((one) => hasEnding(one.name, MODEL_ENDINGS)) ?? files[0]
    if (!file) return
    const beside = files.filter((one) => one !== file)
    if (hasEnding(file.name, HEIGHT_ENDINGS)) bring('ground', file)
    else if (hasEnding(file.name, MODEL_ENDINGS)) bring(drawer === 'ground' ? 'mesh' : 'model', file, beside)
    else if (hasEnding(file.name, IMAGE_ENDINGS)) void bringInImage(session, file)
    else if (hasEnding(file.name, OUTLINE_ENDINGS)) {
      setDrawer('outlines')
      bring('outlines', file)
    }
    else
      notify(
        'warning',
        `“${file.name}” is of no kind that can be brought in here; drop a height file (${HEIGHT_ENDINGS.join(', ')}), a model (${MODEL_ENDINGS.join(', ')}), an image (${IMAGE_ENDINGS.join(', ')}) or outlines (${OUTLINE_ENDINGS.join(', ')}).`,
      )
  }

  const context = useMemo(() => ({ session, landscape, tool, open, setOpen }), [session, landscape, tool, open, setOpen])
  return (
    <FieldContext.Provider value={context}>
      <main
        className={cleared ? 'field cleared' : 'field'}
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault()
          takeIn([...event.dataTransfer.files])
        }}
      >
        <TopBar onHandoff={() => showHandoff(true)} onTakeOut={take} onLeaving={() => setLeaving(true)} />
        {leaving && <LeaveSheet name={name} onStay={() => setLeaving(false)} onTakeOut={take} onLeave={() => void navigate('/')} />}
        <PictureFrame session={session} landscape={landscape} onReady={onReady} />
        <PictureForTheGate session={session} landscape={landscape} />
        {!page && !cleared && (
          <>
            <nav className="tabs" aria-label="Drawers">
              {DRAWERS.map(({ name, title }) => (
                <button
                  key={name}
                  type="button"
                  aria-pressed={drawer === name}
                  title={`${title} (${SHORTCUTS[name].keys})`}
                  onClick={() => setDrawer(drawer === name ? null : name)}
                >
                  {title}
                </button>
              ))}
            </nav>
            {drawer && (
              <aside className="drawer" aria-label={DRAWERS.find((one) => one.name === drawer)?.title}>
                {drawer === 'plantings' && <PlantingList />}
                {drawer === 'ground' && <GroundDrawer onImport={(file) => bring('ground', file)} onMesh={(file, beside) => bring('mesh', file, beside)} />}
                {drawer === 'outlines' && <OutlinesDrawer />}
                {drawer === 'beacons' && <BeaconsDrawer />}
                {drawer === 'nursery' && <Nursery onImport={(file, beside) => bring('model', file, beside)} />}
                {drawer === 'views' && <ViewsDrawer />}
              </aside>
            )}
            {open && <Folds key={open} id={open} />}
          </>
        )}
        {page === 'guide' && (
          <section className="handoff over" aria-label="Guide">
            <div className="drawer-head">
              <h2>Guide</h2>
              <Action onClick={backToField}>Back to the field</Action>
            </div>
            <div className="guide">
              <GuideText />
            </div>
          </section>
        )}
        {handoff && <Handoff onClose={() => showHandoff(false)} />}
        <StatusLine />
        <IncomingSheet />
        <ChooserSheet />
      </main>
    </FieldContext.Provider>
  )
}

function ChooserSheet() {
  const { tool } = useField()
  const choosing = useStore(tool, (state) => state.choosing)
  return choosing ? <PlantingChooser onClose={() => tool.setState({ choosing: false })} /> : null
}

const NOTHING_BESIDE: readonly File[] = []

/** The sheet that asks about the file on its way in. */
function IncomingSheet() {
  const { tool } = useField()
  const incoming = useStore(tool, (state) => state.incoming)
  const close = useCallback(() => tool.setState({ incoming: null }), [tool])
  if (!incoming) return null
  const { as, file, beside = NOTHING_BESIDE } = incoming
  if (as === 'ground') return <GroundImport file={file} onClose={close} />
  if (as === 'outlines') return <OutlineImport file={file} onClose={close} />
  return <AssetImport file={file} beside={beside} asMesh={as === 'mesh'} onClose={close} />
}

interface FrameProps {
  readonly session: FieldSession
  readonly landscape: Landscape | null
  readonly onReady: (landscape: Landscape | null) => void
}

const STEP = 0.08
const TURN = 6

/** The picture with its own keys. */
function PictureFrame({ session, landscape, onReady }: FrameProps) {
  const { tool, open } = useField()
  function key(event: ReactKeyboardEvent) {
    const arrows: Record<string, readonly [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, 1],
      ArrowDown: [0, -1],
    }
    const arrow = arrows[event.key]
    if (event.altKey || event.ctrlKey || event.metaKey) return
    if (arrow) {
      event.preventDefault()
      const [x, y] = arrow
      landscape?.step(event.shiftKey ? { turn: x * TURN, tip: -y * TURN } : { right: x * STEP, ahead: y * STEP })
    } else if (event.key === '+' || event.key === '=') landscape?.step({ zoom: 0.88 })
    else if (event.key === '-') landscape?.step({ zoom: 1.14 })
  }
  return (
    <div
      className="picture"
      tabIndex={0}
      role="application"
      aria-label="The picture. Arrow keys move, Shift with arrows turns, plus and minus zoom."
      onKeyDown={key}
      onDoubleClick={(event) => landscape?.flyToPoint(event.nativeEvent.offsetX, event.nativeEvent.offsetY)}
      onContextMenu={(event) => event.preventDefault()}
    >
      <Picture session={session} tool={tool} planting={open} onReady={onReady} />
      <OutlineOverlay />
      <BeaconOverlay />
      <Probe />
    </div>
  )
}

const PICTURE_AFTER = 3500
const INPUTS = ['pointermove', 'pointerdown', 'wheel', 'keydown'] as const

/** Keeps the gate's picture of the meadow fresh: when it has grown and nobody has touched anything for a while. */
function PictureForTheGate({ session, landscape }: Pick<FrameProps, 'session' | 'landscape'>) {
  const growing = useStore(session.store, (state) => state.growing)
  const meadow = useStore(session.store, (state) => state.history.meadow)
  const taken = useRef<unknown>(null)
  useEffect(() => {
    if (growing || !landscape || taken.current === meadow) return
    const take = () => {
      stop()
      taken.current = meadow
      void landscape.picture(480, 300).then((picture) => {
        if (picture) void session.setPicture(picture).catch(() => undefined)
      })
    }
    let timer = setTimeout(take, PICTURE_AFTER)
    const again = () => {
      clearTimeout(timer)
      timer = setTimeout(take, PICTURE_AFTER)
    }
    const stop = () => {
      clearTimeout(timer)
      for (const input of INPUTS) removeEventListener(input, again, true)
    }
    for (const input of INPUTS) addEventListener(input, again, { capture: true, passive: true })
    return stop
  }, [growing, landscape, meadow, session])
  return null
}
