import { SINGLE, TOUCH } from '../hand/layout.ts'
import { LIMITS } from '../limits.ts'
import type { HandWork } from '../meadow.ts'
import { defineThing } from './define.ts'

/** Ids and tints are 32 bits. */
const WORD = 4294967296

/**
 * What a hand did to single instances. Growing asks for what of it lies near a tile by its planting, whose id it has,
 * so that none of it is part of a setup.
 */
export const HAND = defineThing<HandWork, HandWork>({
  kind: 'hand',
  list: 'hands',
  one: 'hand work',
  many: 'plantings with hand work',
  most: LIMITS.plantings,
  fields: {
    grounds: { type: 'ids', most: LIMITS.meshes + 1 },
    singles: { type: 'lines', most: 1, points: LIMITS.singles, farthest: WORD, numbers: SINGLE },
    touched: { type: 'lines', most: 1, points: LIMITS.touchUps, farthest: WORD, numbers: TOUCH },
  },
  references: [],
  blobs: () => [],
  grownBlobs: () => [],
  bare: (hand) => ({ ...hand, name: '' }),
  long: true,
  ready: (hand) => hand,
  near: () => '',
})
