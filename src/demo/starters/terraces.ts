import { fractal2 } from '../../core/math/noise.ts'
import { sin, smoothstep } from '../../core/math/portable.ts'
import type { Planting } from '../../core/meadow.ts'
import { MEADOW_VERSION } from '../../core/meadow.ts'
import { emptyThings, newCondition, newDriver, newOutline, newPlanting, PLANTING_COLOURS } from '../../document/new-planting.ts'
import { makeShelf } from '../assets/shelf.ts'
import type { Starter } from './define.ts'
import { groundOf } from './define.ts'

const SIDE = { samples: 385, size: 180 }
/** Height of a terrace, and the share of it that its tread takes before the riser begins. */
const STEP = 1.9
const TREAD = 0.6

/** Height of the slope: terraces that bend with the hill, worn where a gully runs down. */
function slopeAt(x: number, z: number): number {
  const hill = 0.19 * (92 - z) + 3.4 * sin(x / 37 + 0.4) + 2.6 * fractal2(31, x / 46, z / 46, 3)
  const step = Math.floor(hill / STEP)
  const within = hill / STEP - step
  const stepped = STEP * (step + smoothstep((within - TREAD) / (1 - TREAD)) + 0.1 * within)
  const gully = smoothstep(1 - Math.abs(x + 34 + 9 * sin(z / 21)) / 13)
  return stepped + (hill * 1.02 - 1.2 - stepped) * 0.9 * gully + 0.06 * fractal2(32, x / 3, z / 3, 2)
}

const gentle = (to: number) => newCondition('slope', { slope: { from: null, to }, soft: 6 }, `gentle-${to}`)
const steep = (from: number) => newCondition('slope', { slope: { from, to: null }, soft: 6 }, `steep-${from}`)
const patches = (size: number, coverage: number, shift: number) => newCondition('patchiness', { size, coverage, contrast: 0.6, shift }, `patches-${shift}`)
const offTheMulePath = newCondition('path', { path: 'mule-path', away: { from: 0, to: null }, soft: 0.6 }, 'off-path')

function plantings(): Planting[] {
  const colour = (i: number) => PLANTING_COLOURS[i % PLANTING_COLOURS.length]
  return [
    newPlanting({
      id: 'junipers',
      name: 'Junipers on the treads',
      colour: colour(0),
      seed: 41,
      mix: [{ asset: 'juniper', share: 1 }],
      habitat: [gentle(16), patches(24, 0.4, 1), newCondition('path', { path: 'mule-path', away: { from: 1, to: null }, soft: 1 }, 'off-path-wide')],
      params: { spacing: 3.4, placing: 'natural', arrangement: 0.88, clump: 9, size: { from: 0.55, to: 1.5 }, follow: 0, lean: { from: 0, to: 5 } },
    }),
    newPlanting({
      id: 'walls',
      name: 'Stones of the risers',
      colour: colour(6),
      seed: 42,
      mix: [
        { asset: 'slab', share: 3 },
        { asset: 'rubble', share: 2 },
      ],
      habitat: [steep(24), offTheMulePath],
      params: { spacing: 0.62, size: { from: 0.3, to: 0.9 }, sizeSpread: 'middle', follow: 0.95, lift: { from: -0.2, to: -0.06 }, room: 0.7 },
    }),
    newPlanting({
      id: 'cover',
      name: 'Dry grass and thyme',
      colour: colour(1),
      seed: 43,
      mix: [
        { asset: 'dry-grass', share: 70 },
        // Thyme likes the edge of the treads, where it is steeper; elsewhere a tenth as much of it grows.
        { asset: 'thyme', share: 30, where: newCondition('slope', { slope: { from: 9, to: 30 }, soft: 3 }, 'thyme-likes'), elsewhere: 0.1 },
      ],
      habitat: [gentle(40), patches(13, 0.72, 2), offTheMulePath],
      drivers: [newDriver('path', 'size', { id: 'shorter', params: { path: 'mule-path' }, over: { from: 0, to: 4 }, low: 0.45, high: 1 })],
      params: { spacing: 0.55, size: { from: 0.7, to: 1.4 }, follow: 0.5, lean: { from: 2, to: 14 }, leanTo: 'wind', wind: 60, room: 0.5, ownKind: 0.3, grove: 4 },
    }),
    newPlanting({
      id: 'path-stones',
      name: 'Stones along the mule path',
      colour: colour(5),
      seed: 44,
      mix: [{ asset: 'rubble', share: 1 }],
      habitat: [newCondition('path', { path: 'mule-path', away: { from: 0, to: 2.4 }, thins: 'straight' }, 'along')],
      params: { spacing: 0.6, placing: 'random', size: { from: 0.4, to: 1.1 }, follow: 0.9, lift: { from: -0.04, to: 0 } },
    }),
  ]
}

export const terraces: Starter = {
  kind: 'terraces',
  name: 'Thornback Terraces',
  is: 'A dry slope in steps, with junipers, straw and thyme, and a mule path that winds up.',
  shows: 'Slopes, mixes with preferences, a path that things keep off and thin out from.',
  async make(keep) {
    const assets = await makeShelf(keep)
    return {
      version: MEADOW_VERSION,
      id: 'thornback-terraces',
      name: 'Thornback Terraces',
      ground: await groundOf(keep, 'Terraced slope', SIDE, slopeAt),
      water: { shown: false, level: -6 },
      assets,
      nextAsset: assets.length,
      opened: null,
      plantings: plantings(),
      ...emptyThings(),
      outlines: [
        newOutline({ id: 'mule-path', kind: 'path', name: 'Mule path', colour: '#e0a33a', smooth: true, width: 1.6, lines: [[12, 84, 30, 62, 8, 44, 26, 22, 2, 4, 24, -18, 10, -40, 36, -62]] }),
      ],
      habitats: [],
      views: [
        { id: 'foot', name: 'From the foot', position: [6, 9.5, 82], target: [14, 9.5, 30] },
        { id: 'over', name: 'Over the slope', position: [-96, 66, 120], target: [4, 12, 0] },
      ],
    }
  },
}
