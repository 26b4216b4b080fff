import type { Meadow } from '../src/core/meadow.ts'
import { movePoint } from '../src/document/edits/outlines.ts'
import { startHistory } from '../src/document/history.ts'
import { newCondition, newMeadow, newOutline } from '../src/document/new-planting.ts'
import { createGrower } from '../src/growth/grower.ts'
import { setupOf } from '../src/growth/setup.ts'
import { createInlinePool } from '../src/runner/inline-pool.ts'
import { GROW_TILE } from '../src/runner/grow-refs.ts'
import { createOpenDocument } from '../src/state/open-document.ts'
import { createShares } from '../src/growth/shares.ts'
import { partsAmong } from '../src/growth/run-meadow.ts'
import { heightsToBytes } from '../src/document/blobs.ts'
import { benchAssets, benchPlanting } from './scene.ts'

const OUTLINES = 5
const POINTS = 20_000
const EDITS = 60

/** Outlines of 100,000 points together around the middle, each named by the planting. */
function meadowWithOutlines(): Meadow {
  const outlines = Array.from({ length: OUTLINES }, (_, k) =>
    newOutline({ id: `o${k}`, kind: 'patch', name: `Shore ${k}`, colour: '#ffffff', lines: [Array.from({ length: 2 * POINTS }, (_one, i) => (60 + 8 * k + 2 * Math.sin(i / 9)) * (i % 2 === 0 ? Math.cos((Math.PI * i) / POINTS) : Math.sin((Math.PI * i) / POINTS)))] }),
  )
  const assets = benchAssets([0.1])
  const planting = benchPlanting(assets)
  return {
    ...newMeadow('Bench', 'ground', { samples: 65, size: 256 }),
    assets,
    outlines,
    plantings: [{ ...planting, params: { ...planting.params, spacing: 2 }, habitat: outlines.map(({ id }) => newCondition('patch', { patch: id, soft: 4 }, id)) }],
  }
}

/** What an edit costs the calling thread beside long outlines, and how large a tile's message is. */
export async function measureEdits(say: (text: string) => void): Promise<void> {
  const meadow = meadowWithOutlines()
  let history = startHistory(meadow)
  const document = createOpenDocument({ get: () => history, set: (next) => (history = next), leave: () => 'now', onChange: () => undefined, onRefused: (sentence) => say(sentence ?? '') })
  for (const planting of document.meadow().plantings) setupOf(document.meadow(), planting, 0)
  /** Milliseconds of each of so many edits, with what growing looks up at once before anything goes to a worker; least first. */
  const timesOf = (change: (k: number) => void) =>
    Array.from({ length: EDITS }, (_, k) => {
      const start = performance.now()
      change(k)
      for (const planting of document.meadow().plantings) setupOf(document.meadow(), planting, 0)
      return performance.now() - start
    }).sort((a, b) => a - b)
  const words = (times: readonly number[]) => `${times[EDITS >> 1].toFixed(2)} ms of the calling thread, at most ${times[EDITS - 1].toFixed(1)} ms`
  const respaced = timesOf((k) => document.edit('Respace', (draft) => void (draft.plantings[0].params.spacing = 2 + 0.01 * (k + 1))))
  const moved = timesOf((k) => movePoint(document, 'o2', { line: 0, index: (k * 331) % POINTS }, k, -k))
  const pool = createInlinePool(1)
  await createShares(pool, partsAmong(new Map([['ground', heightsToBytes(new Float32Array(65 * 65))]]))).with(meadow)
  let largest = 0
  const watched = { ...pool, run: ((task, input, options) => {
    if (task.name === GROW_TILE.name) largest = Math.max(largest, JSON.stringify(input).length)
    return pool.run(task, input, options)
  }) as typeof pool.run }
  const grower = createGrower(watched, { onTile: () => undefined, onState: () => undefined, onGone: () => undefined, onDone: () => undefined }, () => performance.now())
  await grower.grow(meadow, [0, 0])
  pool.close()
  say(`an edit beside outlines of ${(OUTLINES * POINTS).toLocaleString('en')} points: ${words(respaced)}; a point of one moved: ${words(moved)}; a tile's message at most ${(largest / 1000).toFixed(1)} kB`)
}
