import { whatWaits } from '../document/edits/waiting.ts'
import { ProblemError } from '../document/problem.ts'
import type { Planting } from '../core/meadow.ts'
import { lowestKeys } from './exact-count.ts'
import { PLANTINGS } from '../core/plantings/index.ts'
import { PREPARE } from '../runner/grow-refs.ts'
import type { Growing, Run } from './grow-tiles.ts'
import { attachTouchUps, growTiles } from './grow-tiles.ts'
import type { HandOf } from './hands.ts'
import { handOf } from './hands.ts'
import { ALL_THERE } from './touch-ups.ts'
import type { PlantingState } from './planting-state.ts'
import type { Handover } from './handover.ts'
import { shareCovered } from './strokes.ts'
import { lostParts, sayMissing } from './missing.ts'
import type { Neighbours, Row } from './neighbours.ts'
import { CancelledError } from '../runner/pool.ts'
import type { PreparedFacts } from '../runner/protocol.ts'

const FINEST = 3
/** More than this in one planting would outgrow the memory of a browser tab. */
const MOST_EXPECTED = 2_000_000

/** What else stands in the meadow, and how much may. */
export interface Census {
  readonly others: number
  readonly most: number
}

/** Brings one planting up to date; returns how many tiles grew. Throws ProblemError with why it cannot grow. */
export async function growPlanting(run: Run, handover: Handover, planting: Planting, row: Row, neighbours: Neighbours, census: Census): Promise<number> {
  sayMissing(run.meadow, planting)
  let before = 0
  let candidates = ''
  let grown = 0
  const tell = (phase: PlantingState['phase'], rest: Partial<PlantingState>) => run.events.onState(planting.id, { ...stateOf(row, phase), ...rest })
  for (let finer = 0; ; finer++) {
    const { setup, looksAt } = handover.give(run.meadow, planting, finer)
    const facts = row.facts && row.setupKey === setup.key ? row.facts : await run.pool.run(PREPARE, setup.key, { signal: run.signal, urgent: true, onProgress: (share, sentence) => tell('growing', { done: Math.round(100 * share), total: 100, sentence }) })
    row.facts = facts
    row.setupKey = setup.key
    const tooMany = whyTooMany({ ...facts, expected: facts.expected * shareCovered(planting, neighbours.painted, facts.plots) }, census)
    if (tooMany) {
      clear(run, planting.id, row)
      throw new ProblemError(tooMany)
    }
    const hand = await touchUpsOf(run, { planting, row, facts, setup, looksAt, neighbours, report: () => undefined })
    const report = (done: number, total: number) => tell('growing', { done, total })
    // Where there are no finer candidates, what stands is what they would give.
    const asked = facts.plots.map((plot) => plot.candidates).join(' ')
    if (finer === 0 || asked !== candidates) grown += await growTiles(run, { planting, row, facts, setup, looksAt, neighbours: { ...neighbours, hand }, report })
    candidates = asked
    const warning = whatWaits(planting) ?? lostParts(run.meadow, planting) ?? facts.warnings[0] ?? null
    const { exactCount } = facts
    if (exactCount === null) {
      tell('ready', { sentence: whyNothing(planting, row, neighbours) ?? warning })
      return grown
    }
    const total = sum([...row.tiles.values()].map((tile) => tile.grown.count))
    // Finer candidates are tried while they help.
    if (total < exactCount && finer < FINEST && total > 1.02 * before) {
      before = total
      continue
    }
    await trim(run, planting.id, row, exactCount)
    tell('ready', { sentence: total < exactCount ? whyNothing(planting, row, neighbours) ?? whyFewer(total, exactCount) : warning })
    return grown
  }
}

/** Finds which instances the touch-ups of a planting are for; returns its hand work with those that are attached anew. */
async function touchUpsOf(run: Run, growing: Growing): Promise<HandOf | null> {
  const { row, planting, neighbours: { hand } } = growing
  row.touches = hand?.touches.length ?? 0
  row.touchUps = row.touches > 0 ? await attachTouchUps(run, growing) : ALL_THERE
  if (row.touches === 0) row.plain.clear()
  return row.touchUps.attached.size > 0 ? handOf(run.meadow, planting, row.touchUps.attached) : hand
}

