import { assetsByNumber } from '../../core/meadow.ts'
import { boxOf } from '../../core/outlines/measure.ts'
import type { Chosen, RowOf } from '../../state/chosen.ts'
import { boxOfBlock, chooseWhere, countChosen, instanceAt, joined, NOTHING_CHOSEN, onlyOne, without } from '../../state/chosen.ts'
import type { ActiveTool, Desk, Pointer } from '../define.ts'
import { defineTool, stepOfKey } from '../define.ts'
import { nudged } from '../grips/nudge.ts'
import type { Held } from './acts.ts'
import { changeHeld, hold, movedBy, sizedBy, takeOut, turnedBy } from './acts.ts'
import type { MemberId } from '../../core/things/members.ts'
import { groupMeant, withGroups } from '../../state/groups.ts'
import { PICKING_WORDS, pickFor } from './like.ts'
import { createMover } from './moving.ts'
import type { ChooseValues } from './settings.ts'
import { CHOOSE } from './settings.ts'
import { insideLasso } from './lasso.ts'
import { hiddenByGround } from './seen.ts'
import { thingUnder } from './under.ts'

export const choose = defineTool({
  kind: 'choose',
  label: 'Choose',
  keys: 'E',
  help: 'Pick single things out of the picture, find out what they are, move, turn, size, swap or take them out.',
  place: 1,
  drawing: 'M3 2.5 H9 M11.5 2.5 H13.5 V5 M13.5 7.5 V13.5 H9 M6.5 13.5 H2.5 V8 M2.5 5.5 V2.5 M8 5.5 L8 10.5 M5.5 8 H10.5',
  cursor: 'default',
  grips: false,
  cross: true,
  snaps: true,
  params: CHOOSE.params,
  sentence: () => ['things by a click, or drag ', { param: 'around' }, ' around them, ', { param: 'hidden' }, '; a handle ', { param: 'handles' }, ' them along ', { param: 'axes' }, ', ', { param: 'about' }],
  begin: (desk, values) => choosing(desk, values),
})

/** A press that moves farther than this is a drag, px. */
const DRAGGED = 4
/** What , and . turn by, degrees, and with Ctrl size by: with Shift, plain, with Alt. */
const TURN = { fine: 1, plain: 15, coarse: 45 }
const SIZE = { fine: 1.01, plain: 1.05, coarse: 1.5 }

function choosing(desk: Desk, values: () => ChooseValues): ActiveTool {
  const { session, state } = desk
  let pressed: Pointer | null = null
  let under: RowOf | null = null
  const mover = createMover(desk)
  let line: number[] | null = null

  const find = (at: Pointer) => thingUnder(desk, at)
  const isChosen = ({ planting, block, row }: RowOf) => state.getState().chosen.get(planting)?.has(block.idLow[row], block.idHigh[row]) ?? false
  const put = (chosen: Chosen) => state.setState({ chosen })

  /** Takes what was picked into the choice, by the modifiers that mean the same everywhere. */
  function take(picked: Chosen, { shift, alt }: Pick<Pointer, 'shift' | 'alt'>): void {
    const { chosen, entered } = state.getState()
    const whole = withGroups(session.meadow().groups, picked, entered)
    put(shift ? joined(chosen, whole) : alt ? without(chosen, whole) : whole)
  }

  /** Enters the group that a thing is in, so that clicks mean what is in it; false where it is in none. */
  function enter(thing: MemberId): boolean {
    const { groups } = session.meadow()
    const { entered } = state.getState()
    const into = groupMeant(groups, thing, entered)
    if (into === null) return false
    state.setState({ entered: into })
    put(withGroups(groups, onlyOne(thing), into))
    return true
  }

  return {
    words() {
      const { chosen, hovered, picking } = state.getState()
      if (picking) return PICKING_WORDS[picking.what]
      if (hovered) return `${wordsOf(desk, hovered)}: click chooses it, with Shift also, with Alt no longer`
      return countChosen(chosen) > 0 ? 'Drag one of them to move all, with Alt copies of them; Ctrl and arrows move, , and . turn, with Ctrl size; Delete takes out, Esc lets them be' : 'Click a thing to choose it, or drag around some; double click takes all of its kind, or enters its group; Esc ends'
    },
    hover(at) {
      const found = at && find(at)
      const { hovered } = state.getState()
      if (found?.block !== hovered?.block || found?.row !== hovered?.row) state.setState({ hovered: found })
    },
    press(at) {
      pressed = at
      under = find(at)
      return true
    },
    drag(at) {
      if (!pressed || at.moved <= DRAGGED) return
      if (!mover.moves() && !line) {
        if (under && isChosen(under) && !at.shift) mover.start(pressed, under)
        else line = [pressed.x, pressed.y]
      }
      if (mover.moves()) {
        mover.drag(at)
      } else if (line) {
        if (values().around === 'box') line = [...line.slice(0, 2), at.x, at.y]
        else line.push(at.x, at.y)
        state.setState({ lasso: [...line] })
      }
    },
    release(at) {
      const drawn = line
      pressed = null
      line = null
      state.setState({ lasso: null })
      const { picking, chosen } = state.getState()
      if (mover.moves()) mover.release(at)
      else if (picking && !drawn) {
        state.setState({ picking: null })
        void pickFor(desk, at, picking, chosen)
      } else if (drawn && drawn.length >= 4) {
        take(chosenInside(desk, values().around === 'box' ? [drawn[0], drawn[1], drawn[2], drawn[1], drawn[2], drawn[3], drawn[0], drawn[3]] : drawn, values().hidden === 'all'), at)
      } else if (under) take(onlyOne(instanceAt(under)), at)
      else if (!at.shift && !at.alt) put(NOTHING_CHOSEN)
    },
    cancel() {
      pressed = null
      line = null
      mover.cancel()
      state.setState({ lasso: null })
    },
    double(at) {
      const found = find(at)
      if (!found || enter(instanceAt(found))) return
      const asset = found.block.asset[found.row]
      put(chooseWhere(session.instances, session.meadow(), ({ planting, block, row }) => planting === found.planting && block.asset[row] === asset))
    },
    key: (event) => changeByKey(desk, event, values),
    escape() {
      const { chosen, picking, entered } = state.getState()
      if (picking) state.setState({ picking: null })
      else if (countChosen(chosen) > 0) put(NOTHING_CHOSEN)
      else if (entered !== null) state.setState({ entered: null })
      else return false
      return true
    },
    end() {
      mover.cancel()
      state.setState({ hovered: null, lasso: null, picking: null, entered: null })
    },
  }
}

