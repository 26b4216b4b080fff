import { notify } from '../state/notices.ts'
import type { ActiveTool, Desk, Pointer, ToolKind } from './define.ts'
import type { GripKind, Hold } from './grips/define.ts'
import { GRIPS } from './grips/index.ts'
import { TOOLS } from './index.ts'
import { keyCross } from './key-cross.ts'

/** Gives the pointer and the keys to whatever is in hand. Nothing else listens to the pointer over the picture. */
export interface Dispatcher {
  /** Calls back with the pointer where it moves over the picture with no button down, and with null when it leaves. Returns how to stop that. */
  onHover(listener: (at: Pointer | null) => void): () => void
  /** Where the pointer was last seen over the picture; null when it has left. */
  at(): Pointer | null
  /** Steps back one level in the tool in hand, or puts it down. */
  escape(): void
  /** What a click and a drag do now; null when the tool has nothing to say. */
  words(): string | null
  end(): void
}

/** A press that moves farther than this is no click, px. */
const STILL = 4
/** What takes letters for itself. */
const TYPED_INTO = 'input, select, textarea, [contenteditable], [role="dialog"]:not([data-state="closed"]), [role="menu"]:not([data-state="closed"])'
/** Marks what lies over the picture and takes the pointer for itself. */
export const OVER = '[data-over]'

/** What can be taken hold of over the picture, and takes keys while it has the focus. */
const GRIP = 'svg [role="button"]'

interface Press {
  readonly pointer: number
  readonly event: PointerEvent
  readonly from: readonly [number, number]
  moved: number
  /** Who has the pointer: the tool, a grip, or the picture itself. */
  hold: 'tool' | Hold | null
}

export function createDispatcher(frame: HTMLElement, desk: Desk): Dispatcher {
  const { state } = desk
  const hoverers = new Set<(at: Pointer | null) => void>()
  let kind: ToolKind = TOOLS.get('look')
  let tool: ActiveTool = {}
  let press: Press | null = null
  let last: Pointer | null = null

  function take(wanted: string): void {
    tool.end?.()
    tool = {}
    kind = TOOLS.get(wanted)
    const begun = kind.begin(desk)
    if (typeof begun === 'string') {
      notify('word', begun)
      state.setState({ active: 'look' })
      return
    }
    tool = begun
    if (last) tool.hover?.(last)
    frame.style.cursor = kind.cursor
    frame.dataset.tool = kind.kind
    // Who goes by keys goes on where the cross is.
    if (!kind.cross) state.setState({ cross: null })
    // So that the arrow keys are the cross's at once.
    if (kind.cross) frame.focus({ preventScroll: true })
  }
  const hover = (where: Pointer | null) => {
    last = where
    for (const listener of hoverers) listener(where)
    tool.hover?.(where)
  }
  const cross = keyCross(desk, { tool: () => tool, points: () => kind.cross, hover, size: () => [frame.clientWidth, frame.clientHeight] })

  const at = (event: MouseEvent): Pointer => pointerOf(frame, event, press)

  /** With a second finger down both are the picture's, to move and zoom it, which listens further inside; what the first had begun is called off. */
  let handing = false
  function handToPicture(): void {
    if (!press) return
    const { event, hold } = press
    cancel(event)
    if (hold === null) return
    handing = true
    event.target?.dispatchEvent(new PointerEvent('pointerdown', event))
    handing = false
  }
  const down = (event: PointerEvent) => {
    if (event.button !== 0 || isOver(event) || handing) return
    if (press && press.pointer !== event.pointerId) return handToPicture()
    const where = at(event)
    press = { pointer: event.pointerId, event, from: [where.x, where.y], moved: 0, hold: null }
    press.hold = firstHold(desk, event, where) ?? (tool.press?.(where) ? 'tool' : kind.grips ? holdOf(desk, event, where) : null)
    if (press.hold === null) return
    event.stopPropagation()
    frame.setPointerCapture(event.pointerId)
  }
  const move = (event: PointerEvent) => {
    const where = at(event)
    last = where
    if (press?.hold) {
      event.stopPropagation()
      if (press.hold === 'tool') tool.drag?.(where)
      else press.hold.drag(where)
    } else if (event.buttons === 0 && !isOver(event)) {
      if (state.getState().cross) state.setState({ cross: null })
      if (kind.grips) for (const grip of GRIPS.all) grip.under?.(desk, where)
      hover(where)
    }
  }
  const up = (event: PointerEvent) => {
    if (!press || event.button !== 0) return
    const where = at(event)
    const { hold, moved } = press
    press = null
    if (hold) event.stopPropagation()
    if (hold === 'tool') tool.release?.(where)
    else if (hold) hold.release(where)
    else if (moved <= STILL && !isOver(event)) tool.click?.(where)
  }
  const cancel = (event: PointerEvent) => {
    if (!press) return
    const { hold } = press
    press = null
    if (hold === 'tool') tool.cancel?.()
    else if (hold) hold.release(at(event))
  }
  const double = (event: MouseEvent) => {
    if (!tool.double || isOver(event)) return
    event.stopPropagation()
    tool.double(at(event))
  }
  const key = (event: KeyboardEvent) => giveKey(event, frame, cross, tool)
  const wheel = (event: WheelEvent) => turnWheel(event, tool, at)
  const stopHearing = hear(frame, { wheel, pointerdown: down, pointermove: move, pointerup: up, pointercancel: cancel, dblclick: double }, () => hover(null), key)
  const stopListening = state.subscribe(({ active }, before) => {
    if (active !== before.active) take(active)
  })
  take(state.getState().active)

  return {
    onHover(listener) {
      hoverers.add(listener)
      return () => hoverers.delete(listener)
    },
    at: () => last,
    escape() {
      if (!tool.escape?.()) state.setState({ active: 'look' })
    },
    words: () => tool.words?.() ?? null,
    end() {
      stopListening()
      tool.end?.()
      stopHearing()
    },
  }
}