/** Takes all of a planting out of the picture. */
function clear({ events }: Run, planting: string, row: Row): void {
  for (const [key, tile] of row.tiles) events.onTile(planting, key, null, tile.rect)
  row.tiles.clear()
  row.version++
}

/** Of all that grew, shows the `count` of the lowest keys. */
async function trim({ events, signal, pace }: Run, planting: string, row: Row, count: number): Promise<void> {
  const tiles = [...row.tiles]
  const kept = await lowestKeys(
    tiles.map(([, tile]) => tile.grown),
    count,
    pace,
  )
  if (signal.aborted) throw new CancelledError()
  tiles.forEach(([key, tile], i) => {
    row.tiles.set(key, { ...tile, shown: kept[i] })
    events.onTile(planting, key, kept[i], tile.rect)
  })
  row.version++
}

function whyTooMany({ refusal, expected, exactCount }: PreparedFacts, { others, most }: Census): string | null {
  if (refusal) return refusal
  if (expected > MOST_EXPECTED)
    return `This would be about ${inWords(expected)} instances, and at most ${inWords(MOST_EXPECTED)} can grow in one planting; widen the spacing, or narrow where it grows.`
  if (Math.min(expected, exactCount ?? Infinity) + others > most)
    return `This would be about ${inWords(expected)} instances, together with the other plantings more than the ${inWords(most)} that a meadow can hold; widen a spacing, or narrow where it grows.`
  return null
}

function whyFewer(total: number, wanted: number): string {
  return `Only ${total.toLocaleString('en')} of ${wanted.toLocaleString('en')} find a place; loosen a condition or give less room.`
}

/** Why a planting has no instance at all, and what to do; null when it has some. */
function whyNothing(planting: Planting, row: Row, { painted }: Neighbours): string | null {
  if (countOf(row) > 0) return null
  const { mix, grounds, id } = planting
  if (!mix.some(({ share }) => share > 0)) return 'Nothing grows, as its mix is empty; add an asset under What.'
  if (grounds.length === 0) return 'Nothing grows, as it has no ground to grow on; choose one under Where.'
  const needs = PLANTINGS.get(planting.kind).needs(planting)
  if (needs) return needs
  const unsown = PLANTINGS.get(planting.kind).base === 0 && !painted.some((one) => one.planting === id && (one.strokes?.sown ?? 0) > 0)
  if (unsown) return 'Nothing is sown yet: take up Sow (S) and paint over its ground.'
  const emptied = row.facts?.emptied
  if (!emptied) return 'Nothing grows: plantings above take all the room, or too little ground is left; lessen the spacing or loosen a condition.'
  return emptied.alone
    ? `Nothing grows, as no ground meets “${emptied.label}”; widen it under Where, or switch it off.`
    : `Nothing grows, as “${emptied.label}” leaves nothing of what the conditions before it take; widen one of them under Where, or switch it off.`
}

/** A large number as one says it. */
function inWords(count: number): string {
  return count >= 1e6 ? `${Number((count / 1e6).toPrecision(2)).toLocaleString('en')} million` : Math.round(count).toLocaleString('en')
}

function sum(values: readonly number[]): number {
  return values.reduce((total, value) => total + value, 0)
}

/** How many instances of a planting are shown. */
export function countOf(row: Row): number {
  return sum([...row.tiles.values()].map((tile) => tile.shown.count))
}

export function stateOf(row: Row, phase: PlantingState['phase']): PlantingState {
  const { attached, loose } = row.touchUps
  const touched = row.touches === 0 ? null : { there: row.touches - attached.size - loose.length, anew: attached.size, loose }
  return { phase, count: countOf(row), done: 0, total: 0, sentence: null, touched }
}
