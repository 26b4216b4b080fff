import { hashValue } from '../content-hash.ts'
import { LIMITS } from '../limits.ts'
import type { View } from '../meadow.ts'
import { defineThing } from './define.ts'

/** Saved cameras. */
export const VIEW = defineThing<View, View>({
  kind: 'view',
  list: 'views',
  one: 'view',
  many: 'views',
  most: LIMITS.views,
  fields: { position: { type: 'vector' }, target: { type: 'vector' } },
  references: [{ to: 'view', word: 'a view', is: () => true }],
  blobs: () => [],
  grownBlobs: () => [],
  bare: (view) => ({ ...view, name: '' }),
  long: false,
  ready: (view) => view,
  near: (view) => hashValue(view),
})
