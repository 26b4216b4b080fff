import { Menu } from '@chakra-ui/react'
import { Copy, Download, Ellipsis, MoonStar, PenLine, SunMedium, Trash2 } from 'lucide-react'
import { useCallback, useEffect, useState } from 'react'
import { Link, useNavigate } from 'react-router'
import { bringIn, createEmpty, createFromStarter, duplicateMeadow, eraseMeadow, renameMeadow, takeOut, takeOutOriginal } from '../../state/library.ts'
import { enginePool } from '../../state/engine-pool.ts'
import { attempt, notify } from '../../state/notices.ts'
import { openStore } from '../../storage/open-store.ts'
import type { MeadowEntry, MeadowStore } from '../../storage/store.ts'
import { Starters } from './starters.tsx'
import { Action, afterMenu, IconAction } from '../parts/actions.tsx'
import { MenuLayer } from '../parts/menu-layer.tsx'
import { Renamed } from '../parts/name-input.tsx'
import { chooseFiles, fileName, saveFile, sizeText } from '../parts/files.ts'
import { toggleTheme, useTheme } from '../theme-mode.ts'

/** The opening page: all meadows as pictures. */
export function Gate() {
  const [store, setStore] = useState<MeadowStore | null>(null)
  const [entries, setEntries] = useState<readonly MeadowEntry[] | null>(null)
  const [busy, setBusy] = useState<string | null>(null)
  const navigate = useNavigate()

  const refresh = useCallback(async (from: MeadowStore) => {
    setEntries((await attempt('Listing the meadows', () => from.list())) ?? [])
  }, [])

  useEffect(() => {
    document.title = 'Wayward Meadow'
    let here = true
    let stop: () => void = () => undefined
    void openStore().then((opened) => {
      if (!here) return
      setStore(opened)
      void refresh(opened)
      whenIdle(() => void opened.collect().catch(() => undefined))
      // What other tabs do to meadows is seen here.
      stop = opened.listen(() => void refresh(opened))
    })
    return () => {
      here = false
      stop()
    }
  }, [refresh])

  async function make(doing: string, work: (from: MeadowStore) => Promise<string>) {
    if (!store) return
    setBusy(doing)
    const id = await attempt(doing, () => work(store))
    setBusy(null)
    if (id) await navigate(`/field/${id}`)
  }

  async function bring(files: readonly File[]) {
    if (!store) return
    for (const file of files) {
      setBusy(`Bringing in ${file.name}`)
      await attempt(`Bringing in “${file.name}”`, () => bringIn(store, enginePool(), file))
    }
    setBusy(null)
    await refresh(store)
  }

  async function remove(entry: MeadowEntry) {
    if (!store) return
    await attempt('Removing', () => store.setRemoved(entry.id, Date.now()))
    await refresh(store)
    notify('word', `“${entry.name}” is removed.`, { label: 'Bring it back', run: () => void restore(entry) })
  }

  async function restore(entry: MeadowEntry) {
    if (!store) return
    await attempt('Bringing it back', () => store.setRemoved(entry.id, null))
    await refresh(store)
  }

  const here = entries?.filter((entry) => entry.removed === null) ?? []
  const gone = entries?.filter((entry) => entry.removed !== null) ?? []
  return (
    <main
      className="gate"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault()
        void bring([...event.dataTransfer.files])
      }}
    >
      <GateHead />
      {store?.sentence && (
        <p className="warning-line" role="alert">
          {store.sentence}
        </p>
      )}
      <div className="row gate-actions">
        <Action main={here.length > 0} disabled={!store || busy !== null} onClick={() => void make('Making a new meadow', (s) => createEmpty(s, enginePool()))}>
          New meadow
        </Action>
        {here.length > 0 && (
          <Action disabled={busy !== null} onClick={() => void make('Laying out the demo', (s) => createFromStarter(s, enginePool(), 'saltings'))}>
            New from the demo
          </Action>
        )}
        <Action disabled={!store || busy !== null} onClick={() => void chooseFiles(['.meadow']).then(bring)}>
          Bring in a .meadow file
        </Action>
        {busy && <span className="faded">{busy}…</span>}
      </div>
      {entries !== null && here.length === 0 && (
        <Welcome disabled={!store || busy !== null} onOpen={() => void make('Laying out the demo', (s) => createFromStarter(s, enginePool(), 'saltings'))} />
      )}
      {store && <Meadows store={store} entries={here} refresh={refresh} onBusy={setBusy} onRemove={(entry) => void remove(entry)} />}
      {entries !== null && <Starters disabled={!store || busy !== null} first={here.length === 0} onStart={(kind, name) => void make(`Laying out ${name}`, (s) => createFromStarter(s, enginePool(), kind))} />}
      <Removed
        entries={gone}
        onRestore={(entry) => void restore(entry)}
        onErase={async (entry) => {
          if (!store) return
          await attempt('Erasing', () => eraseMeadow(store, entry.id))
          await refresh(store)
        }}
      />
      <StoreFill count={here.length} />
    </main>
  )
}