/** Gives a key to the cross, while the picture has the focus, or to the tool in hand. */
function giveKey(event: KeyboardEvent, frame: HTMLElement, cross: (event: KeyboardEvent) => boolean, tool: ActiveTool): void {
  if (event.key === 'Escape' || (event.target instanceof Element && event.target.closest(TYPED_INTO))) return
  // A grip that has the focus moves by its own keys.
  if (event.key !== 'Delete' && event.target instanceof Element && event.target.closest(GRIP)) return
  const onPicture = event.target === frame || (event.target instanceof Element && event.target.tagName === 'BODY')
  if (!(onPicture && cross(event)) && !tool.key?.(event)) return
  event.preventDefault()
  event.stopPropagation()
}

/** Gives the wheel to the tool in hand while Shift or Alt is held. */
function turnWheel(event: WheelEvent, tool: ActiveTool, at: (event: MouseEvent) => Pointer): void {
  // Browsers turn the wheel sideways while Shift is held.
  const steps = Math.sign(event.deltaY || event.deltaX)
  if (!(event.shiftKey || event.altKey) || steps === 0 || isOver(event) || !tool.wheel?.(steps, at(event))) return
  event.preventDefault()
  event.stopPropagation()
}

/** Listens to the pointer before anything inside the picture, and to keys before anything else: what is taken goes no further. Returns how to stop. */
function hear(frame: HTMLElement, pointer: Readonly<Record<string, (event: never) => void>>, leave: () => void, key: (event: KeyboardEvent) => void): () => void {
  for (const [type, listener] of Object.entries(pointer)) frame.addEventListener(type, listener as EventListener, { capture: true, passive: false })
  frame.addEventListener('pointerleave', leave)
  addEventListener('keydown', key, { capture: true })
  return () => {
    for (const [type, listener] of Object.entries(pointer)) frame.removeEventListener(type, listener as EventListener, { capture: true })
    frame.removeEventListener('pointerleave', leave)
    removeEventListener('keydown', key, { capture: true })
  }
}

/** The pointer in the picture; what is pressed keeps how far it has moved. */
function pointerOf(frame: HTMLElement, event: MouseEvent, press: Press | null): Pointer {
  const { clientX, clientY, shiftKey, altKey, ctrlKey, metaKey } = event
  const box = frame.getBoundingClientRect()
  const [x, y] = [clientX - box.left, clientY - box.top]
  if (press) press.moved = Math.max(press.moved, Math.hypot(x - press.from[0], y - press.from[1]))
  return { x, y, moved: press?.moved ?? 0, shift: shiftKey, alt: altKey, free: ctrlKey || metaKey, pressure: pressureOf(event) }
}

/** Takes a grip that comes before the tool in hand, when the pointer is on one. */
function firstHold(desk: Desk, { target }: PointerEvent, where: Pointer): Hold | null {
  const named = target instanceof Element ? target.closest<SVGElement>('[data-grip]') : null
  const found = named && gripUnder(desk, target, where)
  return found?.grip.before ? found.grip.take(desk, found.named, where) : null
}

/** Takes the grip under the pointer, when there is one. */
function holdOf(desk: Desk, { target }: PointerEvent, where: Pointer): Hold | null {
  const found = gripUnder(desk, target, where)
  return found?.grip.take(desk, found.named, where) ?? null
}

function isOver({ target }: Event): boolean {
  return target instanceof Element && target.closest(OVER) !== null
}

/** The grip under the pointer, with what its element names. */
function gripUnder(desk: Desk, target: EventTarget | null, where: Pointer): { readonly grip: GripKind; readonly named: readonly string[] } | null {
  const named = target instanceof Element ? target.closest<SVGElement>('[data-grip]')?.dataset.grip : undefined
  if (named !== undefined) {
    const [of, ...rest] = named.split(' ')
    return { grip: GRIPS.get(of), named: rest }
  }
  const grip = GRIPS.all.find((one) => one.under?.(desk, where))
  return grip ? { grip, named: [] } : null
}

/** How hard a pen presses; everything else presses whole. */
function pressureOf(event: MouseEvent): number {
  const { pointerType, pressure } = event as Partial<Pick<PointerEvent, 'pointerType' | 'pressure'>>
  return pointerType === 'pen' ? (pressure ?? 1) : 1
}
