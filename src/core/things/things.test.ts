import fc from 'fast-check'
import { makeDemo } from '../../demo/demo-meadow.ts'
import type { Field } from './fields.ts'
import { imageOf, outlineOf, strokeOf } from '../../testing/fields.ts'
import type { Meadow, Outline } from '../meadow.ts'
import { pointsOf, polylines } from '../outlines/outline.ts'
import { BEACON } from './beacon.ts'
import { IMAGE } from './image.ts'
import { grownBlobsOf, listOfThings, REF_KINDS, refKind, THINGS } from './index.ts'
import { nameNearOutline } from './outline-near.ts'

const demo = (await makeDemo()).meadow
const meadow: Meadow = { ...demo, images: [{ ...imageOf(2, 2, () => [0, 0, 0, 0]).placed, blob: 'a'.repeat(64) }], strokes: [strokeOf('p', 'sow', [0, 0])], hands: [{ id: 'p', name: '', grounds: [], singles: [[]], touched: [[]] }], groups: [{ id: 'g', name: 'G', plantings: [], members: [[]], groups: [] }], runs: [{ id: 'r', name: 'R', kind: 'line', plantings: [], members: [[]], ground: 'terrain', from: [0, 0, 0], to: [1, 0, 0], spacing: 1, arc: 0, path: '' }], pegs: [{ id: 'e', name: 'E', ground: 'terrain', place: [0, 0, 0] }], selections: [{ id: 's', name: 'S', plantings: [], members: [[]] }] }

describe('every sort of thing', () => {
  for (const kind of THINGS.all)
    it(`${kind.kind}: says all that it holds, what it stands on, and what can name it`, () => {
      const list = listOfThings(meadow, kind)
      expect(list.length).toBeGreaterThan(0)
      for (const thing of list) {
        const said = Object.entries(kind.fields as Readonly<Record<string, Field>>).filter(([key, field]) => key in thing || !('mayMiss' in field)).map(([key]) => key)
        expect(Object.keys(thing).sort()).toEqual(['id', 'name', ...said].sort())
        const blobs = new Set(kind.blobs(thing))
        for (const hash of kind.grownBlobs(thing)) expect(blobs.has(hash)).toBe(true)
        // The name is nothing to what grows; the id is what names it.
        expect(kind.bare({ ...thing, name: 'Another' })).toEqual(kind.bare(thing))
        expect(kind.bare(thing).id).toBe(thing.id)
        // What is done by hand is named by nobody: it names its plantings. An outline is named as what it is, and as a line.
        expect(kind.references.filter(({ is }) => is(thing)).length).toBe(['stroke', 'hand', 'selection', 'group', 'run', 'peg'].includes(kind.kind) ? 0 : kind.kind === 'outline' ? 2 : 1)
      }
    })

  it('can be referred to by names that are each taken once', () => {
    const targets = ['asset', 'planting', 'painted', ...THINGS.all.flatMap(({ references }) => references.map(({ to }) => to))]
    expect(new Set(targets).size).toBe(targets.length)
    expect([...REF_KINDS.keys()].sort()).toEqual([...targets].sort())
    expect(refKind('path').of(meadow).map(({ id }) => id)).toEqual(meadow.outlines.filter(({ kind }) => kind === 'path').map(({ id }) => id))
    expect(() => refKind('mood')).toThrow('nothing is called "mood"')
  })

  it('growing looks into the pictures and shapes, each once', () => {
    const twice = { ...meadow, meshes: [...meadow.meshes, ...meadow.meshes.map((mesh) => ({ ...mesh, id: `${mesh.id} again` }))] }
    expect(grownBlobsOf(twice).sort()).toEqual([...new Set([...meadow.images.map(({ blob }) => blob), ...meadow.meshes.map(({ shape }) => shape)])].sort())
  })
})

const unit = fc.double({ min: 0, max: 1, noNaN: true })
const rect = fc.tuple(unit, unit).map(([a, b]) => ({ x0: 80 * a - 40, z0: 80 * b - 40, x1: 80 * a - 32, z1: 80 * b - 32 }))

/** Distance to the nearest segment, and whether a place is inside, by trying every segment. */
function looked(outline: Outline, x: number, z: number): { away: number; inside: boolean } {
  let away = Infinity
  let inside = false
  for (const line of polylines(outline)) {
    const n = line.length / 2
    for (let k = 0; k < (outline.kind === 'patch' || outline.closed ? n : n - 1); k++) {
      const [ax, az, bx, bz] = [line[2 * k], line[2 * k + 1], line[2 * ((k + 1) % n)], line[2 * ((k + 1) % n) + 1]]
      const [ex, ez] = [bx - ax, bz - az]
      const t = Math.max(0, Math.min(1, ((x - ax) * ex + (z - az) * ez) / (ex * ex + ez * ez || 1)))
      away = Math.min(away, Math.hypot(x - ax - t * ex, z - az - t * ez))
      if (az > z !== bz > z && x < ax + ((z - az) / (bz - az)) * (bx - ax)) inside = !inside
    }
  }
  return { away, inside: outline.kind === 'patch' && inside }
}

