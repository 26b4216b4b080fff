import { notify } from '../state/notices.ts'
import type { ActiveTool, Desk, Pointer, ToolKind } from './define.ts'
import type { GripKind, Hold } from './grips/define.ts'
import { GRIPS } from './grips/index.ts'
import { TOOLS } from './index.ts'

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
const TYPED_INTO = 'input, select, textarea, [contenteditable], [role="dialog"], [role="menu"]'
/** Marks what lies over the picture and takes the pointer for itself. */
export const OVER = '[data-over]'

interface Press {
  readonly pointer: number
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
    frame.style.cursor = kind.cursor
    frame.dataset.tool = kind.kind
  }

  const at = ({ clientX, clientY, shiftKey, altKey }: MouseEvent): Pointer => {
    const box = frame.getBoundingClientRect()
    const [x, y] = [clientX - box.left, clientY - box.top]
    if (press) press.moved = Math.max(press.moved, Math.hypot(x - press.from[0], y - press.from[1]))
    return { x, y, moved: press?.moved ?? 0, shift: shiftKey, alt: altKey }
  }

  function holdOf(event: PointerEvent, where: Pointer): Press['hold'] {
    if (tool.press?.(where)) return 'tool'
    const found = kind.grips ? gripUnder(desk, event.target, where) : null
    return found?.grip.take(desk, found.named, where) ?? null
  }

  const down = (event: PointerEvent) => {
    if (event.button !== 0 || isOver(event)) return
    const where = at(event)
    press = { pointer: event.pointerId, from: [where.x, where.y], moved: 0, hold: null }
    press.hold = holdOf(event, where)
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
      if (kind.grips) for (const grip of GRIPS.all) grip.under?.(desk, where)
      for (const hover of hoverers) hover(where)
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
  const leave = () => {
    last = null
    for (const hover of hoverers) hover(null)
  }
  const double = (event: MouseEvent) => {
    if (!tool.double || isOver(event)) return
    event.stopPropagation()
    tool.double(at(event))
  }
  const key = (event: KeyboardEvent) => {
    if (event.key === 'Escape' || (event.target instanceof Element && event.target.closest(TYPED_INTO))) return
    if (!tool.key?.(event)) return
    event.preventDefault()
    event.stopPropagation()
  }

  // Before anything inside the picture: what is taken goes no further.
  const listeners = { pointerdown: down, pointermove: move, pointerup: up, pointercancel: cancel, dblclick: double } as const
  for (const [type, listener] of Object.entries(listeners)) frame.addEventListener(type, listener as EventListener, { capture: true })
  frame.addEventListener('pointerleave', leave)
  addEventListener('keydown', key, { capture: true })
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
      for (const [type, listener] of Object.entries(listeners)) frame.removeEventListener(type, listener as EventListener, { capture: true })
      frame.removeEventListener('pointerleave', leave)
      removeEventListener('keydown', key, { capture: true })
    },
  }
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
