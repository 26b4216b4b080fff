import { useCallback, useEffect, useMemo, useState } from 'react'
import { Link, useNavigate, useParams, useSearchParams } from 'react-router'
import { useStore } from 'zustand'
import { tellProblem } from '../../document/log.ts'
import type { Landscape } from '../../scene/landscape.ts'
import { enginePool } from '../../state/engine-pool.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { openSession } from '../../state/field-session.ts'
import type { FieldTool } from '../../state/field-tool.ts'
import { createFieldTool } from '../../state/field-tool.ts'
import { takeOut, takeOutOriginal } from '../../state/library.ts'
import { attempt, notify } from '../../state/notices.ts'
import { openStore } from '../../storage/open-store.ts'
import type { Dispatcher } from '../../tools/dispatcher.ts'
import { GuideText } from '../guide/guide.tsx'
import { Handoff } from '../handoff/handoff.tsx'
import { Action } from '../parts/actions.tsx'
import { Boundary } from '../parts/boundary.tsx'
import { fileName, saveFile } from '../parts/files.ts'
import type { Drawer } from './drawers.tsx'
import { DrawerTabs, OpenDrawer } from './drawers.tsx'
import { FieldContext, useOpen } from './field-context.ts'
import { callBackFirstSteps } from './first-line.tsx'
import { Folds } from './folds.tsx'
import { ChooserSheet, IncomingSheet, takeFiles } from './incoming.tsx'
import { LeaveSheet } from './leave-sheet.tsx'
import { Panels } from './panels.tsx'
import { PictureForTheGate } from './picture-for-the-gate.tsx'
import { ChosenBar } from './chosen-bar.tsx'
import { PictureFrame } from './picture-frame.tsx'
import { StatusLine } from './status-line.tsx'
import { ToolStrip } from './tool-strip.tsx'
import { TopBar } from './top-bar.tsx'
import { useCommands } from './use-commands.ts'
import { useKeptFocus } from './use-kept-focus.ts'

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

/** What lies over the picture at its sides. What card is open is known here: the field is not drawn anew with it. */
function Sides({ drawer, cardFolded }: { readonly drawer: Drawer | null; readonly cardFolded: boolean }) {
  const open = useOpen()
  return <Panels drawer={drawer && <OpenDrawer drawer={drawer} />} card={open && !cardFolded ? <Folds key={open} id={open} /> : null} />
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

declare global {
  interface Window {
    /** For measuring: frame times and what was drawn. */
    waywardMeadow?: { landscape: Landscape; session: FieldSession }
  }
}

function Field({ session }: { readonly session: FieldSession }) {
  const [landscape, setLandscape] = useState<Landscape | null>(null)
  const [tool] = useState(createFieldTool)
  const { drawer, setDrawer, cleared, setCleared, cardFolded, setCardFolded, setOpen, showDrawer, foldDrawer, showInNursery } = useDrawers(tool)
  const [leaving, setLeaving] = useState(false)
  const [dispatcher, setDispatcher] = useState<Dispatcher | null>(null)
  const name = useStore(session.store, (state) => state.history.meadow.name)
  const navigate = useNavigate()
  const { '*': page } = useParams()
  const handoff = page === 'handoff'
  const [search] = useSearchParams()
  const guidePage = search.get('page')

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

  useKeptFocus()
  useCommands({
    session,
    tool,
    landscape,
    dispatcher,
    showDrawer,
    foldDrawer,
    fold: useCallback(() => setCleared((now) => !now), [setCleared]),
    foldCard: useCallback(() => setCardFolded((now) => !now), [setCardFolded]),
    handOff: useCallback(() => showHandoff(!handoff), [showHandoff, handoff]),
    // A page over the field goes first, then the tool steps back.
    stepBack: useCallback(() => (page ? backToField() : dispatcher?.escape()), [page, backToField, dispatcher]),
  })

  const takeIn = (files: readonly File[]) => takeFiles(files, { session, tool, drawer, setDrawer })

  const context = useMemo(() => ({ session, landscape, dispatcher, tool, setOpen, showInNursery }), [session, landscape, dispatcher, tool, setOpen, showInNursery])
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
        <PictureFrame covered={page === 'handoff' || page === 'guide'} onReady={onReady} onDispatcher={setDispatcher} />
        <PictureForTheGate session={session} landscape={landscape} />
        {!page && !cleared && (
          <>
            <DrawerTabs drawer={drawer} onDrawer={setDrawer} />
            <Sides drawer={drawer} cardFolded={cardFolded} />
          </>
        )}
        {page === 'guide' && (
          <section className="handoff over" aria-label="Guide">
            <div className="drawer-head">
              <h2>Guide</h2>
              <span className="row">
                <button
                  type="button"
                  className="text-action"
                  onClick={() => {
                    callBackFirstSteps()
                    backToField()
                  }}
                >
                  Show the first steps again
                </button>
                <Action onClick={backToField}>Back to the field</Action>
              </span>
            </div>
            <div className="guide">
              <GuideText key={guidePage} first={guidePage ?? undefined} />
            </div>
          </section>
        )}
        {handoff && <Handoff onClose={() => showHandoff(false)} />}
        {!page && <ChosenBar />}
        <ToolStrip />
        <StatusLine />
        <IncomingSheet />
        <ChooserSheet />
      </main>
    </FieldContext.Provider>
  )
}

/** What is open beside the picture: a drawer at the left, the card of a planting at the right. */
function useDrawers(tool: FieldTool) {
  const [drawer, setDrawer] = useState<Drawer | null>('plantings')
  const [cleared, setCleared] = useState(false)
  const [cardFolded, setCardFolded] = useState(false)
  const setOpen = useCallback(
    (planting: string | null) => {
      tool.setState({ open: planting })
      if (planting) {
        setDrawer('plantings')
        setCleared(false)
        setCardFolded(false)
      }
    },
    [tool],
  )
  const showDrawer = useCallback((wanted: Drawer) => {
    setDrawer(wanted)
    setCleared(false)
  }, [])
  const showInNursery = useCallback(
    (asset: string) => {
      tool.setState({ shownAsset: asset })
      showDrawer('nursery')
    },
    [tool, showDrawer],
  )
  const foldDrawer = useCallback((wanted: Drawer) => setDrawer((now) => (now === wanted ? null : wanted)), [])
  return { drawer, setDrawer, cleared, setCleared, cardFolded, setCardFolded, setOpen, showDrawer, foldDrawer, showInNursery }
}
