import { LIMITS } from '../limits.ts'
import type { Group } from '../meadow.ts'
import { defineThing } from './define.ts'
import { GROWS_NOTHING, MEMBERS_FIELDS } from './members.ts'

/** Instances and other groups that move as one. */
export const GROUP = defineThing<Group, Group>({
  kind: 'group',
  list: 'groups',
  one: 'group',
  many: 'groups',
  most: LIMITS.groups,
  fields: { ...MEMBERS_FIELDS, groups: { type: 'ids', most: LIMITS.groups } },
  ...GROWS_NOTHING,
  bare: (group) => ({ ...group, name: '' }),
  long: true,
  ready: (group) => group,
})
