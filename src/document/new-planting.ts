import { CONDITIONS } from '../core/conditions/index.ts'
import type { ParamValue } from '../core/kinds.ts'
import { defaultsOf } from '../core/kinds.ts'
import type { ConditionUse, Meadow, Outline, Planting, Share } from '../core/meadow.ts'
import { MEADOW_VERSION } from '../core/meadow.ts'
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

/** A name for a new thing that no other has. */
export function newId(): string {
  return crypto.randomUUID()
}

/** A condition with its defaults. */
export function newCondition(kind: string, params: Record<string, ParamValue> = {}, id = newId()): ConditionUse {
  return { id, kind, on: true, params: { ...defaultsOf(CONDITIONS.get(kind).params), ...params } }
}

/** A planting with its defaults. */
export function newPlanting(
  given: Pick<Planting, 'name' | 'colour' | 'seed'> & {
    kind?: string
    id?: string
    mix?: Share[]
    habitat?: ConditionUse[]
    params?: Record<string, ParamValue>
  },
): Planting {
  const { kind = 'spread', id = newId(), mix = [], habitat = [], params = {}, name, colour, seed } = given
  return {
    id,
    kind,
    name,
    colour,
    visible: true,
    locked: false,
    seed,
    mix,
    habitat,
    params: { ...defaultsOf(PLANTINGS.get(kind).params), ...params },
  }
}

/** A patch or path through the given points. */
export function newOutline(
  given: Pick<Outline, 'kind' | 'name' | 'colour' | 'lines'> & Partial<Pick<Outline, 'id' | 'smooth' | 'closed' | 'width'>>,
): Outline {
  const { id = newId(), smooth = false, closed = given.kind === 'patch', width = 2, kind, name, colour, lines } = given
  return { id, kind, name, colour, visible: true, locked: false, smooth, closed, width, lines }
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
    },
    water: { shown: false, level: -1 },
    assets: [],
    plantings: [],
    outlines: [],
    views: [
      { id: newId(), name: 'From the south', position: [0, size * 0.18, size * 0.62], target: [0, 0, 0] },
    ],
  }
}
