import { treeOf } from '../core/grounds/mesh-tree.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import type { Surroundings } from '../core/surroundings.ts'
import type { Thing } from '../core/things/define.ts'
import { THINGS } from '../core/things/index.ts'
import { ProblemError } from '../document/problem.ts'
import type { SurroundingsData, ThingData } from './protocol.ts'
import type { TaskContext } from './tasks.ts'

type Held = Pick<TaskContext, 'terrain' | 'bytes' | 'thing'>

/** Puts the large things that were shared with this thread in their places, and makes all things ready; those that are not long are called by `names`. */
export function resolveSurroundings({ terrain, waterLevel, things }: SurroundingsData, context: Held, names: Readonly<Record<string, string>> = {}): Surroundings {
  const ready = new Map<string, Map<string, unknown>>()
  for (const data of things) {
    const thing = 'name' in data ? context.thing(data.name) : calledBy(names, data.thing)
    const own = ready.get(data.kind) ?? new Map<string, unknown>()
    ready.set(data.kind, own.set(thing.id, readyOf(data, thing, context)))
  }
  return { terrain: context.terrain(terrain), waterLevel, things: ready }
}

/** The thing by its name, where that is told. */
function calledBy(names: Readonly<Record<string, string>>, thing: Thing): Thing {
  return Object.hasOwn(names, thing.id) ? { ...thing, name: names[thing.id] } : thing
}

function readyOf({ kind, called }: ThingData, thing: Thing, { bytes }: Held): unknown {
  const { one, ready } = THINGS.get(kind)
  try {
    return ready(thing, { bytes, treeOf })
  } catch (cause) {
    throw new ProblemError(`The ${one} “${called}” is damaged or lacks a part; remove it and bring its file in again.`, cause)
  }
}

/** What things cover in plan whose bytes alone tell it, by their ids. */
export function extentsOf({ things }: Surroundings): Record<string, Rect> {
  const extents: Record<string, Rect> = {}
  for (const [kind, own] of things) {
    const { extent } = THINGS.get(kind)
    if (extent) for (const [id, ready] of own) extents[id] = extent(ready)
  }
  return extents
}
