import { fractal2 } from '../../core/math/noise.ts'
import { smoothstep } from '../../core/math/portable.ts'
import type { Planting } from '../../core/meadow.ts'
import { MEADOW_VERSION } from '../../core/meadow.ts'
import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import { emptyThings, newCondition, newOutline, newPlanting, PLANTING_COLOURS } from '../../document/new-planting.ts'
import type { BuiltPart } from '../../formats/asset-build.ts'
import { addBox, dice, mixRgb, paint, partOf, startSculpture } from '../assets/sculptor.ts'
import { makeShelf } from '../assets/shelf.ts'
import type { DemoMesh } from '../keep-meshes.ts'
import { keepMeshes } from '../keep-meshes.ts'
import type { Starter } from './define.ts'
import { groundOf } from './define.ts'

const SIDE = { samples: 385, size: 150 }

/** Height of the quarry: a level floor with a pool, a haul road, spoil heaps, and cut walls on three sides. */
function quarryAt(x: number, z: number): number {
  const rough = fractal2(71, x / 26, z / 26, 3)
  const away = Math.max(Math.abs(x) - 44 - 5 * rough, -z - 38 - 4 * rough)
  // Two benches of the cut.
  const wall = 8 * smoothstep(away / 2.4) + 7 * smoothstep((away - 12 - 3 * rough) / 2.4) + 2.5 * smoothstep((away - 18) / 22) * (1 + rough)
  const pool = 1.5 * smoothstep(1 - Math.sqrt(((x + 20) / 17) ** 2 + ((z - 12) / 11) ** 2))
  const heaps = [[22, -20, 12, 4.6], [30, 6, 9, 3.2], [-6, -24, 8, 2.4]].reduce((sum, [hx, hz, wide, high]) => sum + high * smoothstep(1 - Math.sqrt((x - hx) ** 2 + (z - hz) ** 2) / wide), 0)
  return 0.5 + wall + heaps - 1.9 * pool + 0.22 * rough + 0.07 * fractal2(72, x / 2.6, z / 2.6, 2)
}

const STONE_LIGHT = paint('#bdb29c')
const STONE_DARK = paint('#8a8070')
const RUST = paint('#7a4a32')

/** A ledge that was left standing: blocks in courses, each set back or out a little, under an overhang. */
function buildLedge(): BuiltPart[] {
  const s = startSculpture()
  const roll = dice(1101)
  for (let course = 0; course < 6; course++) {
    const low = course * 0.95 - 0.4
    const back = course < 4 ? 0.35 * course : 0.35 * 3 - 1.1
    for (let x = -6.5; x < 6.4; ) {
      const wide = Math.min(roll(1.2, 2.4), 6.5 - x)
      const out = back + roll(-0.16, 0.16)
      addBox(s, [x + 0.03, low, -2.6], [x + wide - 0.03, low + 0.9, 2.2 - out], mixRgb(STONE_DARK, STONE_LIGHT, roll()))
      x += wide
    }
  }
  return [partOf(s, 'Courses', 0.95, false)]
}

/** A loading bin on four legs, of rusty plate: something to keep out of, though things may stand below it. */
function buildBin(): BuiltPart[] {
  const s = startSculpture()
  const roll = dice(1121)
  for (const x of [-1.5, 1.5]) for (const z of [-1.2, 1.2]) addBox(s, [x - 0.13, -0.6, z - 0.13], [x + 0.13, 2.6, z + 0.13], mixRgb(RUST, paint('#3c3a38'), 0.5))
  for (let k = 0; k < 5; k++) {
    const grow = 0.16 * k
    addBox(s, [-1.3 - grow, 2.4 + 0.5 * k, -1 - grow], [1.3 + grow, 2.88 + 0.5 * k, 1 + grow], mixRgb(RUST, paint('#a06a45'), roll()))
  }
  return [partOf(s, 'Plates', 0.7, false)]
}

const MESHES: readonly DemoMesh[] = [
  { id: 'ledge', name: 'Left ledge', role: 'ground', position: [6, 0.4, -8], turn: [0, 24, 0], size: 1, build: buildLedge },
  { id: 'bin', name: 'Loading bin', role: 'obstacle', position: [-16, 0.5, -14], turn: [0, -16, 0], size: 1, build: buildBin },
]

const slope = (from: number | null, to: number | null, soft = 6) => newCondition('slope', { slope: { from, to }, soft }, `slope-${from}-${to}`)
const dry = newCondition('above-water', { above: { from: 0.05, to: null }, soft: 0.15 }, 'dry')
const clearOfTheBin = newCondition('obstacle', { mesh: 'bin', margin: 0.4, tall: 1, soft: 0.4 }, 'bin')
const offTheRoad = newCondition('patch', { patch: 'yard', side: 'outside', soft: 3 }, 'yard')

