import { fractal2 } from '../../core/math/noise.ts'
import { smoothstep } from '../../core/math/portable.ts'
import type { Planting } from '../../core/meadow.ts'
import { MEADOW_VERSION } from '../../core/meadow.ts'
import { emptyThings, newCondition, newPlanting, PLANTING_COLOURS } from '../../document/new-planting.ts'
import { makeShelf } from '../assets/shelf.ts'
import type { Starter } from './define.ts'
import { groundOf } from './define.ts'

const SIDE = { samples: 385, size: 160 }

/** Height of the bog: nearly level, with pools, hummocks, and drier ground to the north. */
function bogAt(x: number, z: number): number {
  const pools = fractal2(51, x / 19, z / 13, 3)
  const hummocks = fractal2(52, x / 5.5, z / 5.5, 2)
  const dry = smoothstep((-z - 18) / 62)
  return 0.18 + 0.55 * pools + 0.16 * Math.max(0, hummocks) + 2.6 * dry * (1 + 0.3 * fractal2(53, x / 30, z / 30, 2)) + 0.03 * fractal2(54, x / 1.7, z / 1.7, 1)
}

const above = (from: number | null, to: number | null, soft: number) => newCondition('above-water', { above: { from, to }, soft }, `above-${from}-${to}`)

function plantings(): Planting[] {
  const colour = (i: number) => PLANTING_COLOURS[i % PLANTING_COLOURS.length]
  return [
    newPlanting({
      id: 'birches',
      name: 'Birches',
      colour: colour(3),
      seed: 61,
      mix: [{ asset: 'birch', share: 1 }],
      habitat: [above(0.35, null, 0.4), newCondition('patchiness', { size: 34, coverage: 0.62, contrast: 0.5, shift: 3 }, 'stands')],
      params: { by: 'density', density: 0.055, placing: 'natural', arrangement: 0.82, clump: 9, looseness: 0.35, size: { from: 0.55, to: 1.35 }, lean: { from: 0, to: 7 }, follow: 0 },
    }),
    newPlanting({
      id: 'heath',
      name: 'Heather under the birches',
      colour: colour(2),
      seed: 62,
      mix: [{ asset: 'heather', share: 1 }],
      habitat: [newCondition('planting', { planting: 'birches', manner: 'near', distance: 5.5, profile: 'straight' }, 'under'), above(0.25, null, 0.2)],
      params: { spacing: 0.8, size: { from: 0.6, to: 1.3 }, follow: 0.4, room: 0.7 },
    }),
    newPlanting({
      id: 'cotton',
      name: 'Bog cotton by the pools',
      colour: colour(5),
      seed: 63,
      mix: [{ asset: 'bog-cotton', share: 1 }],
      habitat: [newCondition('from-water', { away: { from: -0.2, to: 4.5 }, thins: 'straight' }, 'by-the-pools')],
      params: { spacing: 0.5, placing: 'natural', arrangement: 0.8, clump: 3, size: { from: 0.7, to: 1.3 }, lean: { from: 0, to: 10 }, follow: 0, room: 0.6 },
    }),
    newPlanting({
      id: 'reeds',
      name: 'Reeds in the pools',
      colour: colour(0),
      seed: 64,
      mix: [{ asset: 'reed', share: 1 }],
      habitat: [above(-0.5, 0.02, 0.12), newCondition('patchiness', { size: 9, coverage: 0.4, contrast: 0.7, shift: 4 }, 'beds')],
      params: { spacing: 0.55, size: { from: 0.5, to: 0.95 }, lean: { from: 0, to: 6 }, follow: 0, room: 0.6 },
    }),
    newPlanting({
      id: 'moss',
      name: 'Moss in the hollows',
      colour: colour(7),
      seed: 65,
      mix: [{ asset: 'bog-moss', share: 1 }],
      habitat: [above(0, 1.1, 0.15), newCondition('hollow', { over: { from: null, to: 0.12 }, radius: 6, soft: 0.12 }, 'hollows')],
      params: { spacing: 0.62, size: { from: 0.6, to: 1.5 }, follow: 0.9, lift: { from: -0.02, to: 0 }, room: 0.6 },
    }),
    newPlanting({
      id: 'sedge',
      name: 'Sedge over all',
      colour: colour(1),
      seed: 66,
      mix: [
        { asset: 'saltgrass', share: 3 },
        { asset: 'dry-grass', share: 1, where: above(0.9, null, 0.4), elsewhere: 0.05 },
      ],
      habitat: [above(0.03, null, 0.1), newCondition('patchiness', { size: 8, coverage: 0.8, contrast: 0.3, shift: 5 }, 'tufts')],
      params: { spacing: 0.6, size: { from: 0.7, to: 1.4 }, lean: { from: 0, to: 9 }, follow: 0.4, room: 0.5 },
    }),
  ]
}

export const bog: Starter = {
  kind: 'bog',
  name: 'Lapwing Bog',
  is: 'A bog under birches: dark pools, hummocks, cotton and heather.',
  shows: 'Water and hollows, natural gathering, what grows near another planting and thins out from it.',
  async make(keep) {
    const assets = await makeShelf(keep)
    return {
      version: MEADOW_VERSION,
      id: 'lapwing-bog',
      name: 'Lapwing Bog',
      ground: await groundOf(keep, 'Bog', SIDE, bogAt),
      water: { shown: true, level: 0 },
      assets,
      nextAsset: assets.length,
      opened: null,
      plantings: plantings(),
      ...emptyThings(),
      habitats: [],
      views: [
        { id: 'pools', name: 'Across the pools', position: [18, 2.4, 50], target: [-4, 0.4, 10] },
        { id: 'over', name: 'Over the bog', position: [70, 46, 96], target: [0, 0, 0] },
      ],
    }
  },
}
