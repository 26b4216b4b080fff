import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { GroundFrame, Vector } from '../../core/hand/frames.ts'
import { groundFrame } from '../../core/hand/frames.ts'
import type { Ordering, RunShape } from '../../core/hand/runs.ts'
import { lineAlong, lineThrough, pathThrough, placesOfRun, ringThrough } from '../../core/hand/runs.ts'
import type { SpacedRun } from '../../core/meadow.ts'
import type { AlongLine } from '../../core/outlines/along.ts'
import { alongOutline } from '../../core/outlines/along.ts'
import { isClosed } from '../../core/outlines/outline.ts'
import type { MemberId } from '../../core/things/members.ts'
import { idsOf, keyOfMember } from '../../core/things/members.ts'
import { addRun, setRun } from '../../document/edits/runs.ts'
import type { InstanceAt } from '../../document/edits/hands.ts'
import { sharedGround } from '../../document/edits/hands.ts'
import type { Chosen } from '../../state/chosen.ts'
import { chosenOf } from '../../state/chosen.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { notify } from '../../state/notices.ts'
import type { Held } from './acts.ts'
import { changeHeld, hold, holdByGesture, placeOver, terrainHeight } from './acts.ts'

/** What things can be spaced out along. */
export const SPACE_ALONG = {
  lies: 'in a row, as they lie',
  east: 'in a row to the east',
  south: 'in a row to the south',
  up: 'in a stack',
  ring: 'round a ring',
} as const
export type SpaceAlong = keyof typeof SPACE_ALONG

const AXES: Readonly<Record<'east' | 'south' | 'up', Vector>> = { east: [1, 0, 0], south: [0, 0, 1], up: [0, 1, 0] }

/** Spaces out what is chosen, evenly between where it lies now; `along` may be the id of a path. Returns the run that keeps its numbers. */
export async function spaceOut(session: FieldSession, chosen: Chosen, along: string): Promise<string | null> {
  const held = await hold(session, chosen)
  const { instances } = held
  if (instances.length < 2) {
    notify('word', 'At least two things are spaced out; choose more of them.')
    return null
  }
  const ground = sharedGround(instances)
  const frame = frameOf(session, ground)
  if (!frame) return null
  const places = instances.map(({ place }) => frame.placeToOwn(place))
  const ordering = orderingOf(session, places, along, { frame, ground })
  if (!ordering) return null
  const { order, shape } = ordering
  const path = shape.kind === 'path' ? along : ''
  const ids = order.map((k) => instances[k])
  const id = addRun(session, nameOf(instances.length), { ...plain(shape), ground, path, ids: ids.map(({ planting, low, high }) => ({ planting, low, high })) }, held.gesture)
  if (id !== null) write(session, held, ids, { ...shape, ground, path })
  return id
}

function nameOf(count: number): string {
  return `Space out ${count.toLocaleString('en')}`
}

function plain({ kind, from, to, spacing, arc }: RunShape): Pick<SpacedRun, 'kind' | 'from' | 'to' | 'spacing' | 'arc'> {
  return { kind, from: [from[0], from[1], from[2]], to: [to[0], to[1], to[2]], spacing, arc }
}

function orderingOf(session: FieldSession, places: readonly Vector[], along: string, { frame, ground }: { readonly frame: GroundFrame; readonly ground: string }): Ordering | null {
  if (along === 'lies') return lineThrough(places)
  if (along === 'ring') return ringThrough(places)
  if (along === 'east' || along === 'south' || along === 'up') return lineAlong(places, axisIn(frame, ground, along))
  const path = pathOf(session, along)
  const outline = session.meadow().outlines.find(({ id }) => id === along)
  if (!path || !outline) {
    notify('word', 'That path is gone; choose another one.')
    return null
  }
  return pathThrough(places.map((place) => frame.placeToWorld(place)), path, isClosed(outline))
}

/** An axis of the world in the frame of a ground. */
function axisIn(frame: GroundFrame, ground: string, axis: keyof typeof AXES): Vector {
  // Of the terrain ways are the world's.
  if (ground === TERRAIN_ID) return AXES[axis]
  const [from, to] = [frame.placeToOwn([0, 0, 0]), frame.placeToOwn(AXES[axis])]
  return [(to[0] - from[0]) * frame.size, (to[1] - from[1]) * frame.size, (to[2] - from[2]) * frame.size]
}

function pathOf(session: FieldSession, id: string): AlongLine | null {
  const outline = session.meadow().outlines.find((one) => one.id === id)
  return outline ? (alongOutline(outline)[0] ?? null) : null
}

function frameOf(session: FieldSession, ground: string): GroundFrame | null {
  return groundFrame(ground, session.meadow().meshes, terrainHeight(session))
}

/** Puts what is held where a run of so many members has it: those that are not there leave their places empty. */
function write(session: FieldSession, held: Held, ids: readonly MemberId[], run: RunShape & Pick<SpacedRun, 'ground' | 'path'>): void {
  const frame = frameOf(session, run.ground)
  const places = placesOfRun(run, ids.length, run.path ? pathOf(session, run.path) : null)
  if (!frame || places.length === 0) return
  const slots = new Map(ids.map((id, k) => [keyOfMember(id), k]))
  const inWorld = (at: InstanceAt): Vector => {
    const [x, y, z] = places[slots.get(keyOfMember(at)) ?? 0]
    // Paths lie in the plan of the world.
    if (run.kind === 'path') return placeOver(session, at, x, z)
    return frame.placeToWorld([x, y ?? frame.placeToOwn(at.place)[1], z])
  }
  changeHeld(session, held, 'Space out', (at) => ({ place: inWorld(at) }))
}

/** Changes numbers of runs one after the other: those of one gesture begin from where the members stood before it. */
export function runChanger(session: FieldSession) {
  const take = holdByGesture(session)
  return (run: SpacedRun, change: Partial<Pick<SpacedRun, 'spacing' | 'arc' | 'to'>>, gesture?: string): void => {
    const ids = idsOf(run)
    void take(chosenOf(ids), gesture).then((held) => {
      const now = session.meadow().runs.find(({ id }) => id === run.id)
      if (!now || !setRun(session, run.id, nameOf(ids.length), change, held.gesture)) return
      write(session, held, ids, { ...now, ...change })
    })
  }
}