/** What stands inside a line around, as the picture shows it; of what the ground hides only with `all`. */
function chosenInside({ session, view }: Desk, line: readonly number[], all: boolean): Chosen {
  const inside = insideLasso(line)
  const { matrix: m, width, height } = view.projection()
  const meadow = session.meadow()
  const assets = assetsByNumber(meadow.assets)
  const bounds = boxOf(line)
  const hidden = all ? () => false : hiddenByGround(view, bounds)
  const [eyeX, eyeY, eyeZ] = view.sight(bounds[0], bounds[1]).origin
  /** Where a place is seen, px; null when it is behind the eye. */
  const seenAt = (x: number, y: number, z: number): readonly [number, number] | null => {
    const w = m[12] * x + m[13] * y + m[14] * z + m[15]
    return w > 0 ? [(0.5 + (0.5 * (m[0] * x + m[1] * y + m[2] * z + m[3])) / w) * width, (0.5 - (0.5 * (m[4] * x + m[5] * y + m[6] * z + m[7])) / w) * height] : null
  }
  const hides = (x: number, y: number, z: number): boolean => {
    const at = seenAt(x, y, z)
    return at === null || hidden(...at, Math.hypot(x - eyeX, y - eyeY, z - eyeZ))
  }
  return chooseWhere(
    session.instances,
    meadow,
    ({ block: { position, asset, scale }, row }) => {
      const [x, y, z] = [position[3 * row], position[3 * row + 1], position[3 * row + 2]]
      const at = seenAt(x, y, z)
      if (!at || !inside(...at)) return false
      // Of what stands behind a hill the top may still be seen.
      return all || !hides(x, y, z) || !hides(x, y + scale[3 * row + 1] * (assets.get(asset[row])?.size[1] ?? 0), z)
    },
    (block) => liesOutside(boxOfBlock(block, assets), { m, width, height }, bounds),
  )
}

/** Whether all corners of a box lie beyond the same side of a rectangle of the picture, or behind the eye. */
function liesOutside(box: Float64Array, { m, width, height }: { readonly m: ArrayLike<number>; readonly width: number; readonly height: number }, [x0, y0, x1, y1]: readonly number[]): boolean {
  let [left, right, above, below, behind] = [0, 0, 0, 0, 0]
  for (let corner = 0; corner < 8; corner++) {
    const [x, y, z] = [box[corner & 1 ? 3 : 0], box[corner & 2 ? 4 : 1], box[corner & 4 ? 5 : 2]]
    const w = m[12] * x + m[13] * y + m[14] * z + m[15]
    const px = (0.5 * w + 0.5 * (m[0] * x + m[1] * y + m[2] * z + m[3])) * width
    const py = (0.5 * w - 0.5 * (m[4] * x + m[5] * y + m[6] * z + m[7])) * height
    // Compared before they are divided, so that corners behind the eye count on their own sides.
    if (px < x0 * w) left++
    if (px > x1 * w) right++
    if (py < y0 * w) above++
    if (py > y1 * w) below++
    if (w <= 0) behind++
  }
  return left === 8 || right === 8 || above === 8 || below === 8 || behind === 8
}

/** Changes what is chosen by a key, one step of undo each; whether the key was meant for it. */
function changeByKey({ session, state }: Desk, event: KeyboardEvent, values: () => ChooseValues): boolean {
  const { chosen } = state.getState()
  if (countChosen(chosen) === 0 || (event.target as Element | null)?.closest('button')) return false
  const way = nudged(event, 0, 0)
  const steps = stepOfKey(event)
  const of = <T>({ fine, plain, coarse }: { fine: T; plain: T; coarse: T }) => (event.shiftKey ? fine : event.altKey ? coarse : plain)
  const command = event.ctrlKey || event.metaKey
  const change = (does: string, become: (held: Held) => Parameters<typeof changeHeld>[3]) => void hold(session, chosen).then((held) => changeHeld(session, held, does, become(held)))
  if (event.key === 'Delete' || event.key === 'Backspace') void takeOut(session, chosen).then((done) => done && state.setState({ chosen: NOTHING_CHOSEN }))
  else if (way && command) change('Move', () => movedBy(session, [way[0], 0, way[1]]))
  else if (steps !== 0 && command) change('Size', ({ instances }) => sizedBy(instances, of(SIZE) ** steps, values().about))
  else if (steps !== 0) change('Turn', ({ instances }) => turnedBy(instances, steps * of(TURN), values().about))
  else return false
  return true
}

/** "Sea thrift of Thrift". */
function wordsOf({ session }: Pick<Desk, 'session'>, { planting, block, row }: RowOf): string {
  const { plantings, assets } = session.meadow()
  const asset = assets.find(({ number }) => number === block.asset[row])?.name ?? 'An asset that is gone'
  const own = plantings.find(({ id }) => id === planting)?.name ?? ''
  return own.toLowerCase() === asset.toLowerCase() ? asset : `${asset} of ${own}`
}
