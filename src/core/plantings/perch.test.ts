import * as THREE from 'three'
import { assetOf, boxShape, growAll, hilly, meshOf, rowsOf, spreadOf, surroundingsOf } from '../../testing/fields.ts'
import { weldShape } from '../grounds/mesh-shape.ts'
import type { MeshShape } from '../grounds/mesh-shape.ts'
import { treeOf } from '../grounds/mesh-tree.ts'
import { createSolid } from '../grounds/solid.ts'
import type { PlacedMesh, Planting } from '../meadow.ts'
import { mixAssets, preparePlanting } from '../grow.ts'
import { PLANTINGS } from './index.ts'

const terrain = hilly(200, 201)
const ASSETS = [assetOf('a', 0.2)]

/** A shape of triangles of another library, its corners joined. */
function shapeOf(geometry: THREE.BufferGeometry): MeshShape {
  const flat = geometry.index ? geometry.toNonIndexed() : geometry
  return weldShape([...(flat.getAttribute('position').array as Float32Array)].map((value) => Math.round(value * 1e5) / 1e5))
}

/** A cuboid with three square tunnels through it: a body of genus 3, of unit squares of two triangles. */
function withTunnels(): MeshShape {
  const solid = (x: number, y: number, z: number) => x >= 0 && x < 7 && y >= 0 && y < 3 && z >= 0 && z < 3 && !(y === 1 && x % 2 === 1)
  const corners: number[] = []
  const sides = [[1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0], [0, 0, 1], [0, 0, -1]]
  for (let x = 0; x < 7; x++)
    for (let y = 0; y < 3; y++)
      for (let z = 0; z < 3; z++)
        for (const [dx, dy, dz] of sides) {
          if (!solid(x, y, z) || solid(x + dx, y + dy, z + dz)) continue
          const n = new THREE.Vector3(dx, dy, dz)
          const u = new THREE.Vector3(dy, dz, dx)
          const v = n.clone().cross(u)
          const middle = new THREE.Vector3(x + 0.5, y + 0.5, z + 0.5).addScaledVector(n, 0.5)
          const at = (a: number, b: number) => middle.clone().addScaledVector(u, a / 2).addScaledVector(v, b / 2)
          for (const one of [at(-1, -1), at(1, -1), at(1, 1), at(-1, -1), at(1, 1), at(-1, 1)]) corners.push(one.x, one.y, one.z)
        }
  return weldShape(corners)
}

function perched(shape: MeshShape, params: Planting['params'], placed: Partial<PlacedMesh> = {}, rest: Partial<Planting> = {}) {
  const mesh = meshOf({ id: 'body', shape: 'body', position: [0, 40, 0], ...placed })
  const planting = spreadOf(params, { kind: 'perch', grounds: ['body'], ...rest })
  return rowsOf(growAll(planting, terrain, { assets: ASSETS, surroundings: { solids: [createSolid(mesh, shape, treeOf)] } }))
}

const counts = (shape: MeshShape) => ['face', 'edge', 'corner'].map((at) => perched(shape, { at }).length)
const axis = (rotation: readonly number[], x: number, y: number, z: number) => new THREE.Vector3(x, y, z).applyQuaternion(new THREE.Quaternion(...(rotation as [number, number, number, number])))

