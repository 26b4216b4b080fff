import { WebIO } from '@gltf-transform/core'
import { validateBytes } from 'gltf-validator'
import { readFileSync } from 'node:fs'
import { GRASSES } from '../demo/assets/grasses.ts'
import { buildAssetGlb } from './asset-build.ts'
import { NO_REPAIR } from './repair.ts'
import {  readModel, repairModel } from './asset-import.ts'
import { concatBytes, joinGlb, splitGlb } from './glb.ts'
import { makeStandIns } from './stand-ins.ts'

const file = (name: string) => new Uint8Array(readFileSync(`src/testing/models/${name}`)) as Uint8Array<ArrayBuffer>
const text = (value: unknown) => new TextEncoder().encode(typeof value === 'string' ? value : JSON.stringify(value)) as Uint8Array<ArrayBuffer>

/** POSITION bounds of a repaired GLB, from its accessors. */
function boundsOf(glb: Uint8Array<ArrayBuffer>) {
  const json = splitGlb(glb)?.json
  const low = [Infinity, Infinity, Infinity]
  const high = [-Infinity, -Infinity, -Infinity]
  for (const mesh of json?.meshes ?? [])
    for (const { attributes } of mesh.primitives) {
      const { min = [], max = [] } = json?.accessors?.[attributes.POSITION] ?? {}
      min.forEach((v, c) => (low[c] = Math.min(low[c], v)))
      max.forEach((v, c) => (high[c] = Math.max(high[c], v)))
    }
  return { low, high }
}

