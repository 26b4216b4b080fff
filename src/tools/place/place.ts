import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { Stand } from '../../core/hand/frames.ts'
import { choice, length, number, ref, share } from '../../core/kinds.ts'
import type { ValuesOf } from '../../core/kinds.ts'
import type { Asset } from '../../core/meadow.ts'
import type { Seen } from '../../core/plantings/ask.ts'
import type { ActiveTool, Desk, Pointer } from '../define.ts'
import { defineTool, openOf, setToolValue, stepOfKey } from '../define.ts'
import { createSnapper } from '../snap/snapper.ts'
import { terrainHeight } from '../choose/acts.ts'
import { mostOf } from '../of-mix.ts'
import { groundsSeen } from '../eyes.ts'
import { putThings, setPeg } from './put.ts'
import { markThing, putBase, putBaseOnThing } from './put-base.ts'
import { rowBetween } from './row-between.ts'
import type { Look } from './stand.ts'
import { createLooks } from './looks.ts'
import { standOf } from './stand.ts'

const PARAMS = {
  asset: ref('asset', { label: 'What', help: 'The asset that is placed; at first the one that the open planting has most of.' }),
  manner: choice('one', [{ value: 'one', label: 'one by one' }, { value: 'row', label: 'in a row' }, { value: 'peg', label: 'pegs to set things to' }, { value: 'base', label: 'what the open pattern stands on' }], { label: 'How many', help: 'One with each click, a straight row between two clicks, helper points that things are set to, or the place that a row or ring stands on.' }),
  on: choice('ground', [{ value: 'ground', label: 'what lies there' }, { value: 'foot', label: 'the foot of a thing' }, { value: 'top', label: 'the top of a thing' }], { label: 'It stands on', help: 'The ground, a mesh, a peg that is there; or a thing that stands there: where that is moved, the pattern goes along.', shownWhen: { param: 'manner', is: ['base'] } }),
  count: number('count', 10, { label: 'Things in the row', help: 'How many stand in a row, at both ends too.', min: 2, max: 10000, step: 1, shownWhen: { param: 'manner', is: ['row'] } }),
  uneven: share(0, { label: 'Uneven by', help: 'How far those of a row come to stand from their places along it, in shares of the spacing.', step: 0.05, shownWhen: { param: 'manner', is: ['row'] } }),
  aside: length(0, { label: 'Aside by up to', help: 'How far those of a row come to stand to its sides.', max: 1000, step: 0.05, shownWhen: { param: 'manner', is: ['row'] } }),
  drawn: choice('random', [{ value: 'random', label: 'at random' }, { value: 'shown', label: 'as shown' }], { label: 'Turned and sized', help: 'At random, as the planting says how things stand, or just so as it was shown last.' }),
  stands: choice('upright', [{ value: 'upright', label: 'upright' }, { value: 'slope', label: 'square to the ground' }], { label: 'Stands', help: 'Upright, or square to the ground where it is placed.' }),
  lift: length(0, { label: 'Off the ground', help: 'How far it is lifted off the ground, or below 0 sunk into it.', min: -100, max: 100, step: 0.05 }),
  along: choice('up', [{ value: 'up', label: 'straight up' }, { value: 'normal', label: 'square to the ground' }], { label: 'Lifted', help: 'Which way it is lifted.' }),
  spacing: length(1, { label: 'Spacing of a run', help: 'How far apart things come while Shift is held and the pointer dragged.', min: 0.05, max: 1000, step: 0.1 }),
}

export type PlaceValues = ValuesOf<typeof PARAMS>

/** What is set by a click and is no thing. */
const NO_THINGS: readonly PlaceValues['manner'][] = ['peg', 'base']

