import { LIMITS } from '../limits.ts'
import type { KeptSelection } from '../meadow.ts'
import { defineThing } from './define.ts'
import { GROWS_NOTHING, MEMBERS_FIELDS } from './members.ts'

/** Chosen instances kept under a name. */
export const SELECTION = defineThing<KeptSelection, KeptSelection>({
  kind: 'selection',
  list: 'selections',
  one: 'kept selection',
  many: 'kept selections',
  most: LIMITS.selections,
  fields: MEMBERS_FIELDS,
  ...GROWS_NOTHING,
  bare: (selection) => ({ ...selection, name: '' }),
  long: true,
  ready: (selection) => selection,
})
