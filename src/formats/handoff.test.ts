import { validateBytes } from 'gltf-validator'
import { unzipSync, zipSync } from 'fflate'
import { createHash } from 'node:crypto'
import Papa from 'papaparse'
import { Color, Matrix4, Quaternion, Vector3 } from 'three'
import type { Block } from '../core/columns.ts'
import { blockOf } from '../core/columns.ts'
import { bytesToHeights } from '../document/blobs.ts'
import { newOutline } from '../document/new-planting.ts'
import { packLists } from '../document/pieces.ts'
import { makeDemo } from '../demo/demo-meadow.ts'
import { boxShape, growAll } from '../testing/fields.ts'
import { treeOf } from '../core/grounds/mesh-tree.ts'
import { createSolid, toWorld } from '../core/grounds/solid.ts'
import { createTerrain } from '../core/grounds/terrain.ts'
import { concatBytes, splitGlb } from './glb.ts'
import type { HandoffInput } from './handoff.ts'
import { HANDOFF_FORMS } from './handoff-forms.ts'
import { readMeadowFile, writeMeadowFile } from './meadow-file.ts'

async function demoInput(): Promise<HandoffInput> {
  const { meadow, blobs } = await makeDemo()
  const heights = bytesToHeights(blobs.get(meadow.ground.blob) as Uint8Array<ArrayBuffer>)
  const terrain = createTerrain(heights, 513, 513, 400, 400)
  const plantings = meadow.plantings
    .filter(({ id }) => ['pines', 'boulders', 'shrubs'].includes(id))
    .map((planting) => ({ id: planting.id, blocks: growAll(planting, terrain, { assets: meadow.assets, water: 0 }) }))
  const assets = new Map([...meadow.assets, ...meadow.meshes].map(({ id, blob }) => [id, blobs.get(blob) as Uint8Array<ArrayBuffer>]))
  return { meadow, plantings, assets, heights }
}

const input = await demoInput()
const write = (form: string, values = {}) =>
  concatBytes(HANDOFF_FORMS.get(form).write(input, { terrain: true, water: true, meshes: true, ...values }, () => undefined))

interface Row {
  position: number[]
  rotation: number[]
  scale: number[]
}

function rowsOfBlocks(blocks: readonly Block[]): Row[] {
  return blocks.flatMap((b) =>
    Array.from({ length: b.count }, (_, i) => ({
      position: [...b.position.subarray(3 * i, 3 * i + 3)],
      rotation: [...b.rotation.subarray(4 * i, 4 * i + 4)],
      scale: [...b.scale.subarray(3 * i, 3 * i + 3)],
    })),
  )
}

const sorted = (rows: Row[]) => rows.sort((a, b) => a.position[0] - b.position[0] || a.position[2] - b.position[2])
const wanted = sorted(input.plantings.flatMap((planting) => rowsOfBlocks(planting.blocks)))

/** Largest difference between two lists of instances. */
function difference(a: Row[], b: Row[]): number {
  let most = 0
  a.forEach((row, i) => {
    for (const key of ['position', 'rotation', 'scale'] as const)
      row[key].forEach((value, c) => (most = Math.max(most, Math.abs(value - b[i][key][c]))))
  })
  return most
}

