import { LIMITS } from '../limits.ts'
import type { Peg } from '../meadow.ts'
import { defineThing } from './define.ts'
import { GROWS_NOTHING } from './members.ts'

/** Helper points that things are set to. */
export const PEG = defineThing<Peg, Peg>({
  kind: 'peg',
  list: 'pegs',
  one: 'peg',
  many: 'pegs',
  most: LIMITS.pegs,
  fields: { ground: { type: 'text', max: LIMITS.word }, place: { type: 'vector' } },
  ...GROWS_NOTHING,
  bare: (peg) => ({ ...peg, name: '' }),
  long: false,
  ready: (peg) => peg,
})
