import { valuesOf } from '../long-list.ts'
import type { Outline } from '../meadow.ts'
import { flatten } from './curve.ts'
import type { LineIndex } from './distance.ts'
import { createLineIndex } from './distance.ts'

/** Whether the ends of an outline's lines are joined. */
export function isClosed(outline: Pick<Outline, 'kind' | 'closed'>): boolean {
  return outline.kind === 'patch' || outline.closed
}

/** Points x z x z … of each line of an outline, m. */
export function pointsOf({ lines }: Pick<Outline, 'lines'>): (readonly number[])[] {
  return lines.map(valuesOf)
}

/** How high a point of an outline lies over the ground, m. */
export function aboveOf({ above }: Pick<Outline, 'above'>, { line, index }: { readonly line: number; readonly index: number }): number {
  return above?.[line] ? (valuesOf(above[line])[index] ?? 0) : 0
}

/** The polylines that an outline stands for, x z x z …, m. */
export function polylines(outline: Outline): number[][] {
  const closed = isClosed(outline)
  return pointsOf(outline).map((line) => flatten(line, closed, outline.smooth)).filter((line) => line.length >= (closed ? 6 : 2))
}

/** An index of an outline's lines. */
export function indexOf(outline: Outline): LineIndex {
  return createLineIndex(polylines(outline), isClosed(outline))
}
