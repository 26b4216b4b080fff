import { CONDITIONS } from '../core/fields/conditions/index.ts'
import { DRIVERS } from '../core/fields/drivers/index.ts'
import type { ParamSet, Registry } from '../core/kinds.ts'
import { defaultsOf } from '../core/kinds.ts'
import { listOf as cutList, LONG } from '../core/long-list.ts'
import type { Meadow } from '../core/meadow.ts'
import { MEADOW_VERSION } from '../core/meadow.ts'
import { PLANTINGS } from '../core/plantings/index.ts'
import { THINGS } from '../core/things/index.ts'
import type { Salvaged } from './salvage.ts'
import { salvage } from './salvage.ts'
import type { Checked } from './schema.ts'
import { checkMeadow } from './schema.ts'

/**
 * Steps from one version of the document to the next: entry n turns version n into n + 1. A step
 * works on plain JSON and never imports today's types. Version 1 is the first.
 */
const STEPS: readonly ((old: Record<string, unknown>) => Record<string, unknown>)[] = [
  // Patches and paths came with version 2.
  (old) => ({ ...old, outlines: [] }),
  // Images, beacons, meshes, saved habitats, drivers and grounds came with version 3.
  (old) => ({
    ...old,
    images: [],
    beacons: [],
    meshes: [],
    habitats: [],
    plantings: listOf(old.plantings).map((planting) => ({
      ...planting,
      habitat: listOf(planting.habitat).map((use) => ({ ...use, invert: false })),
      combine: 'all',
      drivers: [],
      grounds: [],
    })),
  }),
  // Grounds know where they lie since version 4.
  (old) => ({ ...old, ground: { ...(old.ground as Plain), georeference: null } }),
  // Assets have numbers that stay theirs since version 5.
  (old) => ({ ...old, assets: listOf(old.assets).map((asset, number) => ({ ...asset, number })), nextAsset: listOf(old.assets).length }),
  // The terrain is one of the grounds of a planting since version 6; before, none meant the terrain.
  (old) => ({
    ...old,
    plantings: Array.isArray(old.plantings)
      ? listOf(old.plantings).map((planting) => (Array.isArray(planting.grounds) && planting.grounds.length === 0 ? { ...planting, grounds: ['terrain'] } : planting))
      : old.plantings,
  }),
  // Long lines lie in pieces since version 7; those of before are cut up when they are read.
  (old) => old,
  // Since version 8 preferences say how much grows elsewhere, before none did; hidden plantings say whether they free
  // their room; and the soft edge of a patch is called as that of all others.
  (old) => ({
    ...old,
    plantings: Array.isArray(old.plantings)
      ? listOf(old.plantings).map((planting) => ({
          ...planting,
          freeWhileHidden: false,
          habitat: withSoftPatches(planting.habitat),
          mix: Array.isArray(planting.mix)
            ? listOf(planting.mix).map((share) => (share.where === undefined ? share : { ...share, where: withSoftPatch(share.where as Plain), elsewhere: 0 }))
            : planting.mix,
        }))
      : old.plantings,
    habitats: Array.isArray(old.habitats) ? listOf(old.habitats).map((one) => ({ ...one, uses: withSoftPatches(one.uses) })) : old.habitats,
  }),
  // Strokes, singles, touch-ups and kept selections came with version 9.
  (old) => ({ ...old, strokes: [], hands: [], selections: [] }),
  // Lines that plantings lie along, groups, runs and pegs came with version 10.
  (old) => ({
    ...old,
    groups: [],
    runs: [],
    pegs: [],
    plantings: Array.isArray(old.plantings) ? listOf(old.plantings).map((planting) => ({ ...planting, along: [] })) : old.plantings,
  }),
  // What patterns stand on came with version 11.
  (old) => ({ ...old, plantings: Array.isArray(old.plantings) ? listOf(old.plantings).map((planting) => ({ ...planting, base: null })) : old.plantings }),
  // Posies came with version 12.
  (old) => ({ ...old, opened: null, assets: Array.isArray(old.assets) ? listOf(old.assets).map((asset) => ({ ...asset, parts: [], drapes: false })) : old.assets }),
  // Paths rise over the ground, and patterns ride on things, since version 13.
  (old) => old,
]

type Plain = Record<string, unknown>

/** A list of plain objects; entries that are none become empty ones, which the schema refuses. */
function listOf(value: unknown): Plain[] {
  return Array.isArray(value) ? (value as unknown[]).map((one) => (typeof one === 'object' && one !== null ? (one as Plain) : {})) : []
}

function withSoftPatches(uses: unknown): unknown {
  return Array.isArray(uses) ? listOf(uses).map(withSoftPatch) : uses
}

