import { LIMITS } from '../limits.ts'
import type { KeptSelection } from '../meadow.ts'
import { defineThing } from './define.ts'

/** Ids are 32 bits and 32. */
const WORD = 4294967296

/** Numbers of one member: planting, id (low, high). */
export const MEMBER = 3

/** Chosen instances kept under a name; nothing grows by them. */
export const SELECTION = defineThing<KeptSelection, KeptSelection>({
  kind: 'selection',
  list: 'selections',
  one: 'kept selection',
  many: 'kept selections',
  most: LIMITS.selections,
  fields: {
    plantings: { type: 'ids', most: LIMITS.plantings },
    members: { type: 'lines', most: 1, points: LIMITS.selected, farthest: WORD, numbers: MEMBER },
  },
  references: [],
  blobs: () => [],
  grownBlobs: () => [],
  bare: (selection) => ({ ...selection, name: '' }),
  long: true,
  ready: (selection) => selection,
  near: () => '',
})
