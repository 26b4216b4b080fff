import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { SnapWish } from '../../core/grounds/snap.ts'
import type { Vector } from '../../core/hand/frames.ts'
import { groundFrame } from '../../core/hand/frames.ts'
import { turned } from '../../core/math/quaternion.ts'
import type { Seen, SnappedTo } from '../../core/plantings/ask.ts'
import type { InstanceAt } from '../../document/edits/hands.ts'
import { instanceAt } from '../../state/chosen.ts'
import { terrainHeight } from '../choose/acts.ts'
import { thingUnder } from '../choose/under.ts'
import type { Desk, Pointer } from '../define.ts'
import { createEyes } from '../eyes.ts'
import type { SnapValues } from './settings.ts'
import { snapValues, stepped } from './settings.ts'

/** What is nearer to the pointer than this is meant, px. */
export const REACH = 14

/** Finds what things are set to under the pointer. */
export interface Snapper {
  /** Tells what lies under a place of the picture, soon: what is near it, where things are set to that, else the place itself. */
  look(at: Pointer, grounds: readonly string[], tell: (seen: Seen | null) => void): void
  /** The same for a press, which is never passed over for a newer one. */
  sure(at: Pointer, grounds: readonly string[], tell: (seen: Seen | null) => void): void
  /** Takes its mark out of the picture. */
  end(): void
}

/** `passes` tells which things are not meant: those that move themselves. */
export function createSnapper(desk: Desk, passes: (one: InstanceAt) => boolean = () => false): Snapper {
  const { state, view } = desk
  const eyes = createEyes(desk)
  /** What is meant by a place of the picture, and where it is asked for. */
  function meant(at: Pointer, tell: (seen: Seen | null) => void): { readonly found: (seen: Seen | null) => void; readonly wish?: SnapWish } {
    const values = snapValues(state)
    if (!values.on || at.free) {
      if (state.getState().snap) state.setState({ snap: null })
      return { found: tell }
    }
    const found = (seen: Seen | null) => {
      const near = nearest(desk, at, seen, candidates(desk, at, values, passes)) ?? (seen && onGrid(desk, seen, values))
      const place: Vector | null = near && [near.place.x, near.place.y, near.place.z]
      const under = seen ? ([seen.place.x, seen.place.y, seen.place.z] as const) : place
      state.setState({ snap: under && { at: under, on: near?.on && place ? { place, words: wordsOf(desk, near) } : null } })
      tell(near)
    }
    return { found, wish: wishOf(view, at, values) }
  }
  return {
    look(at, grounds, tell) {
      const { found, wish } = meant(at, tell)
      eyes.look(at, grounds, found, wish)
    },
    sure(at, grounds, tell) {
      const { found, wish } = meant(at, tell)
      const seen = eyes.see([at], grounds, wish)
      if (seen instanceof Promise) void seen.then(([one]) => found(one)).catch(() => tell(null))
      else found(seen[0])
    },
    end: () => state.setState({ snap: null }),
  }
}

/** What of meshes is looked for. */
function wishOf(view: Desk['view'], { x, y }: Pointer, { corners, edges, faces }: SnapValues): SnapWish {
  const [a, b] = [view.sight(x, y), view.sight(x + REACH, y)].map(({ direction }) => direction)
  const within = Math.acos(Math.min(1, a[0] * b[0] + a[1] * b[1] + a[2] * b[2]))
  return { kinds: [...(corners ? (['corner'] as const) : []), ...(edges ? (['edge'] as const) : []), ...(faces ? (['face'] as const) : [])], within }
}

/** Something that a place can be set to, in the world. */
interface Candidate {
  readonly ground: string
  readonly place: Vector
  readonly kind: SnappedTo['kind']
}