/** A condition whose soft edge was called `feather` as long as it was a patch's. */
function withSoftPatch(use: Plain): Plain {
  const { feather, ...params } = (use?.params ?? {}) as Plain
  return use?.kind === 'patch' && feather !== undefined ? { ...use, params: { ...params, soft: feather } } : use
}

/** Gives values that a kind has gained since a document was written their defaults, and empty lists of things that came since; strange names stay, to be refused. */
function fillDefaults(meadow: Plain): Plain {
  const filled = (use: Plain, kinds: Registry<{ readonly kind: string; readonly params: ParamSet }>): Plain =>
    typeof use?.kind === 'string' && kinds.has(use.kind)
      ? { ...use, params: { ...defaultsOf(kinds.get(use.kind).params), ...(use.params as Plain) } }
      : use
  const uses = (value: unknown) => (Array.isArray(value) ? listOf(value).map((use) => filled(use, CONDITIONS)) : value)
  const mix = (value: unknown) =>
    Array.isArray(value) ? listOf(value).map((share) => (share?.where === undefined ? share : { ...share, where: filled(share.where as Plain, CONDITIONS) })) : value
  return {
    // Sorts of things that have come since.
    ...Object.fromEntries(THINGS.all.map(({ list }) => [list, []])),
    ...meadow,
    plantings: Array.isArray(meadow.plantings)
      ? listOf(meadow.plantings).map((planting) => ({
          ...filled(planting, PLANTINGS),
          habitat: uses(planting.habitat),
          mix: mix(planting.mix),
          drivers: Array.isArray(planting.drivers) ? listOf(planting.drivers).map((use) => filled(use, DRIVERS)) : planting.drivers,
        }))
      : meadow.plantings,
    outlines: Array.isArray(meadow.outlines) ? listOf(meadow.outlines).map(withListsCutUp) : meadow.outlines,
    habitats: Array.isArray(meadow.habitats) ? listOf(meadow.habitats).map((one) => ({ ...one, uses: uses(one.uses) })) : meadow.habitats,
  }
}

/** An outline whose long lines lie in pieces. */
function withListsCutUp(outline: Plain): Plain {
  const { lines } = outline
  const isPlainAndLong = (line: unknown): line is number[] => Array.isArray(line) && line.length > LONG && line.every((value) => typeof value === 'number')
  return Array.isArray(lines) && lines.some(isPlainAndLong) ? { ...outline, lines: (lines as unknown[]).map((line) => (isPlainAndLong(line) ? cutList(line) : line)) } : outline
}

/** The first version in which instances are named by what they are, not by their place in a grid. */
const NAMED_ANEW = 5

/**
 * What the person should know of a document that an earlier version saved: plantings whose rules have changed
 * since stand elsewhere, as many as before. Null when all stands as it stood.
 */
export function thrownAnew(value: unknown): string | null {
  const { version, plantings } = (typeof value === 'object' && value !== null ? value : {}) as Plain
  if (typeof version !== 'number' || version >= NAMED_ANEW) return null
  const names = listOf(plantings)
    .filter(({ params, grounds }) => ((params as Plain | undefined)?.placing ?? 'even') !== 'even' || (Array.isArray(grounds) && grounds.length > 0))
    .map(({ name }) => `“${String(name).slice(0, 60)}”`)
  if (names.length === 0) return null
  const told = names.length > 4 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more plantings` : names.join(', ')
  return `${told}: thrown anew, by the rules of this version. As many stand as before, in other places.`
}

/** Brings a parsed document up to the current version, then checks it. */
export function readMeadow(value: unknown): Checked {
  const brought = bringUp(value)
  return 'problem' in brought ? brought : checkMeadow(brought.plain)
}

/** A document as it opens: whole, or with what was damaged left out and told in words; its ground is null where that was lost. */
export type Opened = { readonly meadow: Meadow; readonly leftOut: readonly [] } | Salvaged

/** Opens a stored document as far as it can be opened. */
export function openMeadow(value: unknown, id: string): Opened | { readonly problem: string } {
  const brought = bringUp(value)
  if ('problem' in brought) return brought
  const checked = checkMeadow(brought.plain)
  return 'meadow' in checked ? { meadow: checked.meadow, leftOut: [] } : salvage(brought.plain, id)
}

/** A document of the current version, not checked yet. */
function bringUp(value: unknown): { readonly plain: Plain } | { readonly problem: string } {
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    return { problem: 'it does not hold a meadow' }
  let current = value as Plain
  const version = current.version
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1)
    return { problem: 'it does not say which version of the format it is' }
  if (version > MEADOW_VERSION)
    return {
      problem: `it was saved by a newer Wayward Meadow (format ${version}, this one reads up to ${MEADOW_VERSION}); update this one and open it again`,
    }
  for (let v = version; v < MEADOW_VERSION; v++) current = { ...STEPS[v - 1](current), version: v + 1 }
  return { plain: fillDefaults(current) }
}
