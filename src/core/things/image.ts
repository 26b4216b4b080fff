import { hashValue } from '../content-hash.ts'
import type { ImageField } from '../grounds/image.ts'
import { LIMITS } from '../limits.ts'
import { cos, DEGREE, sin } from '../math/portable.ts'
import type { GroundImage } from '../meadow.ts'
import { defineThing, meets } from './define.ts'

/** Pictures laid over the ground. */
export const IMAGE = defineThing<GroundImage, ImageField>({
  kind: 'image',
  list: 'images',
  one: 'image',
  many: 'images',
  most: LIMITS.images,
  fields: {
    blob: { type: 'blob' },
    columns: { type: 'whole', min: 1, max: LIMITS.imageSide },
    rows: { type: 'whole', min: 1, max: LIMITS.imageSide },
    x: { type: 'number', min: -LIMITS.place, max: LIMITS.place },
    z: { type: 'number', min: -LIMITS.place, max: LIMITS.place },
    sizeX: { type: 'size', max: LIMITS.place },
    sizeZ: { type: 'size', max: LIMITS.place },
    turn: { type: 'number', min: -360, max: 360 },
  },
  references: [{ to: 'image', word: 'an image', is: () => true }],
  blobs: ({ blob }) => [blob],
  grownBlobs: ({ blob }) => [blob],
  bare: (image) => ({ ...image, name: '' }),
  long: false,
  ready: (placed, { bytes }) => ({ placed, pixels: bytes(placed.blob) }),
  // Beyond the picture it is the same everywhere.
  near(image, rect) {
    const [c, s] = [Math.abs(cos(image.turn * DEGREE)), Math.abs(sin(image.turn * DEGREE))]
    const [halfX, halfZ] = [(c * image.sizeX + s * image.sizeZ) / 2, (s * image.sizeX + c * image.sizeZ) / 2]
    return meets(rect, 0, { x0: image.x - halfX, z0: image.z - halfZ, x1: image.x + halfX, z1: image.z + halfZ }) ? hashValue(image) : ''
  },
})
