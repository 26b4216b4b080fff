import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { Sight } from '../../core/grounds/ground.ts'
import type { Vector } from '../../core/hand/frames.ts'
import type { Quaternion } from '../../core/math/quaternion.ts'
import { multiply, NO_TURN, normalised, turned } from '../../core/math/quaternion.ts'
import { cross } from '../../core/math/vector.ts'
import type { Becomes, InstanceAt } from '../../document/edits/hands.ts'
import type { Chosen } from '../../state/chosen.ts'
import { factsOf, instanceAt, onlyOne, standing } from '../../state/chosen.ts'
import { withGroups } from '../../state/groups.ts'
import type { FieldSession } from '../../state/field-session.ts'
import type { Drawn, HandleWay } from '../../state/field-tool.ts'
import { dragEdits } from '../../state/own-task.ts'
import type { Desk, MarksMoved, Pointer } from '../define.ts'
import { valuesOfTool } from '../define.ts'
import type { GripKind } from '../grips/define.ts'
import { snapValues, stepped } from '../snap/settings.ts'
import type { Held } from './acts.ts'
import { changeHeld, hold, middleOf, terrainHeight, turnAbout } from './acts.ts'
import { alongAxis, angleAbout, onPlane, plus } from './handle-math.ts'
import type { ChooseValues } from './settings.ts'
import { CHOOSE } from './settings.ts'
import { thingUnder } from './under.ts'

/** Where handles are: the middle of what is chosen, and the axes they go by. */
export interface HandleFrame {
  readonly at: Vector
  readonly axes: Readonly<Record<'x' | 'y' | 'z', Vector>>
}

const WORLD: HandleFrame['axes'] = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] }
const LETTERS = ['x', 'y', 'z'] as const
/** Up to so many things follow a handle themselves; of more, their marks do. */
export const MOST_LIVE = 120
/** A press that moves no farther is a click, px. */
const STILL = 3
/** A drag sideways of so many px sizes by a factor of e. */
const SIZED = 180

export function chooseValues(state: Desk['state']): ChooseValues {
  return valuesOfTool(CHOOSE, state) as ChooseValues
}

/** Of more things than this, handles go by the world's axes whatever their own are. */
const MOST_OWN = 1000

/** Where the handles of what is chosen are, and by which axes they go: own ones are those of the first. */
export function handleFrame(session: FieldSession, chosen: Chosen, axes: ChooseValues['axes']): HandleFrame | null {
  const { there, places } = factsOf(session.instances, chosen)
  if (there === 0) return null
  const sum = [0, 0, 0]
  for (let k = 0; k < places.length; k++) sum[k % 3] += places[k]
  const turn = axes === 'own' && there <= MOST_OWN ? standing(session.instances, chosen)[0].turn : NO_TURN
  return { at: [sum[0] / there, sum[1] / there, sum[2] / there], axes: { x: turned(turn, WORLD.x), y: turned(turn, WORLD.y), z: turned(turn, WORLD.z) } }
}

/** What becomes of each thing where a handle was drawn so far. */
export function drawnTo(session: FieldSession, instances: readonly InstanceAt[], { axes, about }: Pick<ChooseValues, 'axes' | 'about'>, drawn: Drawn): (at: InstanceAt) => Becomes {
  const middle = middleOf(instances)
  const height = terrainHeight(session)
  const { what, way, move, degrees, factor } = drawn
  if (what === 'move')
    return (at) => {
      const by = axes === 'own' ? turned(at.turn, move) : move
      const [x, y, z] = plus(at.place, by)
      const rise = axes === 'ground' && at.ground === TERRAIN_ID ? height(x, z) - height(at.place[0], at.place[2]) : 0
      return { place: [x, y + rise, z] }
    }
  if (what === 'turn')
    return (at) => {
      const axis = axisOf(at, way, axes)
      const turn = turnAbout(axis, degrees)
      const from: Vector = [at.place[0] - middle[0], at.place[1] - middle[1], at.place[2] - middle[2]]
      return { turn: normalised(multiply(turn, at.turn)), ...(about === 'middle' && { place: plus(middle, turned(turn, from)) }) }
    }
  return ({ place, size }) => ({
    size: LETTERS.map((letter, c) => size[c] * (way === 'all' || way === letter ? factor : 1)) as unknown as Vector,
    ...(about === 'middle' && way === 'all' && { place: plus(middle, [place[0] - middle[0], place[1] - middle[1], place[2] - middle[2]], factor) }),
  })
}

function axisOf({ turn }: InstanceAt, way: HandleWay, axes: ChooseValues['axes']): Vector {
  const axis = WORLD[way === 'x' || way === 'z' ? way : 'y']
  return axes === 'own' ? turned(turn, axis) : axis
}

/** How marks are shown while a handle is drawn and the things do not follow themselves. */
function marksOf({ at, axes }: HandleFrame, { what, way, move, degrees, factor }: Drawn): MarksMoved {
  const by = LETTERS.reduce<Vector>((sum, letter, c) => plus(sum, axes[letter], move[c]), [0, 0, 0])
  const turn: Quaternion = what === 'turn' ? turnAbout(axes[way === 'x' || way === 'z' ? way : 'y'], degrees) : NO_TURN
  return { about: at, turn, size: what === 'size' && way === 'all' ? factor : 1, move: by }
}