/** A star of many points, some moved. */
const star = fc.tuple(fc.array(unit, { minLength: 40, maxLength: 40 }), fc.boolean()).map(([radii, smooth]) =>
  outlineOf('patch', [radii.flatMap((r, k) => [(8 + 24 * r) * Math.cos((Math.PI * k) / 20), (8 + 24 * r) * Math.sin((Math.PI * k) / 20)])], { smooth }),
)

describe('what of an outline a tile looks at', () => {
  it('two outlines of one name near a tile are the same to every site in it', () => {
    let same = 0
    fc.assert(
      fc.property(star, fc.nat(39), unit, rect, unit, fc.array(fc.tuple(unit, unit), { minLength: 30, maxLength: 30 }), (outline, k, by, tile, far, sites) => {
        const moved = { ...outline, lines: pointsOf(outline).map((line) => line.map((value, i) => (i >> 1 === k ? value * (0.7 + 0.6 * by) : value))) }
        const reach = 6 * far
        if (nameNearOutline(outline, tile, reach) !== nameNearOutline(moved, tile, reach)) return
        same++
        for (const [a, b] of sites) {
          const [x, z] = [tile.x0 + a * (tile.x1 - tile.x0), tile.z0 + b * (tile.z1 - tile.z0)]
          const [before, after] = [looked(outline, x, z), looked(moved, x, z)]
          expect(after.inside).toBe(before.inside)
          expect(Math.min(after.away, reach)).toBe(Math.min(before.away, reach))
        }
      }),
      { numRuns: 600, seed: 20261126 },
    )
    // Most tiles are not near the one point that moved.
    expect(same).toBeGreaterThan(200)
  })

  it('a path is looked at as far beyond its own width as is asked, and a change of it there changes the name', () => {
    const path = outlineOf('path', [[-30, 0, 30, 0]], { width: 4 })
    const tile = { x0: -5, z0: 6, x1: 5, z1: 10 }
    expect(nameNearOutline(path, tile, 3.9)).toBe('')
    expect(nameNearOutline(path, tile, 4)).not.toBe('')
    const wider = { ...path, width: 4.5 }
    expect(nameNearOutline(wider, tile, 4)).not.toBe(nameNearOutline(path, tile, 4))
  })

  it('a patch of which only the inside reaches a tile has a name there', () => {
    const patch = outlineOf('patch', [[-30, -30, 30, -30, 30, 30, -30, 30]])
    expect(nameNearOutline(patch, { x0: -4, z0: -4, x1: 4, z1: 4 }, 1)).not.toBe('')
    expect(nameNearOutline(patch, { x0: 40, z0: 40, x1: 44, z1: 44 }, 1)).toBe('')
  })
})

describe('what of beacons and pictures a tile looks at', () => {
  it('a beacon as far as it reaches', () => {
    const beacon = { ...demo.beacons[0], x: 0, z: 0, reach: 10 }
    fc.assert(
      fc.property(rect, (tile) => {
        const near = Math.hypot(Math.max(tile.x0, 0, -tile.x1), Math.max(tile.z0, 0, -tile.z1)) < 10
        expect(BEACON.near(beacon, tile, 99, null) !== '').toBe(near)
      }),
      { numRuns: 200, seed: 3 },
    )
  })

  it('a picture where it lies, however it is turned', () => {
    const image = { ...meadow.images[0], x: 3, z: -2, sizeX: 20, sizeZ: 8 }
    fc.assert(
      fc.property(rect, fc.double({ min: -180, max: 180, noNaN: true }), fc.array(fc.tuple(unit, unit), { minLength: 40, maxLength: 40 }), (tile, turn, sites) => {
        if (IMAGE.near({ ...image, turn }, tile, 0, null) !== '') return
        const [c, s] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)]
        for (const [a, b] of sites) {
          const [dx, dz] = [tile.x0 + a * (tile.x1 - tile.x0) - 3, tile.z0 + b * (tile.z1 - tile.z0) + 2]
          expect(Math.abs(c * dx + s * dz) <= 10 && Math.abs(c * dz - s * dx) <= 4).toBe(false)
        }
      }),
      { numRuns: 300, seed: 5 },
    )
  })
})