describe('handoff', () => {
  for (const form of ['glb-instanced', 'glb-nodes'])
    it(`${form} passes the Khronos validator with no error and no warning`, async () => {
      const report = await validateBytes(write(form), { maxIssues: 20, ignoredIssues: [] })
      expect(report.issues.messages.filter((message) => message.severity < 2)).toEqual([])
      expect([report.issues.numErrors, report.issues.numWarnings]).toEqual([0, 0])
    }, 120000)

  it('a ground alone is a valid file too', async () => {
    const alone = concatBytes(HANDOFF_FORMS.get('glb-nodes').write({ ...input, plantings: [] }, { terrain: true, water: false, meshes: true }, () => undefined))
    expect((await validateBytes(alone)).issues.numErrors).toBe(0)
  })

  it('plain nodes hold the very transforms', () => {
    const json = splitGlb(write('glb-nodes', { terrain: false, meshes: false }))?.json
    const nodes = (json?.nodes ?? []).filter((node) => node.translation) as { translation: number[]; rotation: number[]; scale: number[] }[]
    const rows = sorted(nodes.map(({ translation, rotation, scale }) => ({ position: translation, rotation, scale })))
    expect(rows.length).toBe(wanted.length)
    expect(difference(rows, wanted)).toBeLessThan(1e-5)
  })

  it('instancing has accessors of the same length, floats, and the very transforms; each part has a node', () => {
    const glb = splitGlb(write('glb-instanced', { terrain: false, meshes: false }))
    if (!glb) throw new Error('not a GLB')
    const { json, bin } = glb
    const read = (index: number, width: number) => {
      const accessor = json.accessors?.[index]
      const view = json.bufferViews?.[accessor?.bufferView ?? -1]
      if (!accessor || !view) throw new Error('no such accessor')
      expect(accessor.componentType).toBe(5126)
      return new Float32Array(bin.slice(view.byteOffset ?? 0, (view.byteOffset ?? 0) + 4 * width * accessor.count).buffer)
    }
    const rows: Row[] = []
    const seen = new Set<number>()
    let parts = 0
    for (const node of json.nodes ?? []) {
      const extension = (node.extensions as { EXT_mesh_gpu_instancing?: { attributes: Record<string, number> } } | undefined)?.EXT_mesh_gpu_instancing
      if (!extension) continue
      parts++
      const { TRANSLATION, ROTATION, SCALE } = extension.attributes
      if (seen.has(TRANSLATION)) continue
      seen.add(TRANSLATION)
      const [t, r, s] = [read(TRANSLATION, 3), read(ROTATION, 4), read(SCALE, 3)]
      expect([r.length / 4, s.length / 3]).toEqual([t.length / 3, t.length / 3])
      for (let i = 0; i < t.length / 3; i++)
        rows.push({ position: [...t.subarray(3 * i, 3 * i + 3)], rotation: [...r.subarray(4 * i, 4 * i + 4)], scale: [...s.subarray(3 * i, 3 * i + 3)] })
    }
    expect(rows.length).toBe(wanted.length)
    expect(difference(sorted(rows), wanted)).toBeLessThan(1e-5)
    // Pine: bark and needles; boulder, driftwood, shrub: one part each.
    expect(parts).toBe(5)
    expect(json.extensionsRequired).toEqual(['EXT_mesh_gpu_instancing'])
  })

  it('tints go along: linear light for each instance, and a note on each plain node', async () => {
    const [first, ...others] = input.plantings
    const blocks = first.blocks.map((block) => {
      const copy = blockOf(block.count, block.buffer.slice(0))
      for (let i = 0; i < copy.count; i++) copy.tint[i] = i % 2 === 0 ? 0xd8c48aff : 0xffffffff
      return copy
    })
    const tinted: HandoffInput = { ...input, plantings: [{ ...first, blocks }, ...others] }
    const bare = { terrain: false, water: false, meshes: false }
    const glb = concatBytes(HANDOFF_FORMS.get('glb-instanced').write(tinted, bare, () => undefined))
    const report = await validateBytes(glb)
    expect([report.issues.numErrors, report.issues.numWarnings]).toEqual([0, 0])
    const { json, bin } = splitGlb(glb) ?? {}
    const colours = (json?.nodes ?? []).flatMap((node) => (node.extensions as { EXT_mesh_gpu_instancing?: { attributes: Record<string, number> } })?.EXT_mesh_gpu_instancing?.attributes._COLOR_0 ?? [])
    // Bark and needles of the pines share one column; untinted plantings have none.
    expect(new Set(colours).size).toBe(1)
    const accessor = json?.accessors?.[colours[0]]
    const view = json?.bufferViews?.[accessor?.bufferView ?? -1]
    if (!accessor || !view || !bin) throw new Error('there are no colours')
    expect(accessor).toMatchObject({ componentType: 5123, type: 'VEC4', normalized: true })
    const values = new Uint16Array(bin.slice(view.byteOffset ?? 0, (view.byteOffset ?? 0) + 8 * accessor.count).buffer)
    const linear = new Color('#d8c48a').toArray()
    const rows = Array.from({ length: accessor.count }, (_, i) => [...values.subarray(4 * i, 4 * i + 4)].map((v) => v / 65535))
    const sandy = rows.filter(([r]) => r < 1)
    expect(sandy.length).toBe(blocks.reduce((sum, { count }) => sum + Math.ceil(count / 2), 0))
    for (const row of sandy) row.forEach((v, c) => expect(v).toBeCloseTo(c < 3 ? linear[c] : 1, 4))

    const plain = splitGlb(concatBytes(HANDOFF_FORMS.get('glb-nodes').write(tinted, bare, () => undefined)))?.json
    expect((plain?.nodes ?? []).filter(({ extras }) => (extras as { tint?: string } | undefined)?.tint === '#d8c48aff').length).toBe(sandy.length)
  })

  it('the table, read by another reader, holds every column', () => {
    const { data, errors } = Papa.parse<Record<string, string>>(new TextDecoder().decode(write('csv')).trimEnd(), { header: true })
    expect(errors).toEqual([])
    const rows = data.map((row) => ({
      position: ['x', 'y', 'z'].map((c) => Number(row[c])),
      rotation: ['rotation_x', 'rotation_y', 'rotation_z', 'rotation_w'].map((c) => Number(row[c])),
      scale: ['scale_x', 'scale_y', 'scale_z'].map((c) => Number(row[c])),
    }))
    expect(rows.length).toBe(wanted.length)
    expect(difference(sorted(rows), wanted)).toBeLessThan(1e-5)
    expect(new Set(data.map((row) => row.id)).size).toBeGreaterThan(0.99 * data.length)
    expect(new Set(data.map((row) => row.asset))).toEqual(new Set(['Wind-bent pine', 'Boulder', 'Driftwood', 'Thorn shrub']))
  })

  it('meshes stand where they stood, turned and sized, as three places them', () => {
    const json = splitGlb(write('glb-nodes', { terrain: false, water: false }))?.json
    for (const placed of input.meadow.meshes) {
      const node = (json?.nodes ?? []).find(({ name }) => name === placed.name) as { translation: number[]; rotation: number[]; scale: number[] }
      const matrix = new Matrix4().compose(new Vector3(...node.translation), new Quaternion(...node.rotation), new Vector3(...node.scale))
      const solid = createSolid(placed, boxShape(1, 1, 1), treeOf)
      const out = new Float64Array(3)
      for (const [x, y, z] of [[1, 0, 0], [0, 1, 0], [0, 0, 1], [-2, 3, 5]]) {
        toWorld(solid, x, y, z, out)
        expect(new Vector3(x, y, z).applyMatrix4(matrix).distanceTo(new Vector3(...out))).toBeLessThan(1e-6)
      }
    }
  })

  it('says which asset is missing', () => {
    expect(() => HANDOFF_FORMS.get('glb-nodes').write({ ...input, assets: new Map() }, { terrain: false, water: false, meshes: false }, () => undefined)).toThrow(
      'The asset “Wind-bent pine” is missing from the store',
    )
  })
})