/** Pegs, and where the thing under the pointer stands and has the corners of its box. */
function candidates(desk: Desk, at: Pointer, { pegs, things }: SnapValues, passes: (one: InstanceAt) => boolean): Candidate[] {
  return [...(pegs ? pegsOf(desk) : []), ...(things ? ofThing(desk, at, passes) : [])]
}

function pegsOf({ session }: Pick<Desk, 'session'>): Candidate[] {
  const { pegs, meshes } = session.meadow()
  return pegs.flatMap(({ ground, place }) => {
    const frame = groundFrame(ground, meshes, terrainHeight(session))
    return frame ? [{ ground, place: frame.placeToWorld(place), kind: 'peg' as const }] : []
  })
}

function ofThing(desk: Desk, at: Pointer, passes: (one: InstanceAt) => boolean): Candidate[] {
  const found = thingUnder(desk, at)
  if (!found) return []
  const one = instanceAt(found)
  if (passes(one)) return []
  return [{ ground: one.ground, place: one.place, kind: 'pivot' }, ...boxCorners(desk, one).map((place): Candidate => ({ ground: one.ground, place, kind: 'box' }))]
}

/** The corners of the box around a thing, as it stands. */
export function boxCorners({ session }: Pick<Desk, 'session'>, { asset, place, turn, size }: Pick<InstanceAt, 'asset' | 'place' | 'turn' | 'size'>): Vector[] {
  const box = session.meadow().assets.find(({ number }) => number === asset)?.size
  if (!box) return []
  return Array.from({ length: 8 }, (_, k): Vector => {
    const [x, y, z] = turned(turn, [(k & 1 ? 0.5 : -0.5) * box[0] * size[0], k & 2 ? box[1] * size[1] : 0, (k & 4 ? 0.5 : -0.5) * box[2] * size[2]])
    return [place[0] + x, place[1] + y, place[2] + z]
  })
}

/** The nearest to the pointer of what is within reach of it, the feature of a mesh that is seen among them. */
function nearest({ view }: Pick<Desk, 'view'>, { x, y }: Pointer, seen: Seen | null, others: readonly Candidate[]): Seen | null {
  const off = ([px, py, pz]: Vector) => {
    const at = view.project(px, pz, py)
    return at ? Math.hypot(at[0] - x, at[1] - y) : Infinity
  }
  let best: Seen | null = seen?.on ? seen : null
  let least = best ? off([best.place.x, best.place.y, best.place.z]) : REACH
  for (const { ground, place, kind } of others) {
    const away = off(place)
    if (away > Math.min(least, REACH)) continue
    least = away
    best = { ground, place: { x: place[0], y: place[1], z: place[2], normal: null }, on: { kind, direction: null } }
  }
  return best
}

/** A place of the terrain where lines of the grid cross, where there is a grid; else as it is. */
function onGrid({ session }: Pick<Desk, 'session'>, seen: Seen, { grid, gridEast, gridSouth }: SnapValues): Seen {
  if (grid <= 0 || seen.ground !== TERRAIN_ID) return seen
  const [x, z] = [gridEast + stepped(seen.place.x - gridEast, grid), gridSouth + stepped(seen.place.z - gridSouth, grid)]
  return { ground: seen.ground, place: { x, y: terrainHeight(session)(x, z), z, normal: null }, on: { kind: 'grid', direction: null } }
}

const WORDS: Readonly<Record<SnappedTo['kind'], string>> = {
  corner: 'a corner',
  edge: 'the middle of an edge',
  face: 'the centre of a face',
  peg: 'a peg',
  pivot: 'where a thing stands',
  box: 'a corner of a thing’s box',
  grid: 'the grid',
}

/** "a corner of Hut". */
function wordsOf({ session }: Pick<Desk, 'session'>, { ground, on }: Seen): string {
  const of = on && ['corner', 'edge', 'face'].includes(on.kind) ? session.meadow().meshes.find(({ id }) => id === ground)?.name : undefined
  return on ? `${WORDS[on.kind]}${of ? ` of ${of}` : ''}` : ''
}