/** The number that is told at the handle. */
export function drawnWords({ what, move, degrees, factor }: Drawn): string {
  if (what === 'turn') return `${degrees.toFixed(1)}°`
  if (what === 'size') return `× ${factor.toFixed(2)}`
  return move.filter((one) => one !== 0).map((one) => `${one.toFixed(2)} m`).join(', ') || '0 m'
}

/** What does not change anything yet. */
export function undrawn(what: Drawn['what'], way: HandleWay): Drawn {
  return { what, way, move: [0, 0, 0], degrees: 0, factor: 1 }
}

/** The handles at what is chosen: each moves, turns or sizes it one way. */
export const chosenGrip: GripKind = {
  kind: 'chosen-handle',
  before: true,
  take(desk, [what, way], pressed) {
    const { session, state, view } = desk
    const values = chooseValues(state)
    const { chosen } = state.getState()
    // What is held with Shift or Alt adds to the choice and takes from it.
    const frame = pressed.shift || pressed.alt ? null : handleFrame(session, chosen, values.axes)
    if (!frame) return null
    let held: Held | null = null
    let over = false
    let still = true
    let drawn = undrawn(what as Drawn['what'], way as HandleWay)
    const begun = view.sight(pressed.x, pressed.y)
    const write = () => {
      if (held) changeHeld(session, held, { move: 'Move', turn: 'Turn', size: 'Size' }[drawn.what], drawnTo(session, held.instances, values, drawn))
    }
    const finish = () => {
      dragEdits.flush()
      write()
      view.moveMarks(null)
      state.setState({ drawn: null })
    }
    void hold(session, chosen).then((own) => {
      held = own
      if (over && !still) finish()
    })
    return {
      drag(at) {
        still &&= at.moved <= STILL
        if (still) return
        drawn = drawTo(desk, frame, drawn, { begun, now: view.sight(at.x, at.y), pressed, at })
        state.setState({ drawn })
        if (held && held.instances.length <= MOST_LIVE) dragEdits.ask(write)
        else view.moveMarks(marksOf(frame, drawn))
      },
      release(at) {
        over = true
        // A click means what the handle lies over, if that is anything else.
        const under = still ? thingUnder(desk, at) : null
        if (under && !chosen.get(under.planting)?.has(under.block.idLow[under.row], under.block.idHigh[under.row])) state.setState({ chosen: withGroups(session.meadow().groups, onlyOne(instanceAt(under)), state.getState().entered) })
        else if (held && !still) finish()
      },
    }
  },
}

interface Drag {
  readonly begun: Sight
  readonly now: Sight
  readonly pressed: Pointer
  readonly at: Pointer
}

/** How far a handle has been drawn from where it was pressed to where the pointer is now; in steps where things are set to them. */
function drawTo({ state }: Pick<Desk, 'state'>, { at: centre, axes }: HandleFrame, before: Drawn, { begun, now, pressed, at }: Drag): Drawn {
  const { what, way } = before
  const snap = snapValues(state)
  const on = snap.on && !at.free
  if (what === 'move') {
    const by = moveOf(centre, axes, way, begun, now)
    return by ? { ...before, move: by.map((one) => (on ? stepped(one, snap.grid) : one)) as unknown as Vector } : before
  }
  if (what === 'turn') {
    const axis = axes[way === 'x' || way === 'z' ? way : 'y']
    const u: Vector = axis === axes.y ? axes.x : axes.y
    const [a, b] = [onPlane(begun, centre, axis), onPlane(now, centre, axis)]
    if (!a || !b) return before
    const across: readonly [Vector, Vector] = [u, cross(axis, u)]
    const turned = angleAbout(b, centre, across) - angleAbout(a, centre, across)
    // The shorter way from where it was before, so that it can go round and round.
    const near = turned - 360 * Math.round((turned - before.degrees) / 360)
    return { ...before, degrees: on ? stepped(near, snap.turn) : near }
  }
  const factor = sizeOf(centre, axes, way, begun, now) ?? Math.exp((at.x - pressed.x) / SIZED)
  return { ...before, factor: Math.max(0.01, on ? Math.max(snap.size, stepped(factor, snap.size)) : factor) }
}

/** Metres along the axes that a drag means. */
function moveOf(centre: Vector, axes: HandleFrame['axes'], way: HandleWay, begun: Sight, now: Sight): [number, number, number] | null {
  const own = LETTERS.filter((letter) => way.includes(letter))
  if (own.length === 1) {
    const [a, b] = [alongAxis(begun, centre, axes[own[0]]), alongAxis(now, centre, axes[own[0]])]
    return a === null || b === null ? null : (LETTERS.map((letter) => (letter === own[0] ? b - a : 0)) as [number, number, number])
  }
  const normal = cross(axes[own[0]], axes[own[1]])
  const [a, b] = [onPlane(begun, centre, normal), onPlane(now, centre, normal)]
  if (!a || !b) return null
  return LETTERS.map((letter) => (own.includes(letter) ? axes[letter].reduce((sum, one, c) => sum + one * (b[c] - a[c]), 0) : 0)) as [number, number, number]
}

/** The factor that a drag along an axis means; null for all ways at once. */
function sizeOf(centre: Vector, axes: HandleFrame['axes'], way: HandleWay, begun: Sight, now: Sight): number | null {
  if (way === 'all') return null
  const axis = axes[way as 'x' | 'y' | 'z']
  const [a, b] = [alongAxis(begun, centre, axis), alongAxis(now, centre, axis)]
  return a === null || b === null || Math.abs(a) < 1e-6 ? 1 : b / a
}
