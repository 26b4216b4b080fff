import { IMAGE_CHANNELS, sampleImage } from '../../grounds/image.ts'
import { heightAt } from '../../grounds/terrain.ts'
import { choice, length, phrase, ref } from '../../kinds.ts'
import { saturate } from '../../math/portable.ts'
import type { Beacon } from '../../meadow.ts'
import { indexOf } from '../../outlines/outline.ts'
import { BEACON } from '../../things/beacon.ts'
import { thingOf } from '../../things/define.ts'
import { IMAGE } from '../../things/image.ts'
import { OUTLINE } from '../../things/outline.ts'
import { FALLOFFS } from '../falloff.ts'
import { defineDriver, NO_FIELD } from './define.ts'

/** Fields of things that the meadow names: outlines, plantings, images, beacons. */

/** How far a distance matters, m: beyond both ends of what counts as 0 and as 1 nothing changes any more. */
function farthestOf(_values: unknown, { from, to }: { readonly from: number; readonly to: number }): number {
  return Math.max(Math.abs(from), Math.abs(to))
}

/** Distances farther than this are cut off, m. */
const FARTHEST = 10000

export const path = defineDriver({
  kind: 'path',
  label: 'Distance to a path',
  subject: 'drawn',
  help: 'From the edge of a path; below 0 on it.',
  unit: 'm',
  params: { path: ref('path', { label: 'Path', help: 'Which path.' }) },
  over: { from: 0, to: 4 },
  flat: true,
  words: () => phrase`the distance to ${{ param: 'path' }}`,
  reach: farthestOf,
  prepare(p, { things }, farthest) {
    const outline = thingOf(things, OUTLINE, p.path)
    if (!outline) return NO_FIELD
    const index = indexOf(outline)
    return ({ x, z, count }, _around, out) => {
      index.distances(x, z, count, false, Math.min(FARTHEST, farthest + outline.width / 2), out)
      for (let i = 0; i < count; i++) out[i] = Math.min(out[i], FARTHEST) - outline.width / 2
    }
  },
})

export const patch = defineDriver({
  kind: 'patch',
  label: 'Distance to a patch',
  subject: 'drawn',
  help: 'From the edge of a patch; below 0 inside it.',
  unit: 'm',
  params: { patch: ref('patch', { label: 'Patch', help: 'Which patch.' }) },
  over: { from: -10, to: 0 },
  flat: true,
  words: () => phrase`the distance to ${{ param: 'patch' }}`,
  reach: farthestOf,
  prepare(p, { things }, farthest) {
    const outline = thingOf(things, OUTLINE, p.patch)
    if (!outline) return NO_FIELD
    const index = indexOf(outline)
    return ({ x, z, count }, _around, out) => index.distances(x, z, count, true, farthest, out)
  },
})

export const planting = defineDriver({
  kind: 'planting',
  label: 'Distance to a planting',
  subject: 'things',
  help: 'From the nearest instance of a planting above in the list.',
  unit: 'm',
  params: {
    planting: ref('planting', { label: 'Planting', help: 'Which one; it must come before in the list.' }),
    farthest: length(10, { label: 'Looks as far as', help: 'Beyond this nothing more is measured.', min: 0.1, max: 500, step: 0.5 }),
  },
  over: { from: 0, to: 5 },
  flat: true,
  words: () => phrase`the distance to ${{ param: 'planting' }}`,
  reach: (p) => p.farthest,
  prepare: (p) => (sites, around, out) => {
    const places = around.plantings.get(p.planting)
    for (let i = 0; i < sites.count; i++) out[i] = places ? Math.min(p.farthest, places.nearest(sites.x[i], sites.z[i], p.farthest)) : p.farthest
  },
})

export const image = defineDriver({
  kind: 'image',
  label: 'Image',
  subject: 'pattern',
  help: 'What a picture laid over the ground holds; 0 beyond it.',
  unit: 'share',
  params: {
    image: ref('image', { label: 'Image', help: 'Which picture.' }),
    channel: choice(
      'brightness',
      IMAGE_CHANNELS.map((value) => ({ value, label: value === 'alpha' ? 'opacity' : value })),
      { label: 'Looks at', help: 'What of the picture counts.' },
    ),
  },
  over: { from: 0, to: 1 },
  flat: true,
  words: () => phrase`the image ${{ param: 'image' }}`,
  prepare(p, { things }) {
    const found = thingOf(things, IMAGE, p.image)
    if (!found) return NO_FIELD
    return ({ x, z, count }, _around, out) => sampleImage(found, p.channel, x, z, count, 0, out)
  },
})

/** What a beacon gives at a distance, m: its strength at its own place, 0 from its reach on. */
export function beaconValue({ reach, strength, falloff }: Beacon, distance: number): number {
  return distance < reach ? saturate(strength) * FALLOFFS[falloff](distance / reach) : 0
}

export const beacon = defineDriver({
  kind: 'beacon',
  label: 'Nearness to a beacon',
  subject: 'things',
  help: 'A point in the meadow: its strength at its own place, falling to 0 at its reach.',
  unit: 'share',
  params: { beacon: ref('beacon', { label: 'Beacon', help: 'Which beacon; set them in the drawer Beacons.' }) },
  over: { from: 0, to: 1 },
  ends: true,
  words: () => phrase`the nearness to ${{ param: 'beacon' }}`,
  prepare(p, { things, terrain }) {
    const found = thingOf(things, BEACON, p.beacon)
    if (!found) return NO_FIELD
    const by = heightAt(terrain, found.x, found.z) + found.above
    return ({ x, y, z, count }, _around, out) => {
      for (let i = 0; i < count; i++) {
        const dx = x[i] - found.x
        const dy = y[i] - by
        const dz = z[i] - found.z
        out[i] = beaconValue(found, Math.sqrt(dx * dx + dy * dy + dz * dz))
      }
    }
  },
})
