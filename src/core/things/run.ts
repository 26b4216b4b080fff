import { LIMITS } from '../limits.ts'
import type { SpacedRun } from '../meadow.ts'
import { defineThing } from './define.ts'
import { GROWS_NOTHING, MEMBERS_FIELDS } from './members.ts'

/** Instances that are spaced out along something, in their order. */
export const RUN = defineThing<SpacedRun, SpacedRun>({
  kind: 'run',
  list: 'runs',
  one: 'run',
  many: 'runs',
  most: LIMITS.runs,
  fields: {
    ...MEMBERS_FIELDS,
    kind: { type: 'one-of', options: ['line', 'ring', 'path'] },
    ground: { type: 'text', max: LIMITS.word },
    from: { type: 'vector' },
    to: { type: 'vector' },
    spacing: { type: 'size', max: LIMITS.place },
    arc: { type: 'number', min: -360, max: 360 },
    path: { type: 'text', max: LIMITS.word },
  },
  ...GROWS_NOTHING,
  bare: (run) => ({ ...run, name: '' }),
  long: true,
  ready: (run) => run,
})