interface MeadowsProps {
  readonly store: MeadowStore
  readonly entries: readonly MeadowEntry[]
  readonly refresh: (from: MeadowStore) => Promise<void>
  /** What is being done, in words; null when it is done. */
  readonly onBusy: (doing: string | null) => void
  readonly onRemove: (entry: MeadowEntry) => void
}

/** The meadows as pictures, with what can be done with each. */
function Meadows({ store, entries, refresh, onBusy, onRemove }: MeadowsProps) {
  return (
  <ul className="meadows">
    {entries.map((entry) => (
      <MeadowCard
        key={entry.id}
        entry={entry}
        onRename={async (name) => {
          await attempt('Renaming', () => renameMeadow(store, entry.id, name))
          await refresh(store)
        }}
        onDuplicate={async () => {
          await attempt('Duplicating', () => duplicateMeadow(store, entry.id))
          await refresh(store)
        }}
        onTakeOut={async () => {
          onBusy(`Packing ${entry.name}`)
          await attempt('Taking it out', async () => saveFile(await takeOutAsItIs(store, entry.id), fileName(entry.name, 'meadow')))
          onBusy(null)
        }}
        onRemove={() => onRemove(entry)}
      />
    ))}
  </ul>
  )
}

/** Runs something once the page has nothing else to do. */
function whenIdle(work: () => void): void {
  if (typeof requestIdleCallback === 'function') requestIdleCallback(work, { timeout: 20_000 })
  else setTimeout(work, 5_000)
}

/** Name and purpose of the application, guide and theme. */
function GateHead() {
  const theme = useTheme()
  return (
    <header className="gate-head">
      <div>
        <h1>Wayward Meadow</h1>
        <p>Dress a ground with plants, stones and scraps that look as if nobody placed them.</p>
      </div>
      <div className="row">
        <Link className="text-action" to="/guide">
          Guide
        </Link>
        <IconAction label={theme === 'dusk' ? 'Light paper' : 'Dusk paper'} onClick={toggleTheme}>
          {theme === 'dusk' ? <SunMedium /> : <MoonStar />}
        </IconAction>
      </div>
    </header>
  )
}

/** What a first visit is shown: the demo. */
function Welcome({ disabled, onOpen }: { readonly disabled: boolean; readonly onOpen: () => void }) {
  return (
    <section className="welcome">
      <div className="welcome-picture" aria-hidden="true">
        <WelcomeDrawing />
      </div>
      <div>
        <h2>Gullhaven Saltings</h2>
        <p>
          A tidal marsh of sixteen hectares: a winding creek, dunes and a shingle spit, dressed with some two hundred thousand
          plants and stones. Open it, drag a bold number in a sentence, and watch it grow again.
        </p>
        <Action main disabled={disabled} onClick={onOpen}>
          Open the demo meadow
        </Action>
      </div>
    </section>
  )
}

interface RemovedProps {
  readonly entries: readonly MeadowEntry[]
  readonly onRestore: (entry: MeadowEntry) => void
  readonly onErase: (entry: MeadowEntry) => Promise<void>
}

