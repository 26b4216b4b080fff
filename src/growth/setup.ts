import { hashString, hashValue } from '../core/content-hash.ts'
import type { LookedAt } from '../core/grow.ts'
import { mixAssets, thingsNamed } from '../core/grow.ts'
import type { Meadow, Planting } from '../core/meadow.ts'
import type { Thing, ThingKind } from '../core/things/define.ts'
import type { GrowSetup, ThingData } from '../runner/protocol.ts'

/** A planting with all that its growing depends on, and the long things that go to workers by names of their own. */
export interface Setup {
  readonly setup: GrowSetup
  readonly long: readonly { readonly name: string; readonly thing: Thing }[]
  /** The things that it looks at, as far as they change what grows. */
  readonly looksAt: readonly LookedAt[]
}

/** Makes ready what workers must know to grow a planting. Looks through what has not been looked through before only. */
export function setupOf(meadow: Meadow, planting: Planting, finer: number): Setup {
  // Name, colour, eye and lock do not change what grows.
  const grown = { ...planting, name: '', colour: '', visible: true, locked: false }
  const assets = mixAssets(planting, meadow.assets)
  const looksAt = thingsNamed(planting, meadow).map(({ kind, thing, ...looked }) => ({ kind, thing: kind.bare(thing), ...looked, called: thing.name }))
  const named = looksAt.map(({ kind, thing, called }) => ({ kind, thing, called, name: nameOf(kind, thing) }))
  const things = named.map(({ kind, thing, called, name }): ThingData => ({ kind: kind.kind, called, ...(kind.long ? { name } : { thing }) }))
  const terrain = terrainName(meadow)
  const waterLevel = meadow.water.level
  const { id, kind, seed, combine, mix, habitat, drivers, grounds, base, params } = planting
  const tileKey = hashString(
    [id, kind, seed, combine, ...[mix, habitat, drivers, grounds, base, params, assets].map(hashValue), terrain, waterLevel, finer].join('\n'),
  )
  const key = named.length > 0 ? hashString([tileKey, ...named.map(({ name }) => name)].join('\n')) : tileKey
  return {
    setup: { key, tileKey, planting: grown, assets, surroundings: { terrain, waterLevel, things }, finer },
    long: named.filter((one) => one.kind.long).map(({ name, thing }) => ({ name, thing })),
    looksAt,
  }
}

/** Names a thing by all that can change what grows. */
function nameOf(kind: ThingKind, thing: Thing): string {
  const members = thing as unknown as Readonly<Record<string, unknown>>
  return `${kind.kind}/${hashString(Object.keys(members).sort().map((key) => `${key} ${hashValue(members[key])}`).join('\n'))}`
}

/** The name under which workers know the terrain of a meadow. */
export function terrainName({ ground }: Meadow): string {
  return `${ground.blob}/${ground.sizeX}/${ground.sizeZ}`
}