function plantings(): Planting[] {
  const colour = (i: number) => PLANTING_COLOURS[i % PLANTING_COLOURS.length]
  return [
    newPlanting({
      id: 'blocks',
      name: 'Fallen blocks',
      colour: colour(6),
      seed: 81,
      mix: [
        { asset: 'boulder', share: 1 },
        { asset: 'slab', share: 2 },
      ],
      habitat: [slope(4, 34), dry, clearOfTheBin, offTheRoad, newCondition('height', { height: { from: null, to: 7 }, soft: 1 }, 'floor')],
      params: { by: 'count', count: 240, placing: 'random', size: { from: 0.5, to: 2 }, sizeSpread: 'middle', follow: 0.7, lift: { from: -0.2, to: -0.04 } },
    }),
    newPlanting({
      id: 'pioneers',
      name: 'Young birches',
      colour: colour(3),
      seed: 82,
      mix: [{ asset: 'birch', share: 1 }],
      habitat: [slope(null, 26), dry, clearOfTheBin, offTheRoad, newCondition('patchiness', { size: 16, coverage: 0.3, contrast: 0.8, shift: 2 }, 'groups')],
      params: { spacing: 3.2, placing: 'natural', arrangement: 0.8, clump: 6, size: { from: 0.25, to: 0.8 }, follow: 0, lean: { from: 0, to: 6 } },
    }),
    newPlanting({
      id: 'rubble',
      name: 'Rubble at the foot of the walls',
      colour: colour(5),
      seed: 83,
      mix: [{ asset: 'rubble', share: 1 }],
      habitat: [slope(9, 42), dry, clearOfTheBin, offTheRoad],
      params: { spacing: 0.75, size: { from: 0.5, to: 1.5 }, follow: 0.85, lift: { from: -0.05, to: 0 }, room: 0.6 },
    }),
    newPlanting({
      id: 'ferns',
      name: 'Ferns on the ledge',
      colour: colour(0),
      seed: 84,
      mix: [
        { asset: 'wall-fern', share: 3 },
        { asset: 'bog-moss', share: 2, where: slope(null, 35), elsewhere: 0.05 },
      ],
      grounds: ['ledge'],
      habitat: [newCondition('patchiness', { size: 2.2, coverage: 0.5, contrast: 0.6, shift: 7 }, 'damp')],
      params: { spacing: 0.3, fill: 'all-over', size: { from: 0.5, to: 1.3 }, follow: 0.75, lean: { from: 0, to: 12 }, room: 0.4 },
    }),
    newPlanting({
      id: 'scrub',
      name: 'Heather and grass',
      colour: colour(2),
      seed: 85,
      mix: [
        { asset: 'dry-grass', share: 5 },
        { asset: 'heather', share: 2, where: newCondition('height', { height: { from: 8, to: null }, soft: 2 }, 'benches'), elsewhere: 0.15 },
        { asset: 'thyme', share: 1 },
      ],
      grounds: [TERRAIN_ID],
      habitat: [slope(null, 32), dry, clearOfTheBin, offTheRoad, newCondition('patchiness', { size: 10, coverage: 0.6, contrast: 0.5, shift: 4 }, 'scrub')],
      params: { spacing: 0.65, size: { from: 0.6, to: 1.3 }, follow: 0.5, lean: { from: 0, to: 9 }, room: 0.5, ownKind: 0.4, grove: 3 },
    }),
  ]
}

export const quarry: Starter = {
  kind: 'quarry',
  name: 'Dunmarl Quarry',
  is: 'An old quarry floor with cut walls, a pool, spoil heaps and a ledge that ferns have taken.',
  shows: 'Meshes to grow on and to keep out of, an exact count, a patch to keep clear.',
  async make(keep) {
    const assets = await makeShelf(keep)
    return {
      version: MEADOW_VERSION,
      id: 'dunmarl-quarry',
      name: 'Dunmarl Quarry',
      ground: await groundOf(keep, 'Quarry floor', SIDE, quarryAt),
      water: { shown: true, level: -0.1 },
      assets,
      nextAsset: assets.length,
      opened: null,
      plantings: plantings(),
      ...emptyThings(),
      outlines: [newOutline({ id: 'yard', kind: 'patch', name: 'Yard and haul road', colour: '#d7552f', smooth: true, lines: [[-10, 74, 10, 74, 12, 40, 4, 18, -8, -4, -26, -8, -28, -20, -10, -22, 2, 4, -4, 24, -4, 44]] })],
      meshes: await keepMeshes(MESHES, keep),
      habitats: [],
      views: [
        { id: 'floor', name: 'Across the floor', position: [-4, 4, 33], target: [1, 1.6, -8] },
        { id: 'rim', name: 'From the rim', position: [48, 34, 62], target: [-4, 0, -4] },
      ],
    }
  },
}
