/** How far the arrow keys move what has the focus, m: with Shift, plain, with Alt. */
const NUDGE = { fine: 0.1, plain: 0.5, coarse: 5 }

/** Where arrow keys lead, over the ground as it is seen from the south. */
export const WAYS: Readonly<Record<string, readonly [number, number] | undefined>> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }

/** Where an arrow key moves a place of the ground to, m; null for other keys. */
export function nudged({ key, shiftKey, altKey }: Pick<KeyboardEvent, 'key' | 'shiftKey' | 'altKey'>, x: number, z: number): readonly [number, number] | null {
  const by = WAYS[key]
  const step = shiftKey ? NUDGE.fine : altKey ? NUDGE.coarse : NUDGE.plain
  return by ? [tidy(x + by[0] * step), tidy(z + by[1] * step)] : null
}

/** How far Page Up and Page Down raise what has the focus, m; null for other keys. */
export function raised({ key, shiftKey, altKey }: Pick<KeyboardEvent, 'key' | 'shiftKey' | 'altKey'>): number | null {
  const way = key === 'PageUp' ? 1 : key === 'PageDown' ? -1 : 0
  return way === 0 ? null : way * (shiftKey ? NUDGE.fine : altKey ? NUDGE.coarse : NUDGE.plain)
}

/** To the centimetre. */
export function tidy(metres: number): number {
  return Math.round(metres * 100) / 100
}
