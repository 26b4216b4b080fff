import { WebIO } from '@gltf-transform/core'
import { validateBytes } from 'gltf-validator'
import { readFileSync } from 'node:fs'
import { GRASSES } from '../demo/assets/grasses.ts'
import { buildAssetGlb } from './asset-build.ts'
import { NO_REPAIR } from './repair.ts'
import { readModel } from './asset-import.ts'
import { repairModel } from './asset-repair.ts'
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
      const { glb, measures } = await repairModel(model, { up, scale: 0.01, pivot: 'base', flip: false, tint: '#ffffff' }, 'cactus')
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
    const { measures } = await repairModel(await readModel(file('cactus.glb'), 'c'), { up: 'y', scale: 1, pivot: 'base', flip: false, tint: '#ffffff' }, 'c')
    expect(measures.base.length).toBeGreaterThanOrEqual(6)
    expect(measures.base.length).toBeLessThanOrEqual(16)
    expect(Math.max(...measures.base.map(Math.abs))).toBeLessThan(Math.max(...measures.size))
    expect(measures.room).toBeGreaterThan(0)
  })

  /** Area of a silhouette, by asking for each of many places whether any triangle lies over it. */
  function shadowOf(corners: ArrayLike<number>, angle: number, size: number): number {
    const [c, s] = [Math.cos(angle), Math.sin(angle)]
    const flat = Float64Array.from({ length: (2 * corners.length) / 3 }, (_, k) => {
      const at = 3 * (k >> 1)
      return k % 2 === 0 ? corners[at] * c + corners[at + 2] * s : corners[at + 1]
    })
    const SIDE = 60
    let hit = 0
    for (let j = 0; j < SIDE; j++)
      for (let i = 0; i < SIDE; i++) {
        const [px, py] = [((i + 0.5) / SIDE - 0.5) * size, ((j + 0.5) / SIDE) * size]
        for (let t = 0; t < flat.length; t += 6) {
          const d = (flat[t + 2] - flat[t]) * (py - flat[t + 1]) - (px - flat[t]) * (flat[t + 3] - flat[t + 1])
          const e = (flat[t + 4] - flat[t + 2]) * (py - flat[t + 3]) - (px - flat[t + 2]) * (flat[t + 5] - flat[t + 3])
          const f = (flat[t] - flat[t + 4]) * (py - flat[t + 5]) - (px - flat[t + 4]) * (flat[t + 1] - flat[t + 5])
          if ((d >= 0 && e >= 0 && f >= 0) || (d <= 0 && e <= 0 && f <= 0)) {
            hit++
            break
          }
        }
      }
    return hit
  }

  async function cornersIn(glb: Uint8Array<ArrayBuffer>): Promise<number[]> {
    const corners: number[] = []
    for (const primitive of (await new WebIO().readBinary(glb)).getRoot().listMeshes().flatMap((mesh) => mesh.listPrimitives())) {
      const p = primitive.getAttribute('POSITION')?.getArray() ?? []
      for (const index of primitive.getIndices()?.getArray() ?? []) corners.push(p[3 * index], p[3 * index + 1], p[3 * index + 2])
    }
    return corners
  }

  const simple: [string, Uint8Array<ArrayBuffer>, number][] = [
    ['a cactus of 1,236 triangles', file('cactus.glb'), 0.4],
    ['a box of 12', text('v -1 0 -1\nv 1 0 -1\nv 1 0 1\nv -1 0 1\nv -1 2 -1\nv 1 2 -1\nv 1 2 1\nv -1 2 1\nf 1 2 3 4\nf 8 7 6 5\nf 1 5 6 2\nf 2 6 7 3\nf 3 7 8 4\nf 4 8 5 1\n'), 1],
    ['a spike of 10', text(`${Array.from({ length: 5 }, (_, k) => `v ${Math.cos(k * 1.2566)} 0 ${Math.sin(k * 1.2566)}`).join('\n')}\nv 0 3 0\nf 1 2 6\nf 2 3 6\nf 3 4 6\nf 4 5 6\nf 5 1 6\nf 5 4 3 2 1\n`), 1],
  ]
  it.each(simple)('makes lighter forms of %s that keep nine tenths of its silhouette from eight sides', async (what, bytes, most) => {
    const { glb, triangles, corners } = await repairModel(await readModel(bytes, what.includes('cactus') ? 'c.glb' : 'c.obj'), { up: 'y', scale: 1, pivot: 'base', flip: false, tint: '#ffffff' }, 'c')
    const { forms, picture } = await makeStandIns(glb, triangles, corners)
    expect(forms[0].triangles).toBeLessThanOrEqual(most * triangles)
    expect(forms[1].triangles).toBeLessThanOrEqual(forms[0].triangles)
    const pictured = (await cornersIn(picture)).length / 9
    expect(pictured).toBeLessThanOrEqual(Math.min(triangles, 66_000))
    expect(pictured).toBeGreaterThanOrEqual(forms[0].triangles)
    const size = corners.reduce((largest, v) => Math.max(largest, 2.1 * Math.abs(v)), 0)
    for (const form of forms) {
      const own = await cornersIn(form.glb)
      expect(own.length).toBe(9 * form.triangles)
      let [kept, full] = [0, 0]
      for (let side = 0; side < 8; side++) {
        kept += shadowOf(own, (Math.PI * side) / 8, size)
        full += shadowOf(corners, (Math.PI * side) / 8, size)
      }
      expect(kept / full).toBeGreaterThan(0.88)
    }
  })

  /** Triangles as an OBJ, three corners each. */
  const obj = (count: number, corner: (t: number, k: number) => number[]) => {
    const lines: string[] = []
    for (let t = 0; t < count; t++) for (let k = 0; k < 3; k++) lines.push(`v ${corner(t, k).map((v) => v.toFixed(4)).join(' ')}`)
    for (let t = 0; t < count; t++) lines.push(`f ${3 * t + 1} ${3 * t + 2} ${3 * t + 3}`)
    return text(lines.join('\n'))
  }
  const dice = (n: number) => Math.abs(Math.sin(n * 127.1) * 43758.5453) % 1
  const RINGS = 200
  /** Two triangles to a patch of a ball of 1 m with bumps. */
  const ball = obj(2 * RINGS * RINGS, (t, k) => {
    const [i, j] = [(t >> 1) % RINGS, Math.floor((t >> 1) / RINGS)]
    const [u, v] = (t % 2 === 0 ? [[0, 0], [0, 1], [1, 0]] : [[1, 0], [0, 1], [1, 1]])[k]
    const [a, b] = [((i + u) / RINGS) * 2 * Math.PI, ((j + v) / RINGS) * Math.PI]
    const r = 1 + 0.05 * Math.sin(8 * a) * Math.sin(6 * b)
    return [r * Math.sin(b) * Math.cos(a), 1.1 + r * Math.cos(b), r * Math.sin(b) * Math.sin(a)]
  })
  /** Leaves that fill a box of 2 × 3 × 2 m. */
  const leaves = obj(70_000, (t, k) => {
    const centre = [2 * dice(3 * t) - 1, 3 * dice(3 * t + 1), 2 * dice(3 * t + 2) - 1]
    return centre.map((c, axis) => c + 0.3 * (dice(9 * t + 3 * k + axis + 0.5) - 0.5))
  })

  it.each([
    // Seen from anywhere the bumps leave at least a disc of 0.95 m.
    ['a ball of 80,000 triangles', ball, [0, 1, 2, 3, 4, 5, 6, 7], Math.PI * 0.95 ** 2, 1700],
    ['a bush of 70,000 loose leaves', leaves, [0, 4], 6, 27_000],
  ] as const)('makes lighter forms of a heavy model step by step: %s', async (_, bytes, sides, area, most) => {
    const { glb, triangles, corners } = await repairModel(await readModel(bytes, 'heavy.obj'), { up: 'y', scale: 1, pivot: 'base', flip: false, tint: '#ffffff' }, 'heavy')
    const { forms, picture } = await makeStandIns(glb, triangles, corners)
    const pictured = (await cornersIn(picture)).length / 9
    expect(pictured).toBeLessThanOrEqual(66_000)
    expect(pictured).toBeGreaterThanOrEqual(forms[0].triangles)
    expect(forms[0].triangles).toBeLessThanOrEqual(most)
    for (const form of forms)
      for (const side of sides) expect((shadowOf(await cornersIn(form.glb), (Math.PI * side) / 8, 4) * (4 / 60) ** 2) / area).toBeGreaterThan(0.88)
  })

  it('turns faces that look inwards or both ways, piece by piece, and says how many', async () => {
    const box = (inwards: boolean, mixed: boolean, x: number, base: number) => {
      const v = [[-1, 0, -1], [1, 0, -1], [1, 0, 1], [-1, 0, 1], [-1, 2, -1], [1, 2, -1], [1, 2, 1], [-1, 2, 1]].map(([a, b, c]) => `v ${a + x} ${b} ${c}`)
      const faces = [[1, 2, 3, 4], [8, 7, 6, 5], [1, 5, 6, 2], [2, 6, 7, 3], [3, 7, 8, 4], [4, 8, 5, 1]].map((face, k) => (inwards !== (mixed && k % 2 === 0) ? [...face].reverse() : face))
      return `${v.join('\n')}\n${faces.map((face) => `f ${face.map((i) => i + base).join(' ')}`).join('\n')}\n`
    }
    // One box as it should be, one inwards, one with its faces both ways.
    const obj = box(false, false, 0, 0) + box(true, false, 5, 8) + box(false, true, -5, 16)
    const { corners, turned, oneSided } = await repairModel(await readModel(text(obj), 'boxes.obj'), NO_REPAIR, 'boxes')
    expect([turned, oneSided]).toEqual([12 + 6, false])
    for (let t = 0; t < corners.length; t += 9) {
      const [p, q, r] = [0, 3, 6].map((k) => [...corners.slice(t + k, t + k + 3)])
      const [u, v] = [q, r].map((corner) => corner.map((value, c) => value - p[c]))
      const normal = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]
      const middle = [0, 1, 2].map((c) => (p[c] + q[c] + r[c]) / 3)
      const centre = [5 * Math.round(middle[0] / 5), 1, 0]
      expect(normal.reduce((sum, n, c) => sum + n * (middle[c] - centre[c]), 0)).toBeGreaterThan(0)
    }
  })

  it('reads what Draco and meshopt have compressed, with the same corners', async () => {
    const { default: draco } = await import('draco3dgltf')
    const { MeshoptEncoder } = await import('meshoptimizer')
    const { KHRDracoMeshCompression, EXTMeshoptCompression } = await import('@gltf-transform/extensions')
    await MeshoptEncoder.ready
    const plain = await readModel(file('cactus.glb'), 'c.glb')
    for (const extension of [KHRDracoMeshCompression, EXTMeshoptCompression]) {
      const io = new WebIO().registerExtensions([KHRDracoMeshCompression, EXTMeshoptCompression]).registerDependencies({ 'draco3d.encoder': await draco.createEncoderModule(), 'meshopt.encoder': MeshoptEncoder })
      const document = await io.readBinary(file('cactus.glb'))
      document.createExtension(extension as never).setRequired(true)
      const packed = (await io.writeBinary(document)) as Uint8Array<ArrayBuffer>
      expect(splitGlb(packed)?.json.extensionsRequired).toContain(extension.EXTENSION_NAME)
      const model = await readModel(packed, 'packed.glb')
      expect(model.triangles).toBe(plain.triangles)
      model.rawSize.forEach((side, c) => expect(side).toBeCloseTo(plain.rawSize[c], 2))
      const { glb } = await repairModel(model, NO_REPAIR, 'c')
      expect(splitGlb(glb)?.json.extensionsUsed ?? []).not.toContain(extension.EXTENSION_NAME)
    }
  })

  it('reads an OBJ in Latin-1 with the colours and the texture of its MTL, and says what is missing', async () => {
    const latin = (words: string) => Uint8Array.from(words, (letter) => letter.charCodeAt(0)) as Uint8Array<ArrayBuffer>
    const obj = latin('# gr\xfcn\nmtllib tree.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\nvt 0 0\nvt 1 0\nvt 0 1\nusemtl Bark\nf 1/1 2/2 3/3\nusemtl Leaf\nf 1/1 2/2 4/3\n')
    const mtl = latin('newmtl Bark\nKd 0.5 0.25 0\nnewmtl Leaf\nKd 1 1 1\nmap_Kd textures\\leaf.png\n')
    const png = Uint8Array.from([...[0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a], ...new Uint8Array(60)]) as Uint8Array<ArrayBuffer>
    const whole = await readModel(obj, 'tree.obj', [{ name: 'tree.mtl', bytes: mtl }, { name: 'leaf.png', bytes: png }])
    expect(whole.notes).toEqual([])
    const [bark, leaf] = whole.document.getRoot().listMeshes()[0].listPrimitives()
    // sRGB 0.5 and 0.25 as linear bytes.
    expect([...(bark.getAttribute('COLOR_0')?.getArray() ?? [])].slice(0, 4)).toEqual([55, 13, 0, 255])
    expect(leaf.getMaterial()?.getBaseColorTexture()?.getMimeType()).toBe('image/png')
    expect([...(leaf.getAttribute('TEXCOORD_0')?.getArray() ?? [])]).toEqual([0, 1, 1, 1, 0, 0])
    expect((await readModel(obj, 'tree.obj')).notes).toEqual(['Its materials are in “tree.mtl”, which was not chosen with it: choose both files together to keep its colours.'])
    expect((await readModel(obj, 'tree.obj', [{ name: 'tree.mtl', bytes: mtl }])).notes[0]).toContain('The texture “textures\\leaf.png” was not chosen with it')
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
    ['a compression that is not supported', withJson((json) => (json.extensionsRequired = ['KHR_texture_basisu'])), 'cannot be read without KHR_texture_basisu'],
    ['a corner that is not there', withJson((json) => { const { indices } = json.meshes![0].primitives[0]; const view = json.bufferViews![json.accessors![indices!].bufferView!]; view.byteOffset = 0 }), 'names a corner which is not there'],
    ['columns without data', text({ asset: { version: '2.0' }, accessors: [{ componentType: 5126, type: 'VEC3', count: 1e8 }] }), 'more than can be held'],
    ['buffers that are no list', text({ asset: { version: '2.0' }, buffers: 7 }), 'its buffers are no list'],
    ['a hundred thousand nodes', text({ asset: { version: '2.0' }, nodes: Array.from({ length: 100_000 }, () => ({})) }), 'at most 20,000 can be read'],
    ['a chain of nodes', text({ asset: { version: '2.0' }, nodes: Array.from({ length: 1000 }, (_, i) => (i < 999 ? { children: [i + 1] } : {})) }), 'more than 200 deep'],
    ['nodes in a ring', text({ asset: { version: '2.0' }, nodes: [{ children: [1] }, { children: [0] }] }), 'more than 200 deep'],
    ['nothing to show', text({ asset: { version: '2.0' }, scene: 0, scenes: [{ nodes: [] }] }), 'has no triangles'],
    ['an absurd scale', withJson((json) => ((json.nodes ?? [])[0].scale = [1e30, 1, 1])), 'has a corner at no possible place'],
  ]
  for (const [what, data, sentence] of bad)
    it(`refuses ${what} in one sentence`, async () => {
      await expect(readModel(data, 'thing.glb')).rejects.toThrow(sentence)
      await expect(readModel(data, 'thing.glb')).rejects.toThrow('“thing.glb”')
    })
})
