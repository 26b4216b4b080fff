import type { Vector } from '../../core/hand/frames.ts'
import type { InstanceAt } from '../../document/edits/hands.ts'
import type { RowOf } from '../../state/chosen.ts'
import { instanceAt } from '../../state/chosen.ts'
import { dragEdits } from '../../state/own-task.ts'
import type { Desk, Pointer } from '../define.ts'
import { groundsSeen } from '../eyes.ts'
import { createSnapper } from '../snap/snapper.ts'
import type { Held } from './acts.ts'
import { changeHeld, hold, movedBy } from './acts.ts'
import { copyTo, keepStep } from './duplicate.ts'
import { gripOf } from './grip.ts'

/** Up to so many things follow a drag themselves; of more, their marks do. */
const MOST_LIVE = 120

/** A drag of what is chosen. */
interface Moving {
  /** Where over the ground it was pressed, and by which place of the thing it is held. */
  readonly from: readonly [number, number]
  readonly grip: Vector
  /** Whether copies are moved, and what is chosen stays. */
  readonly copies: boolean
  held: Held | null
  /** Over the ground, where nothing is near to set it to; else to a place, straight through space. */
  to: { readonly by: readonly [number, number] } | { readonly place: Vector } | null
  /** Whether it has been let go of. */
  over: boolean
}

/** Moves what is chosen, or copies of it, with the pointer. */
export interface Mover {
  moves(): boolean
  /** Takes hold by a thing where the pointer was pressed on it. */
  start(at: Pointer, thing: RowOf): void
  drag(at: Pointer): void
  release(at: Pointer): void
  /** The pointer was taken away: what has been moved stays so. */
  cancel(): void
}

export function createMover(desk: Desk): Mover {
  const { session, view, state } = desk
  let moving: Moving | null = null
  const snapper = createSnapper(desk, ({ planting, low, high }) => state.getState().chosen.get(planting)?.has(low, high) ?? false)

  /** Where the pointer means it to go; told soon. */
  function aim(own: Moving, at: Pointer, how: 'look' | 'sure', then: () => void): void {
    snapper[how](at, groundsSeen(session.meadow()), (seen) => {
      const on = seen?.on ? null : view.pick(at.x, at.y)
      if (seen?.on) own.to = { place: [seen.place.x, seen.place.y, seen.place.z] }
      else if (on) own.to = { by: [on.x - own.from[0], on.z - own.from[1]] }
      then()
    })
  }

  /** How a drag moves one thing. */
  function movedTo({ to, grip }: Moving): ((at: InstanceAt) => { readonly place: Vector }) | null {
    if (!to) return null
    if ('by' in to) return to.by[0] !== 0 || to.by[1] !== 0 ? movedBy(session, [to.by[0], 0, to.by[1]]) : null
    return ({ place }) => ({ place: [place[0] + to.place[0] - grip[0], place[1] + to.place[1] - grip[1], place[2] + to.place[2] - grip[2]] })
  }

  function write(own: Moving): void {
    const { held, copies } = own
    const move = movedTo(own)
    if (!held || !move) return
    if (!copies) changeHeld(session, held, 'Move', move)
    else state.setState({ ghost: held.instances.slice(0, MOST_LIVE).map((one) => ({ asset: one.asset, stand: { ...one, ...move(one) } })) })
  }

  function finish(own: Moving): void {
    dragEdits.flush()
    snapper.end()
    const { held, copies } = own
    const move = movedTo(own)
    if (!copies) return write(own)
    state.setState({ ghost: [] })
    if (!held || !move) return
    const last = copyTo(session, held.instances, move)
    if (last) state.setState({ chosen: last })
    keepStep(state, held.instances[0], move(held.instances[0]))
  }

  return {
    moves: () => moving !== null,
    start(at, thing) {
      const on = view.pick(at.x, at.y)
      if (!on) return
      const own: Moving = { from: [on.x, on.z], grip: gripOf(desk, at, instanceAt(thing)), copies: at.alt, held: null, to: null, over: false }
      moving = own
      void hold(session, state.getState().chosen).then((held) => {
        own.held = held
        if (own.over) finish(own)
      })
    },
    drag(at) {
      const own = moving
      if (!own) return
      aim(own, at, 'look', () => {
        if (moving === own && own.held && own.held.instances.length <= MOST_LIVE) dragEdits.ask(() => write(own))
      })
    },
    release(at) {
      const own = moving
      moving = null
      if (!own) return
      // What is near may only now be found.
      aim(own, at, 'sure', () => {
        own.over = true
        if (own.held) finish(own)
      })
    },
    cancel() {
      const own = moving
      moving = null
      snapper.end()
      if (!own) return
      own.over = true
      if (own.held) finish(own)
    },
  }
}
