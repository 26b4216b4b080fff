import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { Planting } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import type { Seen } from '../../core/plantings/ask.ts'
import { setSown } from '../../document/edits/strokes.ts'
import { notify } from '../../state/notices.ts'
import type { ActiveTool, Desk, Pointer } from '../define.ts'
import { openOf, setToolValue, stepOfKey } from '../define.ts'
import type { Eyes } from '../eyes.ts'
import { createEyes } from '../eyes.ts'
import { placeOne } from '../place/stand.ts'
import type { Pass } from './pass.ts'
import { startPass } from './pass.ts'
import { BRUSH_ENDS, numbersOf } from './settings.ts'
import type { SowValues } from './settings.ts'
import type { Touches } from './touches.ts'
import { touchesOf } from './touches.ts'
import { underBrush } from './under-brush.ts'

/** One turn of the wheel, or one key, changes the width by this factor and shares by this much. */
const STEP = { width: 1.15, share: 0.05 }
/** Straight strokes are looked at every so many px. */
const STRAIGHT = 8
/** A press that moves less is a click, px; a pass that was called off before the pointer had moved farther was not meant. */
const CLICK = 4
const MEANT = 12

const HELP = 'a click places one, a drag paints, with Shift straight, with Alt takes away; , and . or Shift and wheel change the width; Esc ends'

/** A press of the brush, and the pass that it paints once it does. */
interface Drawn {
  readonly from: Pointer
  readonly act: SowValues['act']
  pass: Pass | null
  /** What is looked at in its order, as meshes are asked in a worker. */
  turn: Promise<unknown>
  touched: Touches | null
  /** Where it was last. */
  end: Seen | null
}

/** The brush in hand: what it shows, and what it paints. */
interface Brushing extends Desk {
  readonly values: () => SowValues
  readonly eyes: Eyes
  /** Where the last stroke or click ended: Shift and a click go on from there. */
  ended: Seen | null
}

export function brushing(desk: Desk, values: () => SowValues): ActiveTool {
  const brush: Brushing = { ...desk, values, eyes: createEyes(desk), ended: null }
  const { state } = desk
  let drawn: Drawn | null = null
  let last: Pointer | null = null

  function look(at: Pointer): void {
    last = at
    const act = actNow(brush, at)
    brush.eyes.look(at, groundsNow(brush, act), (seen) => void show(brush, seen, act))
  }

  return {
    words: () => `${state.getState().brush?.touches ?? 'Over its ground'}: ${HELP}`,
    press(at) {
      drawn = begin(brush, at)
      return true
    },
    drag(at) {
      if (drawn && (drawn.pass || at.moved > CLICK)) paint(brush, drawn, at)
    },
    release(at) {
      if (drawn) finish(brush, drawn, at)
      drawn = null
    },
    cancel() {
      const own = drawn
      drawn = null
      // What was painted until the pointer was lost is seen, and stays; what was hardly begun was not meant.
      if (own) void own.turn.then(() => (last && Math.hypot(last.x - own.from.x, last.y - own.from.y) > MEANT ? own.pass?.end() : own.pass?.giveUp()))
    },
    hover: (at) => (at ? look(at) : state.setState({ brush: null })),
    wheel(steps, { shift, alt }) {
      change(brush, shift && alt ? 'strength' : alt ? 'soft' : 'width', -steps)
      if (last) look(last)
      return true
    },
    key(event) {
      const steps = stepOfKey(event)
      if (steps === 0) return false
      change(brush, event.altKey ? 'strength' : event.shiftKey ? 'soft' : 'width', steps)
      if (last) look(last)
      return true
    },
    escape() {
      if (!drawn) return false
      drawn.pass?.giveUp()
      drawn = null
      return true
    },
    end: () => state.setState({ brush: null }),
  }
}

/** What the brush does: with Alt it takes away what it would sow, or sows. */
function actNow({ values }: Brushing, { alt }: Pick<Pointer, 'alt'>): SowValues['act'] {
  return !alt ? values().act : values().act === 'sow' ? 'clear' : 'sow'
}

/** The grounds that it can lie on. */
function groundsNow(brush: Brushing, act: SowValues['act']): readonly string[] {
  const open = openOf(brush)
  if (open && (act === 'sow' || brush.values().of === 'open')) return open.grounds
  return [...new Set(brush.session.meadow().plantings.flatMap(({ grounds }) => grounds))]
}

function touchesAt({ session, state, values }: Brushing, { place: { x, y, z }, ground }: Seen, act: SowValues['act']): Touches {
  const { width, of, asset } = values()
  const meadow = session.meadow()
  const under = underBrush(session.instances, meadow.plantings, { place: [x, y, z], radius: width / 2, solid: ground !== TERRAIN_ID })
  return touchesOf(meadow, state.getState().open, { of, asset }, act, under, ground)
}

/** Shows the brush where it lies now, with its numbers, and tells what it touches there. */
function show(brush: Brushing, seen: Seen | null, act: SowValues['act']): Touches | null {
  const { state, values } = brush
  if (!seen) {
    state.setState({ brush: null })
    return null
  }
  const { width, soft } = values()
  const touches = touchesAt(brush, seen, act)
  const { x, y, z, normal } = seen.place
  state.setState({ brush: { place: [x, y, z], normal, radius: width / 2, soft, act, label: numbersOf({ ...values(), act }), touches: touches.words, idle: touches.plantings.length === 0 } })
  return touches
}

