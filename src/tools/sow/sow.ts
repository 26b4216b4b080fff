import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import { choice, length, number, ref, share } from '../../core/kinds.ts'
import type { Phrase, ValuesOf } from '../../core/kinds.ts'
import type { Seen } from '../../core/plantings/ask.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { setSown } from '../../document/edits/strokes.ts'
import { notify } from '../../state/notices.ts'
import type { ActiveTool, Desk, Pointer } from '../define.ts'
import { defineTool, setToolValue } from '../define.ts'
import { createEyes } from '../eyes.ts'
import type { Pass } from './pass.ts'
import { startPass } from './pass.ts'
import type { Touches } from './touches.ts'
import { touchesOf } from './touches.ts'
import { underBrush } from './under-brush.ts'

const PARAMS = {
  act: choice('sow', [{ value: 'sow', label: 'more of' }, { value: 'clear', label: 'none of' }, { value: 'thin', label: 'fewer of' }], { label: 'What the brush does', help: 'Raises how much grows, takes it away, or leaves a share of it.' }),
  of: choice('open', [{ value: 'open', label: 'the open planting' }, { value: 'all', label: 'all plantings' }, { value: 'asset', label: 'one asset' }], {
    label: 'Of what',
    help: 'What is cleared or thinned: the open planting, all that stands under the brush, or one asset of whichever planting.',
    shownWhen: { param: 'act', is: ['clear', 'thin'] },
  }),
  asset: ref('asset', { label: 'Asset', help: 'Only this one is cleared or thinned.', shownWhen: { param: 'of', is: ['asset'] } }),
  width: length(6, { label: 'Width', help: 'How wide the brush is on the ground.', min: 0.05, max: 500, step: 0.25 }),
  soft: share(0.4, { label: 'Soft edge', help: 'Over which share of its radius it fades out.', step: 0.05 }),
  strength: share(1, { label: 'Strength', help: 'How much it does in its middle.', min: 0.01, step: 0.05 }),
  left: number('count', 2, { label: 'Leave one in', help: 'Of so many, thinning leaves one.', min: 2, max: 100, step: 1, shownWhen: { param: 'act', is: ['thin'] } }),
}

export type SowValues = ValuesOf<typeof PARAMS>

export const sow = defineTool({
  kind: 'sow',
  label: 'Sow',
  keys: 'S',
  help: 'Paint a planting over its ground by hand: more of it, none of it, or fewer.',
  place: 3,
  drawing: 'M2 13.5 C5 10 8 14 14 11 M5 9 L5 6 M5 7.5 C3.5 7.5 3 6.5 3 5.5 M5 7 C6.5 7 7 6 7 5 M11 8 V4 M11 6 C9.5 6 9 5 9 4 M11 5.5 C12.5 5.5 13 4.5 13 3.5',
  cursor: 'crosshair',
  grips: false,
  cross: true,
  params: PARAMS,
  sentence: (values, planting) => [...whatPhrase(values, planting), ...howPhrase(values)],
  begin: (desk, values) => brushing(desk, values),
})

function whatPhrase({ act, of }: SowValues, planting: string | null): Phrase {
  if (act === 'sow') return [{ param: 'act' }, ` ${planting ?? 'the open planting'}, `]
  const name = of === 'open' ? ` (${planting ?? 'none is open'}), ` : ', '
  return [{ param: 'act' }, ' ', { param: 'of' }, ...(of === 'asset' ? [' ', { param: 'asset' }] : []), name]
}

function howPhrase({ act }: SowValues): Phrase {
  const edges: Phrase = [{ param: 'width' }, ' wide, soft edge ', { param: 'soft' }]
  return act === 'thin' ? ['leaving one in ', { param: 'left' }, ', ', ...edges] : [...edges, ', strength ', { param: 'strength' }]
}

/** One turn of the wheel, or one key, changes the width by this factor and shares by this much. */
const STEP = { width: 1.15, share: 0.05 }
/** Straight strokes are looked at every so many px. */
const STRAIGHT = 8
/** A pass that was called off before the pointer had moved so far, px, was not meant. */
const MEANT = 12

const HELP = 'drag paints, with Shift straight, with Alt takes away; , and . or Shift and wheel change the width; Esc ends'

interface Drawn {
  readonly pass: Pass
  readonly from: Pointer
  readonly act: SowValues['act']
  /** What is looked at in its order, as meshes are asked in a worker. */
  turn: Promise<unknown>
  touched: Touches | null
}

