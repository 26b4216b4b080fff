import { LIMITS } from '../limits.ts'
import { listOf, valuesOf } from '../long-list.ts'
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

/** One instance by its id. */
export interface MemberId {
  readonly planting: string
  readonly low: number
  readonly high: number
}

/** What one instance is told apart by. */
export function keyOfMember({ planting, low, high }: MemberId): string {
  return `${planting} ${high}:${low}`
}

/** Ids of instances as things name them, in their order. */
export function membersFrom(ids: readonly MemberId[]): Members {
  const plantings = [...new Set(ids.map(({ planting }) => planting))]
  const numbers = new Map(plantings.map((id, k) => [id, k]))
  return { plantings, members: [listOf(ids.flatMap(({ planting, low, high }) => [numbers.get(planting) as number, low, high]))] }
}

/** The instances that a thing names, in their order; those of plantings that it does not know are passed over. */
export function idsOf({ plantings, members }: Members): MemberId[] {
  const values = valuesOf(members[0] ?? [])
  const ids: MemberId[] = []
  for (let k = 0; k < values.length; k += MEMBER) {
    const planting = plantings[values[k]]
    if (planting !== undefined) ids.push({ planting, low: values[k + 1], high: values[k + 2] })
  }
  return ids
}