/** Meadows that were removed, with a way back; nothing where there is none. */
function Removed({ entries, onRestore, onErase }: RemovedProps) {
  if (entries.length === 0) return null
  return (
    <section className="removed">
      <h2>Removed</h2>
      <ul>
        {entries.map((entry) => (
          <li key={entry.id} className="row">
            <span>{entry.name}</span>
            <span className="faded">{sizeText(entry.bytes)}</span>
            <button type="button" className="text-action" onClick={() => onRestore(entry)}>
              Bring back
            </button>
            <button type="button" className="text-action alarm" onClick={() => void onErase(entry)}>
              Erase for good
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** A meadow as a file; one that cannot be opened just as it is stored. */
async function takeOutAsItIs(store: MeadowStore, id: string): Promise<Blob> {
  const meadow = await store.read(id).catch(() => null)
  return meadow ? takeOut(store, enginePool(), meadow) : takeOutOriginal(store, enginePool(), id)
}

/** How full the browser's store is. */
function StoreFill({ count }: { readonly count: number }) {
  const [fill, setFill] = useState<{ usage: number; quota: number } | null>(null)
  useEffect(() => {
    void navigator.storage?.estimate?.().then(({ usage = 0, quota = 0 }) => setFill({ usage, quota }))
  }, [count])
  if (!fill || fill.quota === 0) return null
  return (
    <p className="faded store-fill">
      {sizeText(fill.usage)} kept in this browser, of {sizeText(fill.quota)} it allows.
    </p>
  )
}

interface CardProps {
  readonly entry: MeadowEntry
  readonly onRename: (name: string) => Promise<void>
  readonly onDuplicate: () => Promise<void>
  readonly onTakeOut: () => Promise<void>
  readonly onRemove: () => void
}

function MeadowCard({ entry, onRename, onDuplicate, onTakeOut, onRemove }: CardProps) {
  const [naming, setNaming] = useState(false)
  const [url, setUrl] = useState<string | null>(null)
  useEffect(() => {
    if (!entry.picture) return
    const made = URL.createObjectURL(entry.picture)
    setUrl(made)
    return () => URL.revokeObjectURL(made)
  }, [entry.picture])
  return (
    <li className="meadow">
      <Link to={`/field/${entry.id}`} className="meadow-picture" aria-label={`Open ${entry.name}`}>
        {url ? <img src={url} alt="" /> : <span className="no-picture">No picture yet</span>}
      </Link>
      <div className="meadow-foot">
        <Renamed label="Name of the meadow" name={entry.name} naming={naming} onNaming={setNaming} onRename={(name) => void onRename(name)}>
          <Link to={`/field/${entry.id}`} className="meadow-name">
            {entry.name}
          </Link>
        </Renamed>
        <Menu.Root>
          <Menu.Trigger asChild>
            <button type="button" className="icon-action" aria-label={`What to do with ${entry.name}`}>
              <Ellipsis size={16} />
            </button>
          </Menu.Trigger>
          <MenuLayer>
            <Menu.Item value="rename" onClick={() => afterMenu(() => setNaming(true))}>
              <PenLine size={14} /> Rename
            </Menu.Item>
            <Menu.Item value="duplicate" onClick={() => void onDuplicate()}>
              <Copy size={14} /> Duplicate
            </Menu.Item>
            <Menu.Item value="out" onClick={() => void onTakeOut()}>
              <Download size={14} /> Take out as a .meadow file
            </Menu.Item>
            <Menu.Item value="remove" onClick={onRemove}>
              <Trash2 size={14} /> Remove
            </Menu.Item>
          </MenuLayer>
        </Menu.Root>
      </div>
      <p className="faded">
        {new Date(entry.modified).toLocaleDateString('en', { day: 'numeric', month: 'long', year: 'numeric' })} · {sizeText(entry.bytes)}
      </p>
    </li>
  )
}

/** A line drawing of the demo for the first visit. */
function WelcomeDrawing() {
  return (
    <svg viewBox="0 0 420 220" role="presentation">
      <rect width="420" height="220" className="w-sky" />
      <circle cx="322" cy="58" r="24" className="w-sun" />
      <path d="M0 118 C60 92 120 108 178 96 S 320 78 420 106 V220 H0Z" className="w-far" />
      <path d="M0 150 C80 128 160 142 240 128 S 380 120 420 138 V220 H0Z" className="w-near" />
      <path d="M196 220 C236 190 150 178 196 160 S 236 142 214 130 L226 129 C262 142 232 158 226 166 S 300 188 292 220Z" className="w-creek" />
      {[22, 48, 66, 92, 118, 330, 352, 374, 398].map((x, i) => (
        <path key={x} d={`M${x} 205 q-5 -22 -12 -32 M${x} 205 q0 -26 4 -40 M${x} 205 q6 -20 14 -26`} className="w-grass" style={{ opacity: 0.6 + 0.05 * (i % 5) }} />
      ))}
      <path d="M92 122 c2 -20 8 -34 22 -44 m-8 20 c-16 -4 -24 -8 -30 -4 m36 -16 c16 -10 30 -8 38 -2 m-42 6 c10 -16 22 -22 34 -20" className="w-tree" />
    </svg>
  )
}
