import { boxShape, hilly, rowsOf, solidOf, spreadOf, surroundingsOf, terrainOf } from '../../testing/fields.ts'
import { assetOf } from '../../testing/fields.ts'
import { createSites } from '../columns.ts'
import { mixAssets, preparePlanting } from '../grow.ts'
import { tileRect, tilesOver } from '../stages/tiles.ts'
import type { ParamValue } from '../kinds.ts'
import type { Block } from '../columns.ts'
import { TERRAIN_ID } from './ground.ts'
import { GROUNDS, groundsOf } from './index.ts'
import { groundOfSolid } from './mesh-ground.ts'
import type { MeshShape } from './mesh-shape.ts'
import { groundOfTerrain } from './terrain-ground.ts'
import type { Terrain } from './terrain.ts'
import { createTerrain, heightAt } from './terrain.ts'

const hills = hilly(40, 41)

function sitesAt(places: readonly (readonly number[])[]) {
  const sites = createSites(places.length)
  sites.count = places.length
  places.forEach(([x, y, z], i) => {
    sites.x[i] = x
    sites.y[i] = y
    sites.z[i] = z
    sites.weight[i] = 1
    sites.addressLow[i] = i
  })
  return sites
}

/** The same surface as a mesh: two triangles a cell, parted as the terrain parts them. */
function shapeOf({ columns, rows, sizeX, sizeZ, heights }: Terrain): MeshShape {
  const positions: number[] = []
  for (let j = 0; j < rows; j++) for (let i = 0; i < columns; i++) positions.push((i / (columns - 1) - 0.5) * sizeX, heights[j * columns + i], (j / (rows - 1) - 0.5) * sizeZ)
  const indices: number[] = []
  for (let j = 0; j + 1 < rows; j++)
    for (let i = 0; i + 1 < columns; i++) {
      const at = j * columns + i
      indices.push(at, at + columns, at + 1, at + 1, at + columns, at + columns + 1)
    }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) }
}

describe('the kinds of ground', () => {
  it('are found by name, in the order of the list, and no others', () => {
    const solids = [solidOf(boxShape(1, 1, 1), { id: 'one' }), solidOf(boxShape(2, 2, 2), { id: 'two' })]
    const around = surroundingsOf(hills, { solids })
    expect(groundsOf(['two', TERRAIN_ID, 'gone', 'one'], around).map(({ id }) => id)).toEqual(['two', TERRAIN_ID, 'one'])
    expect(GROUNDS.all.map(({ kind }) => kind)).toEqual(['mesh', 'terrain'])
  })

  it('cover what lies inside them: below a terrain, within a closed mesh, by half a millimetre or not', () => {
    const terrain = groundOfTerrain(hills)
    const below = sitesAt([[3, heightAt(hills, 3, 4) - 0.01, 4], [3, heightAt(hills, 3, 4) + 0.01, 4], [3, heightAt(hills, 3, 4) - 5e-4, 4], [90, -50, 0]])
    terrain.cover(below)
    expect([...below.weight]).toEqual([0, 1, 1, 1])
    // Turned by 45°, half as large again: the corner of the box reaches 3·√2 along x.
    const box = groundOfSolid(solidOf(boxShape(2, 1, 2), { position: [5, 10, 0], turn: [0, 45, 0], size: 1.5 }))
    const inside = sitesAt([[5, 10, 0], [5 + 4.2, 10, 0], [5 + 4.3, 10, 0], [5 + 3, 10, 3], [5, 11.4, 0], [5, 11.6, 0]])
    box.cover(inside)
    expect([...inside.weight]).toEqual([0, 0, 1, 1, 0, 1])
  })

  it('land sites: holes are dropped, heights are filled in where they are asked for, on a mesh nothing is changed', () => {
    const stored = Float32Array.from({ length: 25 }, (_, i) => (i === 6 ? NaN : i))
    const gappy = groundOfTerrain(createTerrain(stored, 5, 5, 40, 40))
    const places = Array.from({ length: 64 }, (_, i) => [((i % 8) - 3.5) * 5, -99, (Math.floor(i / 8) - 3.5) * 5])
    const landed = sitesAt(places)
    gappy.land(landed)
    gappy.raise(landed)
    // A node without a height takes the four cells around it away, a quarter of the ground.
    expect(landed.count).toBe(48)
    for (let i = 0; i < landed.count; i++) expect(landed.y[i]).toBeGreaterThanOrEqual(0)
    const flat = sitesAt(places)
    gappy.land(flat)
    expect([...flat.y.subarray(0, flat.count)].every((y) => y === -99)).toBe(true)
    const mesh = sitesAt(places)
    groundOfSolid(solidOf(boxShape(1, 1, 1))).raise(mesh)
    expect(mesh.count).toBe(64)
    expect(mesh.y[0]).toBe(-99)
  })

  it('are met by a line of sight where solid geometry says so', () => {
    const slope = groundOfTerrain(terrainOf((x) => 0.5 * x, 100, 11))
    const down = { origin: [10, 50, 3] as const, direction: [0, -1, 0] as const, reach: 100 }
    expect(slope.pick(down)).toEqual({ away: expect.closeTo(45, 3), place: { x: 10, y: expect.closeTo(5, 3), z: 3, normal: null } })
    expect(slope.pick({ ...down, reach: 40 })).toBeNull()
    const box = groundOfSolid(solidOf(boxShape(2, 2, 2), { position: [10, 20, 3], size: 2 }))
    expect(box.pick(down)).toEqual({ away: expect.closeTo(26, 4), place: { x: 10, y: expect.closeTo(24, 4), z: 3, normal: [expect.closeTo(0, 6), expect.closeTo(1, 6), expect.closeTo(0, 6)] } })
    expect(box.pick({ ...down, reach: 25 })).toBeNull()
    expect(box.pick({ ...down, origin: [40, 50, 3] })).toBeNull()
  })

  it('offer a lattice all over: the middles of cells, the corners of a mesh with unit normals', () => {
    const cells = groundOfTerrain(hills).lattice(10)
    expect(cells.count).toBe(100)
    expect([cells.x[0], cells.z[0], cells.x[99], cells.z[99]]).toEqual([-18, -18, 18, 18])
    const corners = groundOfSolid(solidOf(boxShape(1, 2, 3), { turn: [20, 30, 40], size: 2 })).lattice(10)
    expect(corners.count).toBe(8)
    for (let i = 0; i < 8; i++) {
      const { x, y, z } = corners.normals ?? { x: [], y: [], z: [] }
      expect(Math.hypot(x[i], y[i], z[i])).toBeCloseTo(1, 9)
      expect(Math.hypot(corners.x[i], corners.y[i], corners.z[i])).toBeCloseTo(2 * Math.sqrt(14), 4)
    }
  })
})

