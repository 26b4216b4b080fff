import * as THREE from 'three'
import { boxShape, assetOf, growAll, hilly, meshOf, outlineOf, rowsOf, spreadOf } from '../../testing/fields.ts'
import { TERRAIN_ID } from '../grounds/ground.ts'
import { treeOf } from '../grounds/mesh-tree.ts'
import { createSolid } from '../grounds/solid.ts'
import { heightAt } from '../grounds/terrain.ts'
import type { PatternBase, Planting } from '../meadow.ts'
import { PLANTINGS } from './index.ts'
import { toldAs } from './row.ts'
import type { RowValues } from './row.ts'

const terrain = hilly(200, 201)
const ASSETS = [assetOf('a', 0.2)]
const UPRIGHT: PatternBase = { host: TERRAIN_ID, place: [10, 2, -5], turn: [0, 0, 0, 1], size: 1 }

function pattern(kind: string, params: Planting['params'], rest: Partial<Planting> = {}): Planting {
  return spreadOf(params, { kind, base: PLANTINGS.get(kind).based ? UPRIGHT : null, ...rest })
}

const grow = (planting: Planting, rest: Parameters<typeof growAll>[2] = {}) => rowsOf(growAll(planting, terrain, { assets: ASSETS, ...rest }))
const byId = (rows: ReturnType<typeof grow>) => new Map(rows.map((row) => [row.id, row]))

describe('a row', () => {
  it('stands on the ground under it, or at its own heights above its base', () => {
    const onGround = grow(pattern('row', { count1: 9, east1: 2.25 }))
    expect(onGround.length).toBe(9)
    for (const { x, y, z } of onGround) {
      expect((x - 10) / 2.25).toBeCloseTo(Math.round((x - 10) / 2.25), 4)
      expect([y, z]).toEqual([expect.closeTo(heightAt(terrain, x, z), 3), -5])
    }
    const foot = heightAt(terrain, 10, -5)
    const stairs = grow(pattern('row', { count1: 5, east1: 0.3, up1: 0.18, land: 0 })).sort((a, b) => a.x - b.x)
    stairs.forEach(({ x, y }, k) => expect([x, y]).toEqual([expect.closeTo(10 + 0.3 * k, 4), expect.closeTo(foot + 2 + 0.18 * k, 4)]))
    const half = grow(pattern('row', { count1: 2, land: 0.5 })).sort((a, b) => a.x - b.x)
    half.forEach(({ x, y, z }) => expect(y).toBeCloseTo((foot + 2 + heightAt(terrain, x, z)) / 2, 3))
  })

  it('keeps member k the member k where the count changes, and throws each the same dice', () => {
    const params = { east1: 1.5, directions: '2', count2: 3, south2: 2, size: { from: 0.5, to: 1.5 }, turn: { from: 0, to: 360 } }
    const few = grow(pattern('row', { ...params, count1: 4 }))
    const many = byId(grow(pattern('row', { ...params, count1: 9, count2: 5 })))
    expect(few.length).toBe(12)
    for (const row of few) expect(many.get(row.id)).toMatchObject({ x: row.x, y: row.y, z: row.z })
  })

  it('tells the same members by step and by run', () => {
    const { params } = pattern('row', { count1: 7, east1: 1, up1: 0.2, turn1: 30, factor1: 1.05, directions: '2', count2: 3, east2: 0, south2: 4 })
    const run = toldAs(params as RowValues, 'run')
    expect(run).not.toBeNull()
    const [byStep, byRun] = [byId(grow(pattern('row', params))), grow(pattern('row', { ...params, ...run }))]
    expect(byRun.length).toBe(21)
    for (const { id, x, y, z } of byRun) for (const [got, wanted] of [[x, byStep.get(id)?.x], [y, byStep.get(id)?.y], [z, byStep.get(id)?.z]]) expect(got).toBeCloseTo(wanted as number, 3)
  })

  it('stands about its base where its middle is to be there', () => {
    const rows = grow(pattern('row', { centred: true, directions: '2', count1: 5, east1: 2, count2: 4, south2: 3 }))
    for (const [key, by, wanted] of [['x', 10, 4], ['z', -5, 4.5]] as const) for (const sign of [-1, 1]) expect(sign * Math.max(...rows.map((row) => sign * (row[key] - by)))).toBeCloseTo(sign * wanted, 4)
  })

  it('has as many as fit into a length, and keeps them where it is told otherwise', () => {
    const params = { given: 'fit', fit1: 12, east1: 0.9 }
    const rows = grow(pattern('row', params))
    expect(rows.length).toBe(14)
    expect(Math.max(...rows.map(({ x }) => x)) - 10).toBeCloseTo(11.7, 5)
    // Exactly full is full.
    expect(grow(pattern('row', { given: 'fit', fit1: 9, east1: 0.9 })).length).toBe(11)
    // 1.2 / 0.1 is a hair below 12 in doubles.
    expect(grow(pattern('row', { given: 'fit', fit1: 1.2, east1: 0.1 })).length).toBe(13)
    expect(grow(pattern('row', { given: 'fit', fit1: 10, east1: 3, south1: 4 })).length).toBe(3)
    const all = pattern('row', params)
    for (const given of ['step', 'run'] as const) {
      const told = { ...all.params, ...toldAs(all.params as RowValues, given) }
      expect(told.given).toBe(given)
      const again = grow(pattern('row', told))
      expect(again.map(({ x }) => x).sort((a, b) => a - b).map((x) => expect.closeTo(x, 3) as number)).toEqual(rows.map(({ x }) => x).sort((a, b) => a - b))
      expect(grow(pattern('row', { ...told, ...toldAs(told as RowValues, 'fit') })).length).toBe(14)
    }
    expect(PLANTINGS.get('row').problem(pattern('row', { given: 'fit', fit1: 100000, east1: 0.1 }), [])).toContain('1,000,001 in order')
  })

  it('says what it cannot be: too many, all in one place, sizes that are none any more, a run that goes round', () => {
    const problem = (params: Planting['params']) => PLANTINGS.get('row').problem(pattern('row', params), [])
    expect(problem({ count1: 400000, directions: '2', count2: 400000 })).toContain('160,000,000,000 in order, and at most 400,000')
    expect(problem({ east1: 0 })).toContain('all 9 would stand in the same place')
    expect(problem({ factor1: 0.1, count1: 100 })).toContain('number 6 would be nothing any more')
    expect(problem({ factor1: 10, count1: 100 })).toContain('number 6 would be larger than anything')
    expect(problem({ given: 'run', turn1: 360, count1: 9 })).toContain('goes round in whole circles')
    expect(problem({ count1: 1, east1: 0 })).toBeNull()
    expect(grow(pattern('row', { east1: 0 }))).toEqual([])
  })

  it('keeps the rooms of members that steps made larger clear of each other, by brute force', () => {
    // Each is larger than the one before, and rows lie close: large ones and small ones meet in any order.
    const params = { directions: '2', count1: 24, east1: 0.4, factor1: 1.12, count2: 12, south2: 0.9, factor2: 1.05, room: 1, land: 0 }
    for (const seed of [1, 2, 3]) {
      const rows = grow(pattern('row', params, { seed }))
      expect(rows.length).toBeGreaterThan(20)
      for (const [k, a] of rows.entries())
        for (const b of rows.slice(k + 1)) expect(Math.hypot(a.x - b.x, a.y - b.y, a.z - b.z)).toBeGreaterThan(0.2 * (a.size + b.size) - 1e-3)
    }
  })

  it('leaves out a share, by the dice of each', () => {
    const rows = grow(pattern('row', { count1: 4000, east1: 0.01, leftOut: 0.3 }))
    expect(Math.abs(rows.length / 4000 - 0.7)).toBeLessThan(3.3 * Math.sqrt(0.21 / 4000))
    const less = new Set(grow(pattern('row', { count1: 4000, east1: 0.01, leftOut: 0.2 })).map(({ id }) => id))
    for (const { id } of rows) expect(less.has(id)).toBe(true)
  })
})

