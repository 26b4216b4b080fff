import { LIMITS } from '../limits.ts'
import type { Outline } from '../meadow.ts'
import { defineThing } from './define.ts'
import { nameNearOutline } from './outline-near.ts'

/** Patches and paths: lines drawn on the ground. */
export const OUTLINE = defineThing<Outline, Outline>({
  kind: 'outline',
  list: 'outlines',
  one: 'outline',
  many: 'outlines',
  most: LIMITS.outlines,
  fields: {
    kind: { type: 'one-of', options: ['patch', 'path'] },
    colour: { type: 'colour' },
    visible: { type: 'flag' },
    locked: { type: 'flag' },
    smooth: { type: 'flag' },
    closed: { type: 'flag' },
    width: { type: 'number', min: 0, max: LIMITS.pathWidth },
    lines: { type: 'lines', most: LIMITS.outlineLines, points: LIMITS.outlinePoints, farthest: LIMITS.place },
    above: { type: 'lines', most: LIMITS.outlineLines, points: LIMITS.outlinePoints, farthest: LIMITS.height, numbers: 1, mayMiss: true },
  },
  references: [
    { to: 'patch', word: 'a patch', is: ({ kind }) => kind === 'patch' },
    { to: 'path', word: 'a path', is: ({ kind }) => kind === 'path' },
    { to: 'line', word: 'a line', is: () => true },
  ],
  blobs: () => [],
  grownBlobs: () => [],
  bare: (outline) => ({ ...outline, name: '', colour: '', visible: true, locked: false }),
  long: true,
  ready: (outline) => outline,
  near: nameNearOutline,
})
