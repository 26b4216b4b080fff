import type { Block } from '../core/columns.ts'
import { blockBytes, blockOf } from '../core/columns.ts'
import { hashString, hashWords } from '../core/content-hash.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import type { PreparedFacts } from '../runner/protocol.ts'
import type { Row } from './neighbours.ts'

/**
 * Grown tiles as they are kept from one opening of a meadow to the next. A tile is kept under the name of all that
 * it depended on, so that one that no longer fits is simply grown anew.
 */
export interface KeptTile {
  readonly key: string
  readonly rect: Rect
  readonly name: string
  readonly reach: number
  readonly count: number
}

/** Some tiles of a planting with their blocks, one after the other; about a megabyte, so that handing it over holds nothing up. */
export interface Pack {
  readonly planting: string
  /** Which of the planting's packs. */
  readonly part: number
  /** Names all that its tiles depended on. */
  readonly name: string
  /** The engine that grew it. */
  readonly engine: string
  readonly setupKey: string
  readonly facts: PreparedFacts
  readonly tiles: readonly KeptTile[]
  readonly bytes: Uint8Array<ArrayBuffer>
  /** Names the bytes. */
  readonly check: string
}

/** Instances in a pack in the mean. */
const PACK = 16384

/** How many packs a planting of so many instances is kept in: a power of two. */
function partsFor(count: number): number {
  let parts = 1
  while (parts * PACK < count) parts *= 2
  return parts
}

/** A pack that is to be made: which, and a name of what will be in it. */
export interface PackPlan {
  readonly part: number
  readonly name: string
  make(): Pack
}

/** What of a planting's row is to be kept, in packs; null while it does not stand for what it depends on. */
export function packsOf(planting: string, row: Row, engine: string): PackPlan[] | null {
  const { facts, setupKey } = row
  if (!facts || !row.settled) return null
  const tiles = [...row.tiles].map(([key, tile]) => ({ key, ...tile }))
  const parts = partsFor(tiles.reduce((sum, { grown }) => sum + grown.count, 0))
  return Array.from({ length: parts }, (_, part) => {
    // By its name, so that a tile stays in its pack whatever comes and goes beside it.
    const own = tiles.filter(({ key }) => parseInt(hashString(key).slice(-6), 36) % parts === part).sort((a, b) => (a.key < b.key ? -1 : 1))
    const name = hashString([engine, setupKey, parts, ...own.map((tile) => `${tile.key} ${tile.name}`)].join('\n'))
    return { part, name, make: () => makePack({ planting, part, name, engine, setupKey, facts }, own) }
  })
}

function makePack(of: Omit<Pack, 'tiles' | 'bytes' | 'check'>, tiles: readonly { readonly key: string; readonly rect: Rect; readonly name: string; readonly reach: number; readonly grown: Block }[]): Pack {
  const lengths = tiles.map(({ grown }) => padded(blockBytes(grown.count)))
  const bytes = new Uint8Array(lengths.reduce((sum, length) => sum + length, 0))
  let at = 0
  tiles.forEach(({ grown }, k) => {
    bytes.set(new Uint8Array(grown.buffer), at)
    at += lengths[k]
  })
  return { ...of, tiles: tiles.map(({ key, rect, name, reach, grown }) => ({ key, rect, name, reach, count: grown.count })), bytes, check: checkOf(bytes) }
}

/** Whole words, so that packs can be named word by word. */
function padded(bytes: number): number {
  return (bytes + 3) & ~3
}

function checkOf(bytes: Uint8Array<ArrayBuffer>): string {
  return hashWords(new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength >> 2))
}

/** The tiles of a pack. Null when it is torn, or of another engine. */
export function restoredFrom(pack: unknown, engine: string): Pick<Pack, 'planting' | 'part' | 'name' | 'facts' | 'setupKey'> & { readonly tiles: Row['tiles'] } | null {
  if (!isPack(pack) || pack.engine !== engine) return null
  const { planting, part, name: own, facts, setupKey, tiles, bytes } = pack
  const restored: Row['tiles'] = new Map()
  let at = 0
  for (const { key, rect, name, reach, count } of tiles) {
    const length = blockBytes(count)
    const block = blockOf(count, bytes.slice(at, at + length).buffer)
    restored.set(key, { rect, name, reach, grown: block, shown: block })
    at += padded(length)
  }
  return { planting, part, name: own, facts, setupKey, tiles: restored }
}

/** Whether a value from the store is a whole pack. */
function isPack(value: unknown): value is Pack {
  const { planting, part, name, engine, setupKey, facts, tiles, bytes, check } = (typeof value === 'object' && value !== null ? value : {}) as Partial<Pack>
  if (![planting, name, engine, setupKey, check].every((one) => typeof one === 'string') || !Number.isSafeInteger(part) || typeof facts !== 'object' || facts === null || !Array.isArray(tiles)) return false
  if (!ArrayBuffer.isView(bytes) || bytes.byteOffset % 4 !== 0) return false
  const length = (tiles as readonly Partial<KeptTile>[]).reduce((sum, { count }) => sum + (Number.isSafeInteger(count) && (count as number) >= 0 ? padded(blockBytes(count as number)) : NaN), 0)
  return length === bytes.byteLength && checkOf(bytes) === check
}
