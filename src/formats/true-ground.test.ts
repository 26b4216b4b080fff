import { createTerrain } from '../core/grounds/terrain.ts'
import type { Meadow } from '../core/meadow.ts'
import { makeDemo } from '../demo/demo-meadow.ts'
import { readExported } from '../testing/exported-ground.ts'
import { growAll, spreadOf } from '../testing/fields.ts'
import { concatBytes } from './glb.ts'
import type { HandoffInput } from './handoff.ts'
import { HANDOFF_FORMS } from './handoff-forms.ts'

/** A made-up mountain side on a grid of 30 m, rough from sample to sample, with gaps as satellites leave them. */
const COLUMNS = 61
const ROWS = 47
const SIZE = [30 * (COLUMNS - 1), 30 * (ROWS - 1)] as const
const stored = new Float32Array(COLUMNS * ROWS)
for (let j = 0; j < ROWS; j++)
  for (let i = 0; i < COLUMNS; i++) {
    const rough = 12 * Math.sin(i * 12.9898 + j * 78.233)
    const gap = (i - 20) ** 2 + (j - 15) ** 2 < 60 || (i > 45 && j > 30 && (i + j) % 7 < 3) || i === 0
    stored[j * COLUMNS + i] = gap ? NaN : 400 + 9 * i - 4 * j + rough
  }
const terrain = createTerrain(stored, COLUMNS, ROWS, ...SIZE)

async function dressed(): Promise<HandoffInput> {
  const { meadow: demo, blobs } = await makeDemo()
  const asset = demo.assets[0]
  const planting = spreadOf({ spacing: 6, follow: 0.5, seat: 'centre', yields: false }, { mix: [{ asset: asset.id, share: 1 }] })
  const meadow: Meadow = {
    ...demo,
    ground: { ...demo.ground, name: 'Mountain side', columns: COLUMNS, rows: ROWS, sizeX: SIZE[0], sizeZ: SIZE[1] },
    plantings: [planting],
    meshes: Array.from({ length: 5 }, (_, k) => ({ ...demo.meshes[0], id: `copy ${k}`, position: [20 * k, 300, 0] as [number, number, number] })),
  }
  const mesh = blobs.get(demo.meshes[0].blob) as Uint8Array<ArrayBuffer>
  const assets = new Map([[asset.id, blobs.get(asset.blob) as Uint8Array<ArrayBuffer>], ...meadow.meshes.map(({ id }) => [id, mesh] as const)])
  return { meadow, plantings: [{ id: planting.id, blocks: growAll(planting, terrain, { assets: meadow.assets }) }], assets, heights: stored }
}

const input = await dressed()
const write = (form: string, values: object) => concatBytes(HANDOFF_FORMS.get(form).write(input, { terrain: true, water: false, meshes: true, ...values }, () => undefined))

describe('a coarse ground with gaps, handed off', () => {
  it('has every instance on the ground that goes with it, within 2 cm, and none in a gap', () => {
    const { height, places } = readExported(write('glb-instanced', {}), 'Mountain side')
    expect(places.length).toBeGreaterThan(20000)
    let worst = 0
    for (const [x, y, z] of places) {
      const ground = height(x, z)
      expect(ground).not.toBeNull()
      worst = Math.max(worst, Math.abs(y - (ground ?? 0)))
    }
    expect(worst).toBeLessThan(0.02)
  })

  it('covers what is there and nothing else: plants are as many as the ground that is left', () => {
    const { places } = readExported(write('glb-instanced', {}), 'Mountain side')
    let cells = 0
    for (let j = 0; j + 1 < ROWS; j++)
      for (let i = 0; i + 1 < COLUMNS; i++) if ([0, 1, COLUMNS, COLUMNS + 1].every((by) => !Number.isNaN(stored[j * COLUMNS + i + by]))) cells++
    const share = cells / ((COLUMNS - 1) * (ROWS - 1))
    expect(share).toBeLessThan(0.93)
    const whole = growAll(spreadOf({ spacing: 6, yields: false }), createTerrain(stored.map((h) => (h === h ? h : 400)), COLUMNS, ROWS, ...SIZE)).reduce((sum, { count }) => sum + count, 0)
    expect(places.length / whole).toBeGreaterThan(share - 0.01)
    expect(places.length / whole).toBeLessThan(share + 0.01)
  })

  it('says its size beforehand within a few percent, in every form', () => {
    const unique = [...new Set(input.assets.values())]
    const sizes = { meadow: input.meadow, plantings: input.plantings, assetBytes: input.assets.get(input.meadow.assets[0].id)?.length ?? 0, meshBytes: unique.at(-1)?.length ?? 0 }
    for (const form of HANDOFF_FORMS.all)
      for (const terrainToo of [true, false]) {
        const values = { terrain: terrainToo, water: false, meshes: true }
        const said = form.estimate(sizes, values)
        const true_ = write(form.kind, values).length
        // The ground is estimated without its gaps.
        expect(Math.abs(said - true_) / true_).toBeLessThan(0.06)
      }
  })

  it('writes a mesh that stands in five places once', () => {
    const with5 = write('glb-instanced', {}).length
    const without = write('glb-instanced', { meshes: false }).length
    const mesh = input.assets.get('copy 0')?.length ?? 0
    expect(with5 - without).toBeLessThan(1.1 * mesh + 3000)
  })
})