describe('bringing in a model', () => {
  it('stands it on the floor, centred, in metres, whatever its axis and unit', async () => {
    for (const up of ['x', 'y', 'z'] as const) {
      const model = await readModel(file('cactus.glb'), 'cactus.glb')
      const [x, y, z] = model.rawSize
      const { glb, measures } = await repairModel(model, { up, scale: 0.01, pivot: 'base', flip: false }, 'cactus')
      const { low, high } = boundsOf(glb)
      expect(low[1]).toBeCloseTo(0, 6)
      expect(low[0] + high[0]).toBeCloseTo(0, 6)
      expect(low[2] + high[2]).toBeCloseTo(0, 6)
      const tall = { x, y, z }[up] * 0.01
      expect(high[1]).toBeCloseTo(tall, 6)
      expect(measures.size[1]).toBeCloseTo(tall, 6)
      expect((await validateBytes(glb)).issues.numErrors).toBe(0)
    }
  })

  it('turns faces round when asked: normals and winding both, and twice is as before', async () => {
    const read = async (flip: boolean) => {
      const { glb, corners } = await repairModel(await readModel(file('cactus.glb'), 'c'), { ...NO_REPAIR, flip }, 'c')
      const [primitive] = (await new WebIO().readBinary(glb)).getRoot().listMeshes()[0].listPrimitives()
      return { corners, normals: primitive.getAttribute('NORMAL')?.getArray() ?? [] }
    }
    const [plain, round] = [await read(false), await read(true)]
    expect(round.normals.length).toBe(plain.normals.length)
    for (let i = 0; i < plain.normals.length; i++) expect(round.normals[i] + plain.normals[i]).toBeCloseTo(0, 6)
    const volume = (p: ArrayLike<number>) => {
      let sum = 0
      for (let t = 0; t < p.length; t += 9)
        sum += p[t] * (p[t + 4] * p[t + 8] - p[t + 5] * p[t + 7]) + p[t + 1] * (p[t + 5] * p[t + 6] - p[t + 3] * p[t + 8]) + p[t + 2] * (p[t + 3] * p[t + 7] - p[t + 4] * p[t + 6])
      return sum / 6
    }
    expect(volume(round.corners)).toBeCloseTo(-volume(plain.corners), 6)
  })

  it('keeps textures and materials, and bakes many nodes into one', async () => {
    const { glb, triangles } = await repairModel(await readModel(file('webxr_generic_button.glb'), 'b.glb'), NO_REPAIR, 'b')
    const { json } = splitGlb(glb) ?? { json: { nodes: [], images: [] } }
    expect(triangles).toBe(3138)
    expect(json.nodes?.length).toBe(1)
    expect(json.images?.length).toBeGreaterThan(0)
    const report = await validateBytes(glb)
    expect(report.issues.messages.filter((message) => message.severity === 0)).toEqual([])
  })

  it('measures a base within the model and a room above 0', async () => {
    const { measures } = await repairModel(await readModel(file('cactus.glb'), 'c'), { up: 'y', scale: 1, pivot: 'base', flip: false }, 'c')
    expect(measures.base.length).toBeGreaterThanOrEqual(6)
    expect(measures.base.length).toBeLessThanOrEqual(16)
    expect(Math.max(...measures.base.map(Math.abs))).toBeLessThan(Math.max(...measures.size))
    expect(measures.room).toBeGreaterThan(0)
  })

  it('makes lighter forms that stay near the shape', async () => {
    const { glb, triangles } = await repairModel(await readModel(file('cactus.glb'), 'c'), { up: 'y', scale: 1, pivot: 'base', flip: false }, 'c')
    const forms = await makeStandIns(glb, triangles)
    expect(forms[0].triangles).toBeLessThan(0.4 * triangles)
    expect(forms[1].triangles).toBeLessThan(80)
    const full = boundsOf(glb)
    const light = boundsOf(forms[0].glb)
    const extent = Math.max(...full.high.map((v, c) => v - full.low[c]))
    for (let c = 0; c < 3; c++) expect(Math.abs(light.high[c] - full.high[c])).toBeLessThan(0.1 * extent)
  })

  it('thins foliage by leaving out blades, not by melting them: as tall, as much covered, fewer', async () => {
    const area = async (glb: Uint8Array<ArrayBuffer>) => {
      const document = await new WebIO().readBinary(glb)
      const [primitive] = document.getRoot().listMeshes().flatMap((mesh) => mesh.listPrimitives())
      const [p, indices] = [primitive.getAttribute('POSITION')?.getArray() ?? [], primitive.getIndices()?.getArray() ?? []]
      const at = (i: number, c: number) => p[3 * indices[i] + c]
      let sum = 0
      for (let t = 0; t < indices.length; t += 3) {
        const [u, v] = [1, 2].map((k) => [0, 1, 2].map((c) => at(t + k, c) - at(t, c)))
        sum += 0.5 * Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0])
      }
      return { sum, triangles: indices.length / 3 }
    }
    for (const grass of GRASSES) {
      const glb = buildAssetGlb(grass.name, grass.build(0))
      const full = await area(glb)
      const [near, far] = await makeStandIns(glb, full.triangles)
      expect(near.triangles).toBeLessThanOrEqual(0.3 * full.triangles)
      expect(far.triangles).toBeLessThanOrEqual(0.12 * full.triangles)
      expect((await area(near.glb)).sum).toBeGreaterThan(0.35 * full.sum)
      expect((await area(near.glb)).sum).toBeLessThan(1.3 * full.sum)
      expect(boundsOf(near.glb).high[1]).toBeGreaterThan(0.7 * boundsOf(glb).high[1])
      expect(boundsOf(near.glb).high[1]).toBeLessThanOrEqual(boundsOf(glb).high[1] + 1e-6)
    }
  })

  it('the assets made by code are valid GLBs', async () => {
    for (const grass of GRASSES) {
      const report = await validateBytes(buildAssetGlb(grass.name, grass.build(0)))
      expect([report.issues.numErrors, report.issues.numWarnings]).toEqual([0, 0])
    }
  })

  const cactus = file('cactus.glb')
  const withJson = (change: (json: NonNullable<ReturnType<typeof splitGlb>>['json']) => void) => {
    const parts = splitGlb(cactus)
    if (!parts) throw new Error('not a GLB')
    change(parts.json)
    return concatBytes(joinGlb([text(parts.json)], [parts.bin]) ?? [])
  }
  const bad: [string, Uint8Array<ArrayBuffer>, string][] = [
    ['an empty file', new Uint8Array(0), 'is empty (0 bytes)'],
    ['a cut-short GLB', cactus.slice(0, 3000), 'damaged or cut-short GLB'],
    ['no model at all', text('solid cube'), 'not a GLB or glTF 2.0 model'],
    ['a glTF 1.0', text({ asset: { version: '1.0' } }), 'not a GLB or glTF 2.0 model'],
    ['files beside it', text({ asset: { version: '2.0' }, buffers: [{ uri: 'tree.bin', byteLength: 4 }] }), 'needs the file “tree.bin” beside it'],
    ['a compression that is not supported', withJson((json) => (json.extensionsRequired = ['KHR_draco_mesh_compression'])), 'cannot be read without KHR_draco_mesh_compression'],
    ['nothing to show', text({ asset: { version: '2.0' }, scene: 0, scenes: [{ nodes: [] }] }), 'has no triangles'],
    ['an absurd scale', withJson((json) => ((json.nodes ?? [])[0].scale = [1e30, 1, 1])), 'has a corner at no possible place'],
  ]
  for (const [what, data, sentence] of bad)
    it(`refuses ${what} in one sentence`, async () => {
      await expect(readModel(data, 'thing.glb')).rejects.toThrow(sentence)
      await expect(readModel(data, 'thing.glb')).rejects.toThrow('“thing.glb”')
    })
})
