import type { Outline } from '../meadow.ts'
import { flatten } from './curve.ts'
import type { LineIndex } from './distance.ts'
import { createLineIndex } from './distance.ts'

/** Whether the ends of an outline's lines are joined. */
export function isClosed(outline: Pick<Outline, 'kind' | 'closed'>): boolean {
  return outline.kind === 'patch' || outline.closed
}

/** The polylines that an outline stands for, x z x z …, m. */
export function polylines(outline: Outline): number[][] {
  const closed = isClosed(outline)
  return outline.lines.map((line) => flatten(line, closed, outline.smooth)).filter((line) => line.length >= (closed ? 6 : 2))
}

/** An index of an outline's lines. */
export function indexOf(outline: Outline): LineIndex {
  return createLineIndex(polylines(outline), isClosed(outline))
}
