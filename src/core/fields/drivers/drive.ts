import type { Sites } from '../../columns.ts'
import { hashText, mix } from '../../math/random.ts'
import { saturate } from '../../math/portable.ts'
import type { DriverTarget, DriverUse } from '../../meadow.ts'
import type { Arena } from '../../stages/arena.ts'
import { createArena } from '../../stages/arena.ts'
import type { Around, Surroundings } from '../../surroundings.ts'
import { bend } from './curve.ts'
import type { Measure } from './define.ts'
import { DRIVERS } from './index.ts'

/** What drivers do to each site: factors, degrees, metres, colours; null where none of them does. */
export interface Driven {
  readonly size: Float64Array | null
  readonly height: Float64Array | null
  readonly girth: Float64Array | null
  readonly turn: Float64Array | null
  readonly lift: Float64Array | null
  readonly lean: Float64Array | null
  /** 0xRRGGBBAA. */
  readonly tint: Uint32Array | null
}

export interface PreparedDrivers {
  /** Multiplies the weights by what drives the density; null when nothing does. */
  readonly thin: ((sites: Sites, around: Around, arena: Arena) => void) | null
  /** Works out what is done to the sites; null when nothing drives how they stand. */
  readonly stand: ((sites: Sites, around: Around, arena: Arena) => Driven) | null
  /** Most that all size and girth drivers together can widen by. */
  readonly widest: number
  /** Whether what drives the density, or how they stand, asks for the heights of sites. */
  readonly asksHeights: { readonly thin: boolean; readonly stand: boolean }
}

const FACTORS = ['size', 'height', 'girth'] as const
const SUMS = ['turn', 'lift', 'lean'] as const

interface Ready {
  readonly use: DriverUse
  readonly measure: Measure
}

function readyOf(use: DriverUse, surroundings: Surroundings, seed: number, farthest: number): Ready {
  return { use, measure: DRIVERS.get(use.kind).prepare(use.params, { ...surroundings, seed: mix(seed ^ hashText(use.id)) }, farthest) }
}

/** Makes the drivers of a planting ready. */
export function prepareDrivers(drivers: readonly DriverUse[], surroundings: Surroundings, seed: number): PreparedDrivers {
  const ready = drivers
    .filter((use) => use.on)
    .map((use) => readyOf(use, surroundings, seed, Math.max(Math.abs(use.over.from), Math.abs(use.over.to))))
  const density = ready.filter(({ use }) => use.target === 'density')
  const others = ready.filter(({ use }) => use.target !== 'density')
  let widest = 1
  for (const { use } of others)
    if (use.target === 'size' || use.target === 'girth') widest *= Math.max(Number(use.low), Number(use.high), 0)
  const anyAsks = (some: readonly Ready[]) => some.some(({ use }) => !DRIVERS.get(use.kind).flat)
  return {
    widest,
    asksHeights: { thin: anyAsks(density), stand: anyAsks(others) },
    thin:
      density.length === 0
        ? null
        : (sites, around, arena) => {
            for (const one of density) {
              const amounts = lendAmounts(one, sites, around, arena)
              for (let i = 0; i < sites.count; i++) sites.weight[i] *= saturate(amounts[i])
              arena.giveBack()
            }
          },
    stand: others.length === 0 ? null : (sites, around, arena) => drive(others, sites, around, arena),
  }
}

/** What one driver does at a place. */
export interface Reading {
  /** Id of this use of the driver. */
  readonly use: string
  /** What it measures there, in the driver's unit. */
  readonly value: number
  /** What its target gets there: a number in the target's unit, or a colour as #rrggbb. */
  readonly amount: number | string
}

/** Reads every driver that is switched on at the one site given. */
export function readDrivers(drivers: readonly DriverUse[], surroundings: Surroundings, seed: number, site: Sites, around: Around): Reading[] {
  const arena = createArena()
  return drivers
    .filter((use) => use.on)
    .map((use) => {
      const one = readyOf(use, surroundings, seed, Infinity)
      const value = new Float64Array(1)
      one.measure(site, around, value)
      const [share] = lendShares(one, site, around, arena)
      arena.giveBack()
      const amount =
        use.target === 'tint' ? `#${(blended(colourOf(use.low), colourOf(use.high), share) >>> 8).toString(16).padStart(6, '0')}` : amountOf(use, share)
      return { use: use.id, value: value[0], amount }
    })
}

/** What a bent value stands for, between low and high. */
function amountOf({ low, high }: DriverUse, share: number): number {
  return Number(low) + (Number(high) - Number(low)) * share
}

