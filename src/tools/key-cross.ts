import type { ActiveTool, Desk, Pointer } from './define.ts'
import { WAYS } from './grips/nudge.ts'

/** How far an arrow key moves the cross, px: with Shift, plain, with Alt. */
const STEPS = { fine: 2, plain: 14, coarse: 70 }
/** So near to the rim of the picture the picture moves instead, px, by such a share of what it shows. */
const RIM = 24
const PAN = 0.08

interface CrossOf {
  /** The tool in hand. */
  readonly tool: () => ActiveTool
  /** Whether it points at places. */
  readonly points: () => boolean
  readonly hover: (at: Pointer) => void
  /** Of the picture, px. */
  readonly size: () => readonly [number, number]
}

/**
 * Points at places of the picture by keys: arrows move a cross, Enter clicks there, Enter again in the same place is a
 * double click. Where no cross is shown and the tool has no use for Enter, Enter shows it. Tells of each key whether it
 * was meant for the cross.
 */
export function keyCross({ view, state }: Desk, { tool, points, hover, size }: CrossOf): (event: KeyboardEvent) => boolean {
  /** The tool that Enter was pressed with since the cross has moved. */
  let clicked: ActiveTool | null = null
  const pointerAt = ([x, y]: readonly [number, number], event?: KeyboardEvent): Pointer => ({ x, y, moved: 0, shift: event?.shiftKey ?? false, alt: event?.altKey ?? false, free: false, pressure: 1 })

  function move(by: readonly [number, number], step: number): void {
    const [wide, high] = size()
    const [x, y] = state.getState().cross ?? [wide / 2, high / 2]
    const to = [x + by[0] * step, y + by[1] * step] as const
    const inside = to[0] > RIM && to[0] < wide - RIM && to[1] > RIM && to[1] < high - RIM
    if (!inside) view.step({ right: PAN * by[0], ahead: -PAN * by[1] })
    const next = inside ? to : ([x, y] as const)
    state.setState({ cross: next })
    clicked = null
    hover(pointerAt(next))
  }

  function click(at: Pointer): void {
    if (clicked === tool() && !at.shift && !at.alt) return tool().double?.(at)
    clicked = tool()
    if (tool().press?.(at)) tool().release?.(at)
    else tool().click?.(at)
  }

  return (event) => {
    if (!points() || event.ctrlKey || event.metaKey) return false
    const by = WAYS[event.key]
    const { cross } = state.getState()
    if (by) move(by, event.shiftKey ? STEPS.fine : event.altKey ? STEPS.coarse : STEPS.plain)
    else if (event.key === 'Enter' && cross) click(pointerAt(cross, event))
    else if (event.key === 'Enter' && !tool().key?.(event)) move([0, 0], 0)
    else return event.key === 'Enter'
    return true
  }
}
