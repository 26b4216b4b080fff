import { POINT } from '../fields/coverage.ts'
import { STROKE_ACTS } from '../fields/stroke-acts.ts'
import { LIMITS } from '../limits.ts'
import type { Stroke } from '../meadow.ts'
import { defineThing } from './define.ts'

/**
 * What was painted by hand. No condition names a stroke: growing asks for those near a tile by the planting that they
 * were drawn for, so that none of them is part of a setup.
 */
export const STROKE = defineThing<Stroke, Stroke>({
  kind: 'stroke',
  list: 'strokes',
  one: 'stroke',
  many: 'strokes',
  most: LIMITS.strokes,
  fields: {
    planting: { type: 'text', max: LIMITS.word },
    act: { type: 'one-of', options: STROKE_ACTS },
    ground: { type: 'text', max: LIMITS.word },
    width: { type: 'size', max: LIMITS.strokeWidth },
    soft: { type: 'number', min: 0, max: 1 },
    strength: { type: 'number', min: 0, max: 1 },
    only: { type: 'ids', most: LIMITS.mix },
    lines: { type: 'lines', most: 1, points: LIMITS.strokePoints, farthest: LIMITS.place, numbers: POINT },
  },
  references: [],
  blobs: () => [],
  grownBlobs: () => [],
  bare: (stroke) => ({ ...stroke, name: '' }),
  long: true,
  ready: (stroke) => stroke,
  near: () => '',
})
