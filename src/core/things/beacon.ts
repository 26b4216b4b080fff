import { hashValue } from '../content-hash.ts'
import { LIMITS } from '../limits.ts'
import type { Beacon } from '../meadow.ts'
import { defineThing } from './define.ts'

/** Points whose nearness drives something. */
export const BEACON = defineThing<Beacon, Beacon>({
  kind: 'beacon',
  list: 'beacons',
  one: 'beacon',
  many: 'beacons',
  most: LIMITS.beacons,
  fields: {
    colour: { type: 'colour' },
    visible: { type: 'flag' },
    locked: { type: 'flag' },
    x: { type: 'number', min: -LIMITS.place, max: LIMITS.place },
    z: { type: 'number', min: -LIMITS.place, max: LIMITS.place },
    above: { type: 'number', min: -1e4, max: 1e4 },
    reach: { type: 'number', min: 0.01, max: 1e5 },
    strength: { type: 'number', min: 0, max: 1 },
    falloff: { type: 'one-of', options: ['straight', 'steep', 'round'] },
  },
  references: [{ to: 'beacon', word: 'a beacon', is: () => true }],
  blobs: () => [],
  grownBlobs: () => [],
  bare: (beacon) => ({ ...beacon, name: '', colour: '', visible: true, locked: false }),
  long: false,
  ready: (beacon) => beacon,
  // From its reach on it gives nothing.
  near(beacon, { x0, z0, x1, z1 }) {
    const dx = Math.max(x0 - beacon.x, 0, beacon.x - x1)
    const dz = Math.max(z0 - beacon.z, 0, beacon.z - z1)
    return dx * dx + dz * dz < beacon.reach * beacon.reach ? hashValue(beacon) : ''
  },
})