/** What is aimed at: a pattern stands on anything that is seen, and pegs are set to it; things come to stand on grounds. */
function groundsFor(desk: Desk, manner: PlaceValues['manner']): string[] {
  const meadow = desk.session.meadow()
  if (NO_THINGS.includes(manner)) return groundsSeen(meadow)
  return [...new Set([...(openOf(desk)?.grounds ?? []), TERRAIN_ID, ...meadow.meshes.filter(({ role }) => role === 'ground').map(({ id }) => id)])]
}

export const place = defineTool({
  kind: 'place',
  label: 'Place',
  keys: 'X',
  help: 'Place things one by one, just where and as they are shown, or in a straight row.',
  place: 2,
  drawing: 'M8 1.5 V9 M5.5 6.5 L8 9 L10.5 6.5 M2 11.5 C5 9.5 11 9.5 14 11.5 M3.5 14 H12.5',
  cursor: 'crosshair',
  grips: false,
  cross: true,
  snaps: true,
  params: PARAMS,
  sentence: ({ manner }) => (manner === 'peg' ? [{ param: 'manner' }] : manner === 'base' ? [{ param: 'manner' }, ': ', { param: 'on' }] : [
    { param: 'asset' },
    ' ',
    { param: 'manner' },
    ...(manner === 'row' ? [' of ', { param: 'count' }, ', uneven by ', { param: 'uneven' }, ', aside by up to ', { param: 'aside' }] : [' (a run every ', { param: 'spacing' }, ')']),
    ', turned and sized ',
    { param: 'drawn' },
    ', ',
    { param: 'stands' },
    ', ',
    { param: 'lift' },
    ' off the ground, ',
    { param: 'along' },
  ]),
  begin(desk, values) {
    const open = openOf(desk)
    if (!open) return 'Open a planting first, by a click on its name: what is placed belongs to it.'
    const { asset } = values()
    const { assets } = desk.session.meadow()
    if (!assets.some(({ id }) => id === asset)) {
      const most = mostOf(open, assets)
      if (most === undefined) return 'The nursery is empty; bring in a model first.'
      setToolValue(desk.state, 'place', 'asset', most)
    }
    return placing(desk, values)
  },
})

/** Degrees that a drag turns by for each px sideways, and the px up or down that size by a factor of e. */
const TURNED = 0.75
const SIZED = 220
const DRAGGED = 5

