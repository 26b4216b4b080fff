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

/** The polylines that an outline stands for, x z x z …, m. */
export function polylines(outline: Outline): number[][] {
  const closed = isClosed(outline)
  return pointsOf(outline).map((line) => flatten(line, closed, outline.smooth)).filter((line) => line.length >= (closed ? 6 : 2))
}

/** An index of an outline's lines. */
export function indexOf(outline: Outline): LineIndex {
  return createLineIndex(polylines(outline), isClosed(outline))
}