describe('one surface, as a terrain and as a mesh', () => {
  const mesh = solidOf(shapeOf(hills), { id: 'same', role: 'ground' })
  const assets = [assetOf('a', 0.3, [-0.4, 0.3, 0.4, 0.3, 0.4, -0.3, -0.4, -0.3])]

  function grown(ground: string, params: Record<string, ParamValue>) {
    const planting = spreadOf({ spacing: 2.5, room: 0, lift: { from: 0.1, to: 0.1 }, liftAlong: 'ground', ...params }, { grounds: [ground] })
    const prepared = preparePlanting(planting, mixAssets(planting, assets), surroundingsOf(hills, { solids: [mesh] }))
    const [{ tileSide, bounds }] = prepared.plots
    const rects = tileSide === 0 ? [bounds] : tilesOver(bounds, tileSide).map((tile) => tileRect(tileSide, tile))
    const blocks = rects.map((rect) => prepared.grow({ plot: 0, rect }, null, 1)).flatMap((result): Block[] => ('block' in result ? [result.block] : []))
    return rowsOf(blocks)
  }

  it('thrown from above, as many come to stand, at places of the surface, seated no deeper than the base needs', () => {
    for (const seat of ['centre', 'base']) {
      const [onTerrain, onMesh] = [grown(TERRAIN_ID, { seat, lift: { from: 0, to: 0 } }), grown('same', { seat, lift: { from: 0, to: 0 } })]
      // Other dice on each: as many to within the rim.
      expect(Math.abs(onTerrain.length - onMesh.length)).toBeLessThan(0.1 * onTerrain.length)
      const depth = (rows: typeof onMesh) => rows.map(({ x, y, z }) => heightAt(hills, x, z) - y)
      for (const sunk of [...depth(onTerrain), ...depth(onMesh)]) expect(sunk).toBeGreaterThan(seat === 'base' ? -1e-3 : -2e-3)
      const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length
      if (seat === 'base') expect(mean(depth(onTerrain)) / mean(depth(onMesh))).toBeCloseTo(1, 0)
      else for (const sunk of [...depth(onTerrain), ...depth(onMesh)]) expect(Math.abs(sunk)).toBeLessThan(2e-3)
    }
  })

  it('stands square on both: with the slope followed whole, up is the triangle’s own normal', () => {
    for (const ground of [TERRAIN_ID, 'same'])
      for (const { x, z, rotation: [qx, qy, qz, qw] } of grown(ground, { seat: 'centre', follow: 1, lean: { from: 0, to: 0 }, lift: { from: 0, to: 0 } })) {
        const up = [2 * (qx * qy - qw * qz), 1 - 2 * (qx * qx + qz * qz), 2 * (qy * qz + qw * qx)]
        const [u, v] = [x + 20, z + 20]
        const [i, j] = [Math.floor(u), Math.floor(v)]
        // Beside an edge the triangle is a matter of rounding.
        const [fu, fv] = [u - i, v - j]
        if (Math.min(fu, fv, 1 - fu, 1 - fv, Math.abs(fu + fv - 1)) < 1e-3) continue
        const h = (a: number, b: number) => hills.heights[(j + b) * 41 + i + a]
        const [gx, gz] = fu + fv < 1 ? [h(1, 0) - h(0, 0), h(0, 1) - h(0, 0)] : [h(1, 1) - h(0, 1), h(1, 1) - h(1, 0)]
        const length = Math.hypot(gx, 1, gz)
        expect(up[0]).toBeCloseTo(-gx / length, 3)
        expect(up[1]).toBeCloseTo(1 / length, 3)
        expect(up[2]).toBeCloseTo(-gz / length, 3)
      }
  })
})
