import { registry } from '../kinds.ts'
import type { BlobHash, Meadow } from '../meadow.ts'
import { BEACON } from './beacon.ts'
import type { Thing, ThingKind } from './define.ts'
import { anyThing } from './define.ts'
import { GROUP } from './group.ts'
import { HAND } from './hand.ts'
import { IMAGE } from './image.ts'
import { MESH } from './mesh.ts'
import { OUTLINE } from './outline.ts'
import { PEG } from './peg.ts'
import { RUN } from './run.ts'
import { SELECTION } from './selection.ts'
import { STROKE } from './stroke.ts'
import { VIEW } from './view.ts'

export const THINGS = registry('thing', [
  anyThing(BEACON),
  anyThing(GROUP),
  anyThing(HAND),
  anyThing(IMAGE),
  anyThing(MESH),
  anyThing(OUTLINE),
  anyThing(PEG),
  anyThing(RUN),
  anyThing(SELECTION),
  anyThing(STROKE),
  anyThing(VIEW),
])

/** The things of a kind that a meadow holds. */
export function listOfThings(meadow: Meadow, { list }: ThingKind): readonly Thing[] {
  return (meadow as unknown as Readonly<Record<string, readonly Thing[] | undefined>>)[list] ?? []
}

/** Blobs of things that growing looks into, each once. */
export function grownBlobsOf(meadow: Meadow): BlobHash[] {
  return [...new Set(THINGS.all.flatMap((kind) => listOfThings(meadow, kind).flatMap((thing) => kind.grownBlobs(thing))))]
}

/** What a parameter can refer to: its word, and what there is of it. */
export interface RefKind {
  /** With its article: “a patch”. */
  readonly word: string
  of(meadow: Meadow): readonly Thing[]
}

/** All that parameters can refer to, by name: plantings, and things. */
export const REF_KINDS: ReadonlyMap<string, RefKind> = new Map<string, RefKind>([
  ['planting', { word: 'a planting', of: ({ plantings }) => plantings }],
  ['asset', { word: 'an asset', of: ({ assets }) => assets }],
  // One of which it is asked where it was painted by hand; it may come later, or be the one that asks.
  ['painted', { word: 'a planting', of: ({ plantings }) => plantings }],
  ...THINGS.all.flatMap((kind) =>
    kind.references.map(({ to, word, is }): [string, RefKind] => [to, { word, of: (meadow) => listOfThings(meadow, kind).filter(is) }]),
  ),
])

/** What a name that a parameter refers to stands for. Throws RangeError when nothing is called so. */
export function refKind(to: string): RefKind {
  const found = REF_KINDS.get(to)
  if (!found) throw new RangeError(`refKind: nothing is called "${to}"; there are ${[...REF_KINDS.keys()].join(', ')}`)
  return found
}
