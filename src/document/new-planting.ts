import { TERRAIN_ID } from '../core/grounds/ground.ts'
import { CONDITIONS } from '../core/fields/conditions/index.ts'
import type { NumberList } from '../core/long-list.ts'
import { listOf, valuesOf } from '../core/long-list.ts'
import type { ParamValue } from '../core/kinds.ts'
import { defaultsOf } from '../core/kinds.ts'
import { DRIVERS } from '../core/fields/drivers/index.ts'
import type { Beacon, ConditionUse, DriverTarget, DriverUse, Meadow, Outline, PatternBase, Planting, Share } from '../core/meadow.ts'
import { MEADOW_VERSION } from '../core/meadow.ts'
import { THINGS } from '../core/things/index.ts'
import { PLANTINGS } from '../core/plantings/index.ts'

/** Marks of plantings, in the order in which new ones take them; told apart in light and dusk. */
export const PLANTING_COLOURS = [
  '#5f7f3a',
  '#b5762a',
  '#6d5fa8',
  '#2f8177',
  '#b0536b',
  '#4a6fa5',
  '#8a6f3c',
  '#7d7f2b',
] as const

/** The mark of the next planting of a meadow. */
export function nextColour({ plantings }: Pick<Meadow, 'plantings'>): string {
  return PLANTING_COLOURS[plantings.length % PLANTING_COLOURS.length]
}

/** A name for a new thing that no other has. */
export function newId(): string {
  return crypto.randomUUID()
}

/** A throw of the dice. */
export function newSeed(): number {
  return crypto.getRandomValues(new Uint32Array(1))[0]
}

/** A condition with its defaults. */
export function newCondition(kind: string, params: Record<string, ParamValue> = {}, id = newId()): ConditionUse {
  return { id, kind, on: true, invert: false, params: { ...defaultsOf(CONDITIONS.get(kind).params), ...params } }
}

/** The conditions of a new planting: nothing grows through what is to be kept clear of. */
export function habitatAtFirst({ meshes }: Pick<Meadow, 'meshes'>): ConditionUse[] {
  return meshes.filter(({ role }) => role === 'obstacle').map(({ id: mesh }) => newCondition('obstacle', { mesh }))
}

/** What a target gets at first, where the field is 0 and where it is 1. */
const FIRST_AMOUNTS: Readonly<Record<DriverTarget, readonly [number | string, number | string]>> = {
  density: [0, 1],
  size: [0.6, 1.3],
  height: [0.6, 1.3],
  girth: [0.6, 1.3],
  turn: [0, 90],
  lift: [0, 0.3],
  lean: [0, 20],
  tint: ['#d8c48a', '#ffffff'],
}

/** What leaves a target as it is. */
const UNCHANGED: Readonly<Record<DriverTarget, number | string>> = { density: 1, size: 1, height: 1, girth: 1, turn: 0, lift: 0, lean: 0, tint: '#ffffff' }

/** What a driver gives its target at first. Where its field ends at a reach, nothing changes beyond that unless asked. */
export function firstAmounts(kind: string, target: DriverTarget): [number | string, number | string] {
  const [low, high] = FIRST_AMOUNTS[target]
  if (!DRIVERS.get(kind).ends) return [low, high]
  return [UNCHANGED[target], high === UNCHANGED[target] ? low : high]
}

/** A driver with its defaults. */
export function newDriver(
  kind: string,
  target: DriverTarget,
  given: Partial<Pick<DriverUse, 'id' | 'over' | 'curve' | 'low' | 'high'>> & { params?: Record<string, ParamValue> } = {},
): DriverUse {
  const driver = DRIVERS.get(kind)
  const [low, high] = firstAmounts(kind, target)
  const { id = newId(), params = {}, ...rest } = given
  return {
    id,
    kind,
    on: true,
    target,
    params: { ...defaultsOf(driver.params), ...params },
    over: { ...driver.over },
    curve: [0, 0, 1, 1],
    low,
    high,
    ...rest,
  }
}

/** A beacon with its defaults. */
export function newBeacon(given: Pick<Beacon, 'name' | 'colour' | 'x' | 'z'> & Partial<Beacon>): Beacon {
  return { id: newId(), visible: true, locked: false, above: 0, reach: 15, strength: 1, falloff: 'straight', ...given }
}

/** A planting with its defaults. */
export function newPlanting(
  given: Pick<Planting, 'name' | 'colour' | 'seed'> & {
    kind?: string
    id?: string
    mix?: Share[]
    habitat?: ConditionUse[]
    drivers?: DriverUse[]
    grounds?: string[]
    along?: string[]
    base?: PatternBase | null
    params?: Record<string, ParamValue>
  },
): Planting {
  const { kind = 'spread', id = newId(), mix = [], habitat = [], drivers = [], grounds = [TERRAIN_ID], along = [], base = null, params = {}, name, colour, seed } = given
  return {
    id,
    kind,
    name,
    colour,
    visible: true,
    locked: false,
    freeWhileHidden: false,
    seed,
    mix,
    habitat,
    combine: 'all',
    drivers,
    grounds,
    along,
    base,
    params: { ...defaultsOf(PLANTINGS.get(kind).params), ...params },
  }
}

/** A patch or path through the given points. */
export function newOutline(
  given: Pick<Outline, 'kind' | 'name' | 'colour'> & { readonly lines: readonly NumberList[] } & Partial<Pick<Outline, 'id' | 'smooth' | 'closed' | 'width'>>,
): Outline {
  const { id = newId(), smooth = false, closed = given.kind === 'patch', width = 2, kind, name, colour, lines } = given
  return { id, kind, name, colour, visible: true, locked: false, smooth, closed, width, lines: lines.map((line) => listOf(valuesOf(line))) }
}

/** Lists of all sorts of things, empty. */
export function emptyThings(): Pick<Meadow, 'outlines' | 'images' | 'beacons' | 'meshes' | 'strokes' | 'hands' | 'selections' | 'groups' | 'runs' | 'pegs'> {
  return { outlines: [], images: [], beacons: [], meshes: [], strokes: [], hands: [], selections: [], groups: [], runs: [], pegs: [], ...Object.fromEntries(THINGS.all.map(({ list }) => [list, []])) }
}

/** An empty meadow on a level ground of the given blob. */
export function newMeadow(name: string, blob: string, side: { samples: number; size: number }): Meadow {
  const { samples, size } = side
  return {
    version: MEADOW_VERSION,
    id: newId(),
    name,
    ground: {
      kind: 'terrain',
      name: 'Level ground',
      blob,
      columns: samples,
      rows: samples,
      sizeX: size,
      sizeZ: size,
      lowest: 0,
      highest: 0,
      source: '',
      georeference: null,
    },
    water: { shown: false, level: -1 },
    assets: [],
    nextAsset: 0,
    opened: null,
    plantings: [],
    ...emptyThings(),
    habitats: [],
    views: [
      { id: newId(), name: 'From the south', position: [0, size * 0.18, size * 0.62], target: [0, 0, 0] },
    ],
  }
}