describe('.meadow files', () => {
  it('bring back the very same meadow and blobs', async () => {
    const { meadow, blobs } = await makeDemo()
    const file = writeMeadowFile(meadow, blobs)
    const back = await readMeadowFile(file, 'saltings.meadow')
    expect(back.meadow).toEqual(meadow)
    expect([...back.blobs.keys()].sort()).toEqual([...new Set(blobs.keys())].sort())
    const sha = (b: Uint8Array) => createHash('sha256').update(b).digest('hex')
    for (const [hash, bytes] of back.blobs) expect(sha(bytes)).toBe(hash)
  })

  it('hold long lines as parts of their own, each checked', async () => {
    const { meadow, blobs } = await makeDemo()
    const path = newOutline({ kind: 'path', name: 'Old shore', colour: '#112233', lines: [Array.from({ length: 9000 }, (_, i) => Math.round(1000 * Math.sin(i)) / 10 + 0)] })
    const long = { ...meadow, outlines: [...meadow.outlines, path] }
    const file = writeMeadowFile(long, blobs)
    const back = await readMeadowFile(file, 'a.meadow')
    expect(back.meadow).toEqual(long)
    expect(new Set(back.blobs.keys())).toEqual(new Set(blobs.keys()))
    const [name] = packLists(long).blobs.keys()
    const parts = unzipSync(file)
    const damaged = { ...parts, [`blobs/${name}`]: parts[`blobs/${name}`].map((byte, i) => (i === 9 ? byte ^ 1 : byte)) }
    await expect(readMeadowFile(zipSync(damaged) as Uint8Array<ArrayBuffer>, 'a.meadow')).rejects.toThrow(`the part blobs/${name.slice(0, 8)}… has changed`)
    delete damaged[`blobs/${name}`]
    await expect(readMeadowFile(zipSync(damaged) as Uint8Array<ArrayBuffer>, 'a.meadow')).rejects.toThrow(`the part blobs/${name.slice(0, 8)}… is missing`)
  })

  it('are refused in one sentence when they are not whole', async () => {
    const { meadow, blobs } = await makeDemo()
    const file = writeMeadowFile(meadow, blobs)
    await expect(readMeadowFile(new Uint8Array(0), 'a.meadow')).rejects.toThrow('is empty (0 bytes)')
    await expect(readMeadowFile(Uint8Array.of(1, 2, 3, 4), 'a.meadow')).rejects.toThrow('is not a .meadow file')
    await expect(readMeadowFile(file.slice(0, file.length / 2), 'a.meadow')).rejects.toThrow('damaged or cut short')
    const without = new Map(blobs)
    without.delete(meadow.ground.blob)
    expect(() => writeMeadowFile(meadow, without)).toThrow('a part of it is missing')
    const forged = new Map(blobs)
    forged.set(meadow.ground.blob, new Uint8Array(4 * 513 * 513))
    await expect(readMeadowFile(writeMeadowFile(meadow, forged), 'a.meadow')).rejects.toThrow('has changed')
    const newer = writeMeadowFile({ ...meadow, version: 99 as never }, blobs)
    await expect(readMeadowFile(newer, 'a.meadow')).rejects.toThrow('saved by a newer Wayward Meadow (format 99')
    const odd = structuredClone(meadow)
    odd.plantings[0].params.spacing = -5
    await expect(readMeadowFile(writeMeadowFile(odd, blobs), 'a.meadow')).rejects.toThrow('spacing must be greater than or equal to 0.02')
    const unknown = structuredClone(meadow)
    unknown.plantings[0].kind = 'fireworks'
    await expect(readMeadowFile(writeMeadowFile(unknown, blobs), 'a.meadow')).rejects.toThrow('kind must be one of')
  })
})