describe('members in order', () => {
  it('come down on meshes that are higher than the ground, square to them, by rays of another library', () => {
    for (const up of [9, 3]) comesDown(up)
  })

  /** A box so high up, half of it in the ground or above it. */
  function comesDown(up: number): void {
    const shape = boxShape(6, 1, 4)
    const mesh = meshOf({ id: 'box', shape: 'box', position: [18, up, -3], turn: [8, 25, -14], size: 1.2 })
    const three = new THREE.Mesh(new THREE.BufferGeometry().setAttribute('position', new THREE.BufferAttribute(shape.positions, 3)).setIndex(new THREE.BufferAttribute(shape.indices, 1)), new THREE.MeshBasicMaterial({ side: THREE.DoubleSide }))
    three.applyMatrix4(new THREE.Matrix4().compose(new THREE.Vector3(18, up, -3), new THREE.Quaternion().setFromEuler(new THREE.Euler(...(mesh.turn.map((one) => (one * Math.PI) / 180) as [number, number, number]), 'ZYX')), new THREE.Vector3(1.2, 1.2, 1.2)))
    three.updateMatrixWorld(true)
    const caster = new THREE.Raycaster()
    const params = { directions: '2', count1: 30, east1: 0.9, count2: 20, south2: 0.9, follow: 1 }
    for (const grounds of [[TERRAIN_ID, 'box'], ['box']]) {
      const rows = grow(pattern('row', params, { grounds }), { surroundings: { solids: [createSolid(mesh, shape, treeOf)] } })
      expect(rows.length).toBe(600)
      let onBox = 0
      for (const { x, y, z, rotation } of rows) {
        caster.set(new THREE.Vector3(x, 100, z), new THREE.Vector3(0, -1, 0))
        const [hit] = caster.intersectObject(three)
        const ground = grounds.length > 1 ? heightAt(terrain, x, z) : heightAt(terrain, 10, -5) + 2
        const wanted = hit && (grounds.length === 1 || hit.point.y > ground) ? hit.point.y : ground
        // At the very rim a ray may meet it or not.
        if (hit && hit.face && wanted === hit.point.y) {
          onBox++
          const up = new THREE.Vector3(0, 1, 0).applyQuaternion(new THREE.Quaternion(...(rotation as [number, number, number, number])))
          expect(up.distanceTo(hit.face.normal.clone().transformDirection(three.matrixWorld))).toBeLessThan(1e-3)
        }
        expect(y).toBeCloseTo(wanted, 2)
      }
      expect(onBox).toBeGreaterThan(up > 5 || grounds.length === 1 ? 60 : 20)
      if (up < 5 && grounds.length > 1) expect(onBox).toBeLessThan(90)
    }
  }
})