/** Begins a press; null where the brush can do nothing, which is told. */
function begin(brush: Brushing, at: Pointer): Drawn | null {
  const act = actNow(brush, at)
  const refusal = whyNot(openOf(brush), act, brush.values())
  if (refusal) {
    notify('word', refusal)
    return null
  }
  const own: Drawn = { from: at, act, pass: null, turn: Promise.resolve(), touched: null, end: null }
  // A click with the brush that sows places one thing; whatever takes away does so at once.
  if (act !== 'sow' && !at.shift) paint(brush, own, at)
  return own
}

function passOf({ session, values }: Brushing, own: Drawn): Pass {
  const { width, soft, strength, left, of, asset } = values()
  const { act } = own
  const only = act !== 'sow' && of === 'asset' ? [asset] : []
  return (own.pass ??= startPass(session, { act, width, soft, strength: act === 'thin' ? 1 - 1 / left : strength, only }, () => performance.now()))
}

/** Takes the stroke on to the pointer. */
function paint(brush: Brushing, own: Drawn, at: Pointer): void {
  const pass = passOf(brush, own)
  const straight = at.shift && at.moved > MEANT
  const sights = straight ? between(own.from, at) : own.end === null && at.moved > CLICK ? [own.from, at] : [at]
  const go = (places: readonly (Seen | null)[]) => {
    const there = places.filter((one) => one !== null)
    const end = there.at(-1)
    const touches = show(brush, end ?? null, own.act)
    if (!end || !touches) return
    own.end = end
    if (touches.plantings.length > 0 || !own.touched) own.touched = touches
    const ids = touches.plantings.map(({ id }) => id)
    if (straight) pass.through(there, at.pressure, ids)
    else for (const one of there) pass.to(one, at.pressure, ids)
  }
  const seen = brush.eyes.see(sights, groundsNow(brush, own.act))
  if (seen instanceof Promise) own.turn = own.turn.then(async () => go(await seen))
  else go(seen)
}

/** The press was let go: ends the pass, or places one, or goes on straight from where the last one ended. */
function finish(brush: Brushing, own: Drawn, at: Pointer): void {
  if (own.pass === null) {
    const seen = brush.eyes.see([at], groundsNow(brush, own.act))
    void Promise.resolve(seen).then(([one]) => click(brush, own, at, one ?? null))
    return
  }
  void own.turn.then(() => told(brush, own))
}

function click(brush: Brushing, own: Drawn, at: Pointer, seen: Seen | null): void {
  const open = openOf(brush)
  if (!seen) return told(brush, own)
  if (at.shift && brush.ended) {
    const touches = touchesAt(brush, seen, own.act)
    passOf(brush, own).through([brush.ended, seen], at.pressure, touches.plantings.map(({ id }) => id))
    own.touched = touches
    own.end = seen
    return told(brush, own)
  }
  brush.ended = seen
  if (own.act === 'sow' && open) placeOne(brush.session, open, seen)
}

/** Ends a pass, and says so where it has done nothing. */
function told(brush: Brushing, own: Drawn): void {
  const { state } = brush
  if (own.end) brush.ended = own.end
  if (own.pass?.end()) return own.act === 'sow' ? tellRule(brush) : undefined
  const { touched } = own
  if (!touched) return notify('word', 'There is no ground there that it grows on; paint over its ground.')
  const { wider } = touched
  notify('word', `${touched.words}.`, wider ? { label: 'Take all plantings', run: () => Object.entries(wider).forEach(([param, value]) => setToolValue(state, 'sow', param, value)) } : undefined)
}

/** What grows everywhere by rule gains nothing by sowing, but where it was cleared. */
function tellRule(brush: Brushing): void {
  const { session } = brush
  const open = openOf(brush)
  if (!open || PLANTINGS.get(open.kind).base === 0 || session.meadow().strokes.some(({ planting, act }) => planting === open.id && act !== 'sow')) return
  notify('word', `“${open.name}” grows by rule wherever its conditions let it, so that sowing adds nothing.`, { label: 'Grow only where it is sown', run: () => setSown(session, open.id, true) })
}

function change({ values, state }: Brushing, what: 'width' | 'soft' | 'strength', steps: number): void {
  const now = values()
  if (what === 'strength' && now.act === 'thin') return setToolValue(state, 'sow', 'left', Math.max(2, now.left - steps))
  const { min, max } = BRUSH_ENDS[what]
  const wanted = what === 'width' ? now.width * STEP.width ** steps : now[what] + STEP.share * steps
  setToolValue(state, 'sow', what, Number(Math.max(min, Math.min(max, wanted)).toPrecision(3)))
}

/** Why the brush can do nothing now; null when it can. */
function whyNot(open: Planting | undefined, act: SowValues['act'], { of, asset }: SowValues): string | null {
  if (act !== 'sow' && of === 'all') return null
  if (act !== 'sow' && of === 'asset') return asset === '' ? 'Choose the asset that is to be cleared or thinned.' : null
  if (!open) return 'Open a planting first, by a click on its name: the brush sows that one.'
  if (open.locked) return `“${open.name}” is locked; unlock it first.`
  if (!open.visible) return `“${open.name}” is hidden, so that nothing of it would be seen; show it first.`
  if (open.mix.length === 0) return `The mix of “${open.name}” is empty; add an asset under What.`
  return null
}

/** Places of the picture on the straight way between two. */
function between(from: Pointer, to: Pointer): Pointer[] {
  const pieces = Math.max(1, Math.ceil(Math.hypot(to.x - from.x, to.y - from.y) / STRAIGHT))
  return Array.from({ length: pieces + 1 }, (_, k) => ({ ...to, x: from.x + ((to.x - from.x) * k) / pieces, y: from.y + ((to.y - from.y) * k) / pieces }))
}
