import { readFileSync } from 'node:fs'
import { shapeToBytes, bytesToShape, weldShape } from '../core/grounds/mesh-shape.ts'
import { readModel } from './asset-import.ts'
import { repairModel } from './asset-repair.ts'
import { readImage } from './images.ts'
import { encode } from 'fast-png'

const bytes = (text: string) => new TextEncoder().encode(text) as Uint8Array<ArrayBuffer>
const FIXTURES = 'src/testing/fixtures/'

const OBJ = 'v 0 0 0\nv 2 0 0\nv 2 0 3\nv 0 1 0\nf 1 2 3\nf 1 2 4\n'
const PLY = 'ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\nelement face 2\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n2 0 0\n2 0 3\n0 1 0\n3 0 1 2\n3 0 1 3\n'
const STL = 'solid a\nfacet normal 0 1 0\nouter loop\nvertex 0 0 0\nvertex 2 0 0\nvertex 2 0 3\nendloop\nendfacet\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 2 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid a\n'

async function shapeOf(data: Uint8Array<ArrayBuffer>, name: string) {
  const { corners, triangles } = await repairModel(await readModel(data, name), { up: 'y', scale: 1, pivot: 'keep', flip: false, tint: '#ffffff' }, 'mesh')
  return { triangles, ...weldShape(corners) }
}

describe('mesh files', () => {
  it.each([['a.obj', OBJ], ['a.ply', PLY], ['a.stl', STL]])('%s is read with its corners and faces', async (name, text) => {
    const { triangles, positions, indices, openEdges } = await shapeOf(bytes(text), name)
    expect(triangles).toBe(2)
    const corners = Array.from({ length: positions.length / 3 }, (_, i) => [...positions.subarray(3 * i, 3 * i + 3)].join(' '))
    expect(new Set(corners)).toEqual(new Set(['0 0 0', '2 0 0', '2 0 3', '0 1 0']))
    expect(indices.length).toBe(6)
    expect(openEdges).toBe(4)
  })

  it.each([
    ['nothing.obj', '', 'is empty'],
    ['words.obj', 'hello', 'no vertices and faces'],
    ['far.obj', 'v 0 0 0\nv 1 0 0\nv 0 nan 0\nf 1 2 3\n', 'line 3 has “nan” where a number should be'],
    ['words.ply', 'hello', 'damaged, cut short, or no PLY file'],
    ['lost.obj', 'v 0 0 0\nv 1 0 0\nf 1 2 3\n', 'line 3 has a face that names a corner which is not there'],
    ['empty.ply', 'ply\nformat ascii 1.0\nelement vertex 1000000000\nend_header\n', 'damaged, cut short'],
    ['liar.ply', 'ply\nformat binary_little_endian 1.0\nelement vertex 9000\nproperty float x\nend_header\nabc', 'damaged, cut short'],
    ['words.stl', 'x', 'damaged, cut short, or no STL file'],
  ])('%s is refused in one sentence', async (name, text, sentence) => {
    await expect(readModel(bytes(text), name)).rejects.toThrow(sentence)
    await expect(readModel(bytes(text), name)).rejects.toThrow(`“${name}”`)
  })

  it('triangles without area are left out of the shape of a real file', async () => {
    const { triangles, indices, flat } = await shapeOf(new Uint8Array(readFileSync(`${FIXTURES}degtri_sliding.obj`)), 'degtri_sliding.obj')
    expect(triangles).toBe(8)
    expect(flat).toBe(4)
    expect(indices.length / 3).toBe(4)
  })

  it('a watertight file has no open edge, an open one has many, and one with its faces inwards is known', async () => {
    const fan = await shapeOf(new Uint8Array(readFileSync(`${FIXTURES}fandisk.glb`)), 'fandisk.glb')
    expect([fan.openEdges, fan.crowdedEdges, fan.insideOut]).toEqual([0, 0, false])
    const turned = new Float32Array(3 * fan.indices.length)
    fan.indices.forEach((_, i) => {
      const from = i % 3 === 1 ? i + 1 : i % 3 === 2 ? i - 1 : i
      turned.set(fan.positions.subarray(3 * fan.indices[from], 3 * fan.indices[from] + 3), 3 * i)
    })
    expect(weldShape(turned).insideOut).toBe(true)
    const shark = await shapeOf(new Uint8Array(readFileSync(`${FIXTURES}mech_holes_shark.glb`)), 'mech_holes_shark.glb')
    expect(shark.openEdges).toBeGreaterThan(50)
  })

  it('a packed shape comes back, and damaged ones are refused', async () => {
    const shape = await shapeOf(bytes(OBJ), 'a.obj')
    const packed = shapeToBytes(shape)
    expect(bytesToShape(packed)).toEqual({ positions: shape.positions, indices: shape.indices })
    expect(bytesToShape(packed.slice(0, 30))).toBeNull()
    const lost = packed.slice()
    new DataView(lost.buffer).setUint32(lost.length - 4, 99, true)
    expect(bytesToShape(lost)).toBeNull()
    const nowhere = packed.slice()
    new DataView(nowhere.buffer).setFloat32(16, NaN, true)
    expect(bytesToShape(nowhere)).toBeNull()
  })
})

describe('images', () => {
  it('reads PNG of any depth as 8-bit colour with opacity', async () => {
    const grey = await readImage(new Uint8Array(encode({ width: 2, height: 1, data: Uint16Array.of(0x1234, 0xff00), depth: 16, channels: 1 })), 'a.png')
    expect([...grey.pixels]).toEqual([0x12, 0x12, 0x12, 255, 255, 255, 255, 255])
    const colour = await readImage(new Uint8Array(encode({ width: 1, height: 1, data: Uint8Array.of(1, 2, 3, 4), depth: 8, channels: 4 })), 'a.png')
    expect([...colour.pixels]).toEqual([1, 2, 3, 4])
  })

  it.each([
    ['nothing.png', new Uint8Array(0), 'is empty'],
    ['words.jpg', bytes('hello'), 'neither a PNG nor a JPEG'],
    ['photo.jpg', Uint8Array.of(0xff, 0xd8, 0xff, 0xe0), 'read in the browser only'],
  ])('%s is refused in one sentence', async (name, data, sentence) => {
    await expect(readImage(data, name)).rejects.toThrow(sentence)
  })
})
