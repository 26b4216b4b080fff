import { NodeIO } from '@gltf-transform/core'
import { ALL_EXTENSIONS } from '@gltf-transform/extensions'
import Papa from 'papaparse'
import { Matrix4, Quaternion, Vector3 } from 'three'
import { createTerrain, heightAt } from '../core/grounds/terrain.ts'
import { partOf } from '../core/posy/posy.ts'
import { makeDemo } from '../demo/demo-meadow.ts'
import { bytesToHeights } from '../document/blobs.ts'
import { posyOf } from '../document/edits/posies.ts'
import { growAll } from '../testing/fields.ts'
import { concatBytes } from './glb.ts'
import type { HandoffInput } from './handoff.ts'
import { countOf, modelsOf } from './handoff.ts'
import { HANDOFF_FORMS } from './handoff-forms.ts'

/** A planting of posies of posies as it is handed off: what other readers find in the files, against matrices of another library. */

const { meadow: demo, blobs } = await makeDemo()
const heights = bytesToHeights(blobs.get(demo.ground.blob) as Uint8Array<ArrayBuffer>)
const terrain = createTerrain(heights, 513, 513, 400, 400)
const quarter: [number, number, number, number] = [0, Math.SQRT1_2, 0, Math.SQRT1_2]
const INNER = [partOf('boulder', { place: [0.5, 0.1, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] }, 0xff8000ff), partOf('post', { place: [-0.7, 0, 0.4], turn: quarter, size: [0.5, 0.5, 0.5] })]
const OUTER = [partOf('inner', { place: [3, 0, -2], turn: quarter, size: [1.2, 1.2, 1.2] }), partOf('thorn-shrub', { place: [-2, 0.2, 1], turn: [0, 0, 0, 1], size: [1, 1, 1] })]

/** The demo with the pines swapped for posies that drape, of which the inner one does not. */
function inputWith(drapes: boolean): HandoffInput {
  const inner = { ...posyOf('Inner', INNER, false, demo.assets), id: 'inner', number: demo.nextAsset }
  const outer = { ...posyOf('Outer', OUTER, drapes, [...demo.assets, inner]), id: 'outer', number: demo.nextAsset + 1 }
  const assets = [...demo.assets, inner, outer]
  const pines = demo.plantings.find(({ id }) => id === 'pines')
  if (!pines) throw new Error('no pines')
  const planting = { ...pines, mix: [{ asset: 'outer', share: 1 }] }
  const meadow = { ...demo, assets, plantings: [planting] }
  return { meadow, plantings: [{ id: planting.id, blocks: growAll(planting, terrain, { assets, water: 0 }) }], assets: new Map(demo.assets.map(({ id, blob }) => [id, blobs.get(blob) as Uint8Array<ArrayBuffer>])), heights }
}

const matrixOf = ({ place, turn, size }: { readonly place: readonly number[]; readonly turn: readonly number[]; readonly size: readonly number[] }) => new Matrix4().compose(new Vector3(...place), new Quaternion(...turn), new Vector3(...size))

/** Where all models are to stand, by their assets. */
function wantedOf({ plantings: [{ blocks }] }: HandoffInput, drapes: boolean): Map<string, Matrix4[]> {
  const wanted = new Map<string, Matrix4[]>(['boulder', 'post', 'thorn-shrub'].map((id) => [id, []]))
  for (const b of blocks)
    for (let i = 0; i < b.count; i++) {
      const own = matrixOf({ place: [...b.position.subarray(3 * i, 3 * i + 3)], turn: [...b.rotation.subarray(4 * i, 4 * i + 4)], size: [...b.scale.subarray(3 * i, 3 * i + 3)] })
      const at = new Vector3().setFromMatrixPosition(own)
      for (const part of OUTER) {
        const whole = own.clone().multiply(matrixOf(part))
        // Each part is raised as the ground below its place in plan is; what keeps its shape as a whole.
        const below = new Vector3(part.place[0], 0, part.place[2]).applyMatrix4(own)
        if (drapes) whole.elements[13] += heightAt(terrain, below.x, below.z) - heightAt(terrain, at.x, at.z) - (below.y - at.y)
        if (part.asset === 'inner') for (const leaf of INNER) wanted.get(leaf.asset)?.push(whole.clone().multiply(matrixOf(leaf)))
        else wanted.get(part.asset)?.push(whole)
      }
    }
  return wanted
}

const away = (a: Matrix4, b: Matrix4) => Math.max(...a.elements.map((value, k) => Math.abs(value - b.elements[k])))

describe.each([true, false])('posies of posies handed off (each part on the ground: %s)', (drapes) => {
  const input = inputWith(drapes)
  const wanted = wantedOf(input, drapes)
  const posies = input.plantings[0].blocks.reduce((sum, { count }) => sum + count, 0)

  it('count as the models that they are made of', () => {
    expect(posies).toBeGreaterThan(20)
    expect(countOf(input)).toBe(3 * posies)
    expect(modelsOf(input).map(({ id }) => id).sort()).toEqual(['boulder', 'post', 'thorn-shrub'])
  })

  it('stand in the table where matrices put them, with their tints', () => {
    const text = new TextDecoder().decode(concatBytes(HANDOFF_FORMS.get('csv').write(input, {}, () => undefined)))
    const { data } = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true })
    expect(data.length).toBe(3 * posies)
    expect(new Set(data.map(({ id }) => id)).size).toBe(3 * posies)
    for (const row of data) {
      const id = demo.assets.find(({ name }) => name === row.asset)?.id ?? ''
      const at = matrixOf({ place: [row.x, row.y, row.z].map(Number), turn: [row.rotation_x, row.rotation_y, row.rotation_z, row.rotation_w].map(Number), size: [row.scale_x, row.scale_y, row.scale_z].map(Number) })
      expect(Math.min(...(wanted.get(id) ?? []).map((one) => away(one, at)))).toBeLessThan(1e-4)
      expect(row.tint).toBe(id === 'boulder' ? '#ff8000ff' : '#ffffffff')
    }
    // Each place once.
    for (const [id, places] of wanted) expect(data.filter(({ asset }) => asset === demo.assets.find((one) => one.id === id)?.name).length).toBe(places.length)
  })

  it('stand in a GLB as another reader reads it', async () => {
    const bare = { terrain: false, water: false, meshes: false }
    const document = await new NodeIO().registerExtensions(ALL_EXTENSIONS).readBinary(concatBytes(HANDOFF_FORMS.get('glb-nodes').write(input, bare, () => undefined)))
    const nodes = document.getRoot().listNodes().filter((node) => node.getMesh())
    expect(nodes.length).toBe(3 * posies)
    for (const node of nodes) expect(Math.min(...[...wanted.values()].flat().map((one) => away(one, new Matrix4().fromArray(node.getWorldMatrix()))))).toBeLessThan(1e-4)
    expect(document.getRoot().listMeshes().length).toBe(3)
  })
})