/** Every site's amount between low and high, in a borrowed column. */
function lendAmounts(one: Ready, sites: Sites, around: Around, arena: Arena): Float64Array {
  const shares = lendShares(one, sites, around, arena)
  const low = Number(one.use.low)
  const range = Number(one.use.high) - low
  for (let i = 0; i < sites.count; i++) shares[i] = low + range * shares[i]
  return shares
}

/** Every site's bent value, 0…1, in a borrowed column. */
function lendShares({ use, measure }: Ready, sites: Sites, around: Around, arena: Arena): Float64Array {
  const shares = arena.borrow(sites.count)
  measure(sites, around, shares)
  bendAll(shares, sites.count, use.over.from, use.over.to, use.curve)
  return shares
}

function bendAll(shares: Float64Array, count: number, from: number, to: number, curve: DriverUse['curve']): void {
  const per = to === from ? 0 : 1 / (to - from)
  const [first, last] = [bend(curve, 0), bend(curve, 1)]
  for (let i = 0; i < count; i++) {
    const share = per === 0 ? (shares[i] < from ? 0 : 1) : (shares[i] - from) * per
    // Beyond the ends nothing changes any more; most are there.
    shares[i] = share <= 0 ? first : share >= 1 ? last : bend(curve, share)
  }
}

function drive(ready: readonly Ready[], sites: Sites, around: Around, arena: Arena): Driven {
  const has = (target: DriverTarget) => ready.some(({ use }) => use.target === target)
  const column = (target: DriverTarget, start: number) => (has(target) ? new Float64Array(sites.count).fill(start) : null)
  const driven = {
    size: column('size', 1),
    height: column('height', 1),
    girth: column('girth', 1),
    turn: column('turn', 0),
    lift: column('lift', 0),
    lean: column('lean', 0),
    tint: has('tint') ? new Uint32Array(sites.count).fill(WHITE) : null,
  }
  for (const one of ready) {
    const { target } = one.use
    if (target === 'tint') {
      if (driven.tint) tintBy(driven.tint, lendShares(one, sites, around, arena), sites.count, colourOf(one.use.low), colourOf(one.use.high))
      arena.giveBack()
      continue
    }
    const amounts = lendAmounts(one, sites, around, arena)
    for (const name of FACTORS) if (name === target && driven[name]) multiplyBy(driven[name], amounts, sites.count)
    for (const name of SUMS) if (name === target && driven[name]) addTo(driven[name], amounts, sites.count)
    arena.giveBack()
  }
  return driven
}

// At module level: loops within one function that does much else are optimised late, if at all.

function multiplyBy(out: Float64Array, amounts: Float64Array, count: number): void {
  for (let i = 0; i < count; i++) out[i] *= amounts[i] > 0.001 ? amounts[i] : 0.001
}

function addTo(out: Float64Array, amounts: Float64Array, count: number): void {
  for (let i = 0; i < count; i++) out[i] += amounts[i]
}

function tintBy(out: Uint32Array, shares: Float64Array, count: number, low: number, high: number): void {
  // Most are at one of the ends.
  const [atLow, atHigh] = [blended(low, high, 0), blended(low, high, 1)]
  for (let i = 0; i < count; i++) {
    const by = shares[i] === 0 ? atLow : shares[i] === 1 ? atHigh : blended(low, high, shares[i])
    if (by !== WHITE) out[i] = multiplied(out[i], by)
  }
}

const WHITE = 0xffffffff

/** 0xRRGGBB of #rrggbb; white of anything else. */
function colourOf(value: number | string): number {
  return typeof value === 'string' && /^#[0-9a-f]{6}$/.test(value) ? parseInt(value.slice(1), 16) : 0xffffff
}

/** 0xRRGGBBFF between two colours. */
function blended(low: number, high: number, share: number): number {
  let out = 0
  for (let shift = 16; shift >= 0; shift -= 8) {
    const a = (low >> shift) & 255
    const b = (high >> shift) & 255
    out = out * 256 + Math.floor(a + (b - a) * share + 0.5)
  }
  return out * 256 + 255
}

/** Two tints on top of each other. */
function multiplied(a: number, b: number): number {
  let out = 0
  for (let shift = 24; shift > 0; shift -= 8) out = out * 256 + Math.floor((((a >>> shift) & 255) * ((b >>> shift) & 255)) / 255 + 0.5)
  return out * 256 + 255
}
