import { LIMITS } from '../limits.ts'
import type { Members } from '../meadow.ts'
import type { FieldsOf } from './fields.ts'

/** Ids are 32 bits and 32. */
const WORD = 4294967296

/** Numbers of one member: planting, id (low, high). */
export const MEMBER = 3

/** Fields of things that name instances. */
export const MEMBERS_FIELDS: FieldsOf<Members & { readonly id: string; readonly name: string }> = {
  plantings: { type: 'ids', most: LIMITS.plantings },
  members: { type: 'lines', most: 1, points: LIMITS.selected, farthest: WORD, numbers: MEMBER },
}

/** What a thing that nothing grows by says of itself. */
export const GROWS_NOTHING = { references: [], blobs: () => [], grownBlobs: () => [], near: () => '' } as const