describe('perches', () => {
  it('of a cube, an icosahedron, a dodecahedron and a body with three tunnels are as many as it has faces, edges and corners', () => {
    expect(counts(boxShape(1, 2, 3))).toEqual([6, 12, 8])
    expect(counts(shapeOf(new THREE.IcosahedronGeometry(2)))).toEqual([20, 30, 12])
    // Its five-cornered faces are of three triangles each.
    expect(counts(shapeOf(new THREE.DodecahedronGeometry(2)))).toEqual([12, 30, 20])
    // Of its 18 faces, the front and the back have three windows each; four walls to a tunnel.
    const [faces, edges, corners] = counts(withTunnels())
    expect([faces, edges, corners]).toEqual([6 + 3 * 4, 12 + 3 * 12, 8 + 3 * 8])
    // Euler and Poincaré: corners − edges + faces − (windows in faces) = 2 − 2 · genus.
    expect(corners - edges + faces - 6).toBe(2 - 2 * 3)
  })

  it('stand at the middles of faces, square to them, along their longest edges, however the mesh stands', () => {
    const shape = boxShape(1, 2, 3)
    for (const [turn, size] of [[[0, 0, 0], 1], [[20, -50, 70], 1.7]] as const) {
      const rows = perched(shape, { at: 'face' }, { turn: [...turn], size })
      const matrix = new THREE.Matrix4().compose(new THREE.Vector3(0, 40, 0), new THREE.Quaternion().setFromEuler(new THREE.Euler(...(turn.map((one) => (one * Math.PI) / 180) as [number, number, number]), 'ZYX')), new THREE.Vector3(size, size, size))
      for (const [x, y, z, long] of [[1, 0, 0, 2], [-1, 0, 0, 2], [0, 2, 0, 2], [0, -2, 0, 2], [0, 0, 3, 1], [0, 0, -3, 1]]) {
        const wanted = new THREE.Vector3(x, y, z).applyMatrix4(matrix)
        const row = rows.find((one) => wanted.distanceTo(new THREE.Vector3(one.x, one.y, one.z)) < 1e-4)
        if (!row) throw new Error('no perch there')
        expect(axis(row.rotation, 0, 1, 0).dot(new THREE.Vector3(x, y, z).transformDirection(matrix))).toBeCloseTo(1, 5)
        const along = new THREE.Vector3().setComponent(long, 1).transformDirection(matrix)
        expect(Math.abs(axis(row.rotation, 1, 0, 0).dot(along))).toBeCloseTo(1, 5)
        expect(row.size).toBeCloseTo(1, 6)
      }
    }
  })

  it('are sunk along their own up, left out by share, taken by conditions that look at the face', () => {
    const shape = shapeOf(new THREE.IcosahedronGeometry(2, 20))
    const all = perched(shape, { at: 'corner' })
    expect(all.length).toBeGreaterThan(3000)
    const sunk = perched(shape, { at: 'corner', lift: { from: -0.5, to: -0.5 } })
    for (const { x, y, z } of sunk) expect(Math.hypot(x, y - 40, z)).toBeCloseTo(1.5, 2)
    const share = perched(shape, { at: 'corner', leftOut: 0.4 }).length / all.length
    expect(Math.abs(share - 0.6)).toBeLessThan(4 * Math.sqrt(0.24 / all.length))
    const steep = { id: 's', kind: 'slope', on: true, invert: false, params: { slope: { from: 0, to: 30 }, soft: 0 } }
    const flat = perched(shape, { at: 'face' }, {}, { habitat: [{ ...steep, params: { ...steep.params } }] })
    expect(flat.length).toBeGreaterThan(100)
    for (const { rotation } of flat) expect(axis(rotation, 0, 1, 0).y).toBeGreaterThan(Math.cos((30.2 * Math.PI) / 180))
  })

  it('keep their rooms straight through space, and say when they are too many or have no mesh', () => {
    const shape = shapeOf(new THREE.IcosahedronGeometry(2, 12))
    const rows = perched(shape, { at: 'corner', room: 1 })
    expect(rows.length).toBeGreaterThan(50)
    for (const [k, a] of rows.entries()) for (const b of rows.slice(k + 1)) expect(Math.hypot(a.x - b.x, a.y - b.y, a.z - b.z)).toBeGreaterThan(0.4 - 1e-4)
    expect(PLANTINGS.get('perch').needs(spreadOf({}, { kind: 'perch' }))).toContain('choose a mesh')
  })

  it('tell how far they have come where a mesh is looked through for the first time, and with which', () => {
    const heard: [number, string][] = []
    const solid = createSolid(meshOf({ id: 'body', shape: 'body', name: 'Buoy' }), shapeOf(new THREE.IcosahedronGeometry(2, 6)), treeOf)
    const planting = spreadOf({ at: 'face' }, { kind: 'perch', grounds: ['body'] })
    const prepare = () => preparePlanting(planting, mixAssets(planting, ASSETS), surroundingsOf(terrain, { solids: [solid] }), { progress: (share, doing) => heard.push([share, doing]) })
    prepare()
    const shares = heard.map(([share]) => share)
    expect(shares.length).toBeGreaterThan(3)
    expect([...shares].sort((a, b) => a - b)).toEqual(shares)
    expect(Math.max(...shares)).toBeLessThan(1)
    expect(new Set(heard.map(([, doing]) => doing))).toEqual(new Set(['Looking for places on “Buoy”']))
    heard.length = 0
    prepare()
    expect(heard).toEqual([])
  })
})