function placing(desk: Desk, values: () => PlaceValues): ActiveTool {
  const { session, state } = desk
  const snapper = createSnapper(desk)
  const looks = createLooks(desk, () => values().drawn)
  let seen: Seen | null = null
  let held: { readonly from: Pointer; readonly at: Seen; readonly look: Look; run: Seen[] | null } | null = null
  /** Where a row begins. */
  let anchor: Seen | null = null

  const grounds = () => groundsFor(desk, values().manner)
  const assetNow = (): Asset | undefined => session.meadow().assets.find(({ id }) => id === values().asset)
  const standAt = (at: Seen, own: Look): Stand => standOf(values(), at, own)

  /** What a press would place now. */
  function meant(): readonly { readonly stand: Stand; readonly ground: string }[] {
    if (held?.run) return held.run.map((at, k) => ({ stand: standAt(at, looks.of(k)), ground: at.ground }))
    if (!seen) return []
    if (values().manner === 'row' && anchor) return rowBetween(anchor, seen, { ...values(), dice: (k) => looks.of(k).dice }, terrainHeight(session)).map((at, k) => ({ stand: standAt(at, looks.of(k)), ground: at.ground }))
    return [{ stand: standAt(held?.at ?? seen, looks.now()), ground: (held?.at ?? seen).ground }]
  }

  function show(): void {
    const asset = assetNow()
    state.setState({ ghost: asset && !NO_THINGS.includes(values().manner) ? meant().map(({ stand }) => ({ asset: asset.number, stand })) : [] })
  }

  function put(): void {
    putThings(desk, assetNow(), meant(), anchor !== null)
    looks.again()
  }

  function change(by: Partial<Look>): void {
    looks.change(by)
    show()
  }

  /** A press is over: what it means is placed, or begins a row. */
  function settle(): void {
    if (values().manner === 'peg') setPeg(session, seen)
    else if (values().manner === 'base') putBase(desk, seen, held?.from)
    else if (values().manner === 'row' && !held?.run && !anchor && seen) anchor = seen
    else {
      put()
      anchor = null
    }
    held = null
    show()
  }

  /** Whether a pattern is to be stood on a thing, not on ground. */
  const onThing = () => values().manner === 'base' && values().on !== 'ground'

  return {
    words: () => wordsFor(values(), anchor !== null),
    hover(at) {
      if (!at) {
        seen = null
        return state.setState({ ghost: [] })
      }
      if (onThing()) return markThing(desk, at, values().on)
      snapper.look(at, grounds(), (found) => {
        seen = found
        show()
      })
    },
    press(at) {
      if (onThing()) {
        putBaseOnThing(desk, at, values().on)
        return true
      }
      // What is seen may lag behind the pointer: a press asks anew.
      snapper.sure(at, grounds(), (found) => {
        seen = found
        if (held?.from === at && found) held = { ...held, at: found }
      })
      if (seen) held = { from: at, at: seen, look: looks.now(), run: null }
      return true
    },
    drag(at) {
      const own = held
      if (!own || at.moved <= DRAGGED || NO_THINGS.includes(values().manner)) return
      if (at.shift || own.run) {
        own.run ??= [own.at]
        snapper.look(at, grounds(), (found) => {
          if (!found || !own.run) return
          if (awayFrom(own.run[own.run.length - 1], found) >= values().spacing) own.run.push(found)
          show()
        })
        return
      }
      change({ turn: own.look.turn + (at.x - own.from.x) * TURNED, size: Math.max(0.05, own.look.size * Math.exp((own.from.y - at.y) / SIZED)) })
    },
    release(at) {
      if (onThing()) return
      const turned = held?.run ?? (at.moved > DRAGGED ? held?.at : null)
      if (turned) return settle()
      snapper.sure(at, grounds(), (found) => {
        seen = found
        if (held && found) held = { ...held, at: found }
        settle()
      })
    },
    cancel() {
      held = null
      show()
    },
    ...turnedByHand(looks.now, change),
    escape() {
      if (!held && !anchor) return false
      held = null
      anchor = null
      show()
      return true
    },
    end() {
      snapper.end()
      state.setState({ ghost: [] })
    },
  }
}

/** Keys and the wheel turn what is about to be placed, with Alt they size it. */
function turnedByHand(now: () => Look, change: (by: Partial<Look>) => void): Pick<ActiveTool, 'key' | 'wheel'> {
  return {
    key(event) {
      const { altKey, shiftKey } = event
      const steps = stepOfKey(event)
      if (steps !== 0) change(altKey ? { size: now().size * 1.05 ** steps } : { turn: now().turn + steps * (shiftKey ? 1 : 15) })
      return steps !== 0
    },
    wheel(steps, { alt }) {
      change(alt ? { size: now().size * 1.05 ** -steps } : { turn: now().turn + steps * 5 })
      return true
    },
  }
}

/** What a click does now. */
function wordsFor({ manner, on }: PlaceValues, begun: boolean): string {
  if (manner === 'peg') return 'Click sets a peg; things are set to pegs where Snap is on; Esc ends'
  if (manner === 'base') return on === 'ground' ? 'Click where the open row or ring is to stand: the ground, a mesh, with Snap on its faces, edges and corners; Esc ends' : 'Click the thing that the open row or ring is to stand on; Esc ends'
  return begun ? 'Click where the row ends; Esc lets go of its beginning' : 'Click places it; drag before letting go turns and sizes it, with Shift places a run; , and . turn, with Alt size; Esc ends'
}

/** How far one place is from another, m. */
function awayFrom({ place: a }: Seen, { place: b }: Seen): number {
  return Math.hypot(b.x - a.x, b.y - a.y, b.z - a.z)
}