describe('a ring', () => {
  it('on the end of a drum that is turned and sized moves with it, by matrices of another library', () => {
    const shape = boxShape(1, 2, 1)
    // On its top, looking along its own up.
    const base: PatternBase = { host: 'drum', place: [0, 2, 0], turn: [0, 0, 0, 1], size: 1 }
    for (const [turn, size, position] of [[[0, 0, 0], 1, [0, 30, 0]], [[20, 50, 70], 1.7, [5, 40, -8]]] as const) {
      const drum = meshOf({ id: 'drum', shape: 'drum', position: [...position], turn: [...turn], size })
      const rows = grow(pattern('ring', { count: 7, radius: 0.8, land: 0 }, { base }), { surroundings: { solids: [createSolid(drum, shape, treeOf)] } })
      expect(rows.length).toBe(7)
      const matrix = new THREE.Matrix4().compose(new THREE.Vector3(...position), new THREE.Quaternion().setFromEuler(new THREE.Euler((turn[0] * Math.PI) / 180, (turn[1] * Math.PI) / 180, (turn[2] * Math.PI) / 180, 'ZYX')), new THREE.Vector3(size, size, size))
      const wanted = Array.from({ length: 7 }, (_, k) => new THREE.Vector3(0.8 * Math.sin((2 * Math.PI * k) / 7), 2, -0.8 * Math.cos((2 * Math.PI * k) / 7)).applyMatrix4(matrix))
      for (const at of wanted) expect(Math.min(...rows.map(({ x, y, z }) => at.distanceTo(new THREE.Vector3(x, y, z))))).toBeLessThan(1e-5)
      // Each stands square to the face.
      const up = new THREE.Vector3(0, 1, 0).transformDirection(matrix)
      for (const { rotation } of rows) expect(new THREE.Vector3(0, 1, 0).applyQuaternion(new THREE.Quaternion(rotation[0], rotation[1], rotation[2], rotation[3])).distanceTo(up)).toBeLessThan(1e-5)
    }
  })
})

describe('a trail', () => {
  it('lies along the rim of a patch, all round it and in its corners', () => {
    const patch = outlineOf('patch', [[-20, -10, 20, -10, 20, 10, -20, 10]], { id: 'patch' })
    const rows = grow(pattern('trail', { spacing: 2 }, { along: ['patch'] }), { outlines: [patch] })
    expect(rows.length).toBe(60)
    for (const { x, z } of rows) expect(Math.max(Math.abs(x) / 20, Math.abs(z) / 10)).toBeCloseTo(1, 5)
    for (const [x, z] of [[-20, -10], [20, -10], [20, 10], [-20, 10]]) expect(rows.some((row) => Math.hypot(row.x - x, row.z - z) < 1e-4)).toBe(true)
  })

  const line = outlineOf('path', [[-40, 0, 0, 20, 40, -10]], { id: 'line' })

  it('lies along its path on the ground; what reaches from place to place is as long as that', () => {
    const posts = grow(pattern('trail', { spacing: 3 }, { along: ['line'] }), { outlines: [line] })
    for (const { x, y, z } of posts) expect(y).toBeCloseTo(heightAt(terrain, x, z), 3)
    const rails = grow(pattern('trail', { spacing: 3, between: 'stretched', facing: 'right' }, { along: ['line'] }), { outlines: [line] })
    expect(rails.length).toBe(posts.length - 1)
    const [long] = ASSETS[0].size
    for (const { x, y, z, size, rotation } of rails) {
      const half = new THREE.Vector3((long * size) / 2, 0, 0).applyQuaternion(new THREE.Quaternion(rotation[0], rotation[1], rotation[2], rotation[3]))
      for (const sign of [-1, 1]) {
        const end = half.clone().multiplyScalar(sign).add(new THREE.Vector3(x, y, z))
        expect(Math.min(...posts.map((post) => end.distanceTo(new THREE.Vector3(post.x, post.y, post.z))))).toBeLessThan(2e-4)
      }
    }
  })
})
