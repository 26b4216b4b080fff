import { TERRAIN_ID } from '../src/core/grounds/ground.ts'
import { CONDITIONS } from '../src/core/fields/conditions/index.ts'
import type { Terrain } from '../src/core/grounds/terrain.ts'
import { createTerrain } from '../src/core/grounds/terrain.ts'
import type { ParamValue } from '../src/core/kinds.ts'
import { defaultsOf } from '../src/core/kinds.ts'
import { fractal2 } from '../src/core/math/noise.ts'
import type { Asset, Planting } from '../src/core/meadow.ts'
import { PLANTINGS } from '../src/core/plantings/index.ts'

/** The ground and plantings that are measured. */
export const SAMPLES = 2049
export const SIZE = 2048
export const SPACING = 1.5

export function benchHeights(): Float32Array<ArrayBuffer> {
  const heights = new Float32Array(SAMPLES * SAMPLES)
  for (let j = 0; j < SAMPLES; j++)
    for (let i = 0; i < SAMPLES; i++) heights[j * SAMPLES + i] = 15 * fractal2(1, i / 300, j / 300, 3)
  return heights
}

export const benchTerrain = (heights: Float32Array): Terrain => createTerrain(heights, SAMPLES, SAMPLES, SIZE, SIZE)

export function benchAssets(rooms: readonly number[]): Asset[] {
  return rooms.map((room, i) => ({
    id: `asset-${i}`,
    number: i,
    name: `Asset ${i}`,
    category: '',
    tags: [],
    licence: '',
    parts: [],
    drapes: false,
    blob: '0'.repeat(64),
    standIns: [],
    size: [1, 1, 1],
    base: [-0.1, 0.1, 0.1, 0.1, 0.1, -0.1, -0.1, -0.1],
    room,
    triangles: [],
  }))
}

/** An even spread with slope limit, two-octave patchiness and full stance, seated by the base. */
export function benchPlanting(assets: readonly Asset[]): Planting {
  const use = (kind: string, params: Record<string, ParamValue>) => ({
    id: kind,
    kind,
    on: true,
    invert: false,
    params: { ...defaultsOf(CONDITIONS.get(kind).params), ...params },
  })
  return {
    id: 'bench',
    kind: 'spread',
    name: 'Bench',
    colour: '#000000',
    visible: true,
    locked: false,
    freeWhileHidden: false,
    seed: 5,
    mix: assets.map((asset) => ({ asset: asset.id, share: 1 })),
    habitat: [
      use('slope', { slope: { from: null, to: 30 } }),
      use('patchiness', { size: 20, coverage: 0.85, octaves: 2 }),
    ],
    combine: 'all',
    drivers: [],
    grounds: [TERRAIN_ID],
    along: [],
    base: null,
    params: { ...defaultsOf(PLANTINGS.get('spread').params), spacing: SPACING, follow: 0.5 },
  }
}