function brushing(desk: Desk, values: () => SowValues): ActiveTool {
  const { session, state } = desk
  const eyes = createEyes(desk)
  let drawn: Drawn | null = null
  let last: Pointer | null = null
  const actNow = ({ alt }: Pick<Pointer, 'alt'>): SowValues['act'] => (!alt ? values().act : values().act === 'sow' ? 'clear' : 'sow')

  function touchesAt(seen: Seen, act: SowValues['act']): Touches {
    const { width, of, asset } = values()
    const { x, y, z } = seen.place
    const meadow = session.meadow()
    const under = underBrush(session.instances, meadow.plantings, { place: [x, y, z], radius: width / 2, solid: seen.ground !== TERRAIN_ID })
    return touchesOf(meadow, state.getState().open, { of, asset }, act, under, seen.ground)
  }

  /** Shows the brush where it lies now, with its numbers. */
  function show(seen: Seen | null, at: Pointer): void {
    if (!seen) return state.setState({ brush: null })
    const { width, soft } = values()
    const act = actNow(at)
    const { words, plantings } = touchesAt(seen, act)
    const { x, y, z, normal } = seen.place
    state.setState({ brush: { place: [x, y, z], normal, radius: width / 2, soft, act, label: numbersOf({ ...values(), act }), touches: words, idle: plantings.length === 0 } })
  }

  function groundsNow(act: SowValues['act']): readonly string[] {
    const { plantings } = session.meadow()
    const open = plantings.find(({ id }) => id === state.getState().open)
    if (open && (act === 'sow' || values().of === 'open')) return open.grounds
    return [...new Set(plantings.flatMap(({ grounds }) => grounds))]
  }

  function look(at: Pointer): void {
    last = at
    eyes.look(at, groundsNow(actNow(at)), (seen) => show(seen, at))
  }

  function press(at: Pointer): boolean {
    const act = actNow(at)
    const meadow = session.meadow()
    const open = meadow.plantings.find(({ id }) => id === state.getState().open)
    const refusal = whyNot(open, act, values())
    if (refusal) {
      notify('word', refusal)
      return true
    }
    const { width, soft, strength, left, of, asset } = values()
    const only = act !== 'sow' && of === 'asset' ? [asset] : []
    const pass = startPass(session, { act, width, soft, strength: act === 'thin' ? 1 - 1 / left : strength, only }, () => performance.now())
    drawn = { pass, from: at, act, turn: Promise.resolve(), touched: null }
    paint(drawn, at)
    return true
  }

  /** Takes the stroke on to the pointer. */
  function paint(own: Drawn, at: Pointer): void {
    const straight = at.shift && at.moved > MEANT
    const sights = straight ? between(own.from, at) : [at]
    const seen = eyes.see(sights, groundsNow(own.act))
    const go = (places: readonly (Seen | null)[]) => {
      const there = places.filter((one) => one !== null)
      const end = there.at(-1)
      show(end ?? null, at)
      if (!end) return
      const touches = touchesAt(end, own.act)
      if (touches.plantings.length > 0 || !own.touched) own.touched = touches
      const ids = touches.plantings.map(({ id }) => id)
      if (straight) own.pass.through(there, at.pressure, ids)
      else own.pass.to(end, at.pressure, ids)
    }
    if (seen instanceof Promise) own.turn = own.turn.then(async () => go(await seen))
    else go(seen)
  }

  function release(): void {
    const own = drawn
    drawn = null
    if (!own) return
    void own.turn.then(() => {
      if (own.pass.end()) return own.act === 'sow' ? tellRule() : undefined
      const { touched } = own
      if (!touched) return notify('word', 'There is no ground there that it grows on; paint over its ground.')
      const { wider } = touched
      notify('word', `${touched.words}.`, wider ? { label: 'Take all plantings', run: () => Object.entries(wider).forEach(([param, value]) => setToolValue(state, 'sow', param, value)) } : undefined)
    })
  }

  /** What grows everywhere by rule gains nothing by sowing, but where it was cleared. */
  function tellRule(): void {
    const { plantings, strokes } = session.meadow()
    const open = plantings.find(({ id }) => id === state.getState().open)
    if (!open || PLANTINGS.get(open.kind).base === 0 || strokes.some(({ planting, act }) => planting === open.id && act !== 'sow')) return
    notify('word', `“${open.name}” grows by rule wherever its conditions let it, so that sowing adds nothing.`, { label: 'Grow only where it is sown', run: () => setSown(session, open.id, true) })
  }

  function change(what: 'width' | 'soft' | 'strength', steps: number): void {
    const now = values()
    if (what === 'strength' && now.act === 'thin') setToolValue(state, 'sow', 'left', Math.max(2, now.left - steps))
    else {
      const { min, max } = PARAMS[what]
      const wanted = what === 'width' ? now.width * STEP.width ** steps : now[what] + STEP.share * steps
      setToolValue(state, 'sow', what, Number(Math.max(min, Math.min(max, wanted)).toPrecision(3)))
    }
    if (last) look(last)
  }

  return {
    words: () => `${state.getState().brush?.touches ?? 'Over its ground'}: ${HELP}`,
    press,
    drag(at) {
      if (drawn) paint(drawn, at)
    },
    release,
    cancel() {
      const own = drawn
      drawn = null
      // What was painted until the pointer was lost is seen, and stays; what was hardly begun was not meant.
      if (own) void own.turn.then(() => (last && Math.hypot(last.x - own.from.x, last.y - own.from.y) > MEANT ? own.pass.end() : own.pass.giveUp()))
    },
    hover: (at) => (at ? look(at) : state.setState({ brush: null })),
    wheel(steps, { shift, alt }) {
      change(shift && alt ? 'strength' : alt ? 'soft' : 'width', -steps)
      return true
    },
    key({ code, shiftKey, altKey }) {
      const steps = code === 'Comma' ? -1 : code === 'Period' ? 1 : 0
      if (steps !== 0) change(altKey ? 'strength' : shiftKey ? 'soft' : 'width', steps)
      return steps !== 0
    },
    escape() {
      if (!drawn) return false
      drawn.pass.giveUp()
      drawn = null
      return true
    },
    end: () => state.setState({ brush: null }),
  }
}

/** Why the brush can do nothing now; null when it can. */
function whyNot(open: { readonly name: string; readonly locked: boolean; readonly visible: boolean; readonly mix: readonly unknown[] } | undefined, act: SowValues['act'], { of, asset }: SowValues): string | null {
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

function numbersOf({ act, width, soft, strength, left }: SowValues): string {
  const last = act === 'thin' ? `1 in ${left}` : `${Math.round(100 * strength)} %`
  return `${Number(width.toPrecision(3))} m · soft ${Math.round(100 * soft)} % · ${last}`
}
