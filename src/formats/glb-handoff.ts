import { ofMatrix } from '../core/math/quaternion.ts'
import type { Block } from '../core/columns.ts'
import { UNTINTED } from '../core/columns.ts'
import { createTerrain } from '../core/grounds/terrain.ts'
import { turnMatrix } from '../core/grounds/solid.ts'
import type { ValuesOf } from '../core/kinds.ts'
import { flag } from '../core/kinds.ts'
import type { Meadow, PlacedMesh } from '../core/meadow.ts'
import { assetsByNumber } from '../core/meadow.ts'
import { ProblemError } from '../document/problem.ts'
import type { GltfPrimitive } from './glb.ts'
import { joinGlb } from './glb.ts'
import type { GlbBuilder } from './glb-builder.ts'
import { addColumn, addMesh, addTo, FLOAT, mergeAsset, startGlb, UNSIGNED_SHORT, useExtensions } from './glb-builder.ts'
import { addTerrain, addWater, terrainBytes } from './glb-ground.ts'
import type { HandoffInput, Report, SizeInput } from './handoff.ts'
import { bytesARow, countOf, defineHandoff } from './handoff.ts'
import type { TextWriter } from './text-writer.ts'
import { createTextWriter, encodeText } from './text-writer.ts'
import { linear } from './srgb.ts'

const PARAMS = {
  terrain: flag(true, { label: 'With the ground', help: 'The terrain goes along as a mesh: the very triangles that things stand on.' }),
  meshes: flag(true, { label: 'With the meshes', help: 'What stands in the meadow goes along: grounds, obstacles and scenery that are shown.' }),
  water: flag(true, { label: 'With the water', help: 'The water goes along as a see-through surface.' }),
}

type Values = ValuesOf<typeof PARAMS>

/** Bytes of all but the instances. */
function fixedBytes({ meadow, assetBytes, meshBytes }: SizeInput, values: Values): number {
  const { columns, rows } = meadow.ground
  return 4000 + assetBytes + (values.meshes ? meshBytes : 0) + (values.terrain ? terrainBytes(columns, rows) : 0)
}

/** The instances of one asset within one planting, as columns of their own. */
interface Gathered {
  /** Planting and asset, in words. */
  readonly name: string
  readonly asset: number
  readonly position: Float32Array<ArrayBuffer>
  readonly rotation: Float32Array<ArrayBuffer>
  readonly scale: Float32Array<ArrayBuffer>
  /** 0xRRGGBBAA; null when none of them is tinted. */
  readonly tint: Uint32Array<ArrayBuffer> | null
}

function gather(input: HandoffInput): Gathered[] {
  const all: Gathered[] = []
  const byNumber = assetsByNumber(input.meadow.assets)
  for (const { id, blocks } of input.plantings) {
    const counts = new Map<number, number>()
    for (const b of blocks) for (let i = 0; i < b.count; i++) counts.set(b.asset[i], (counts.get(b.asset[i]) ?? 0) + 1)
    const planting = input.meadow.plantings.find((one) => one.id === id)?.name ?? id
    for (const [asset, count] of [...counts].sort((a, b) => a[0] - b[0])) {
      const position = new Float32Array(3 * count)
      const rotation = new Float32Array(4 * count)
      const scale = new Float32Array(3 * count)
      const tint = new Uint32Array(count)
      fill(blocks, asset, position, rotation, scale, tint)
      all.push({ name: `${planting}: ${byNumber.get(asset)?.name ?? `asset ${asset}`}`, asset, position, rotation, scale, tint: tint.some((value) => value !== UNTINTED) ? tint : null })
    }
  }
  return all
}

function fill(
  blocks: readonly Block[],
  asset: number,
  position: Float32Array,
  rotation: Float32Array,
  scale: Float32Array,
  tint: Uint32Array,
): void {
  let k = 0
  for (const b of blocks)
    for (let i = 0; i < b.count; i++) {
      if (b.asset[i] !== asset) continue
      for (let c = 0; c < 3; c++) {
        position[3 * k + c] = b.position[3 * i + c]
        scale[3 * k + c] = b.scale[3 * i + c]
      }
      // Unit to the last place of Float32, as readers expect.
      const length = Math.hypot(b.rotation[4 * i], b.rotation[4 * i + 1], b.rotation[4 * i + 2], b.rotation[4 * i + 3])
      for (let c = 0; c < 4; c++) rotation[4 * k + c] = b.rotation[4 * i + c] / length
      tint[k] = b.tint[i]
      k++
    }
}

interface Started {
  readonly builder: GlbBuilder
  readonly roots: number[]
  readonly gathered: Gathered[]
  /** Mesh of each asset in use. */
  readonly meshes: Map<number, number>
}

function start(input: HandoffInput, values: { terrain: boolean; meshes: boolean; water: boolean }, report: Report): Started {
  const builder = startGlb()
  const roots: number[] = []
  const { meadow } = input
  const { ground, water } = meadow
  const terrain = createTerrain(input.heights, ground.columns, ground.rows, ground.sizeX, ground.sizeZ)
  report(0.02, 'Writing the ground')
  if (values.terrain) roots.push(addTerrain(builder, terrain, water.level, ground.name || 'Ground'))
  if (values.water && water.shown) roots.push(addWater(builder, terrain, water.level))
  // Copies of one mesh are one mesh with a node each.
  const placed = new Map<string, number>()
  if (values.meshes) for (const mesh of meadow.meshes) if (mesh.visible) roots.push(addPlaced(builder, input, mesh, placed))
  report(0.1, 'Gathering the instances')
  const gathered = gather(input)
  const meshes = new Map<number, number>()
  const byNumber = assetsByNumber(meadow.assets)
  for (const { asset } of gathered) {
    if (meshes.has(asset)) continue
    const { id, name } = byNumber.get(asset) ?? { id: '', name: `number ${asset}` }
    const glb = input.assets.get(id)
    if (!glb) throw new ProblemError(`The asset “${name}” is missing from the store; bring it in again before handing off.`)
    meshes.set(asset, mergeAsset(builder, glb)[0])
  }
  return { builder, roots, gathered, meshes }
}

/** Adds a mesh where it stands; returns its node. */
function addPlaced(builder: GlbBuilder, { assets }: HandoffInput, { id, blob, name, position, turn, size }: PlacedMesh, placed: Map<string, number>): number {
  const glb = assets.get(id)
  if (!glb) throw new ProblemError(`The mesh “${name}” is missing from the store; bring its file in again before handing off.`)
  const mesh = placed.get(blob) ?? mergeAsset(builder, glb)[0]
  placed.set(blob, mesh)
  return addTo(builder, 'nodes', { name, mesh, translation: [...position], rotation: [...ofMatrix(turnMatrix(turn))], scale: [size, size, size] })
}

function finish(
  { json, bin, binLength }: GlbBuilder,
  json1: Uint8Array<ArrayBuffer>[] | null,
): Uint8Array<ArrayBuffer>[] {
  json.buffers = [{ byteLength: binLength }]
  const pieces = joinGlb(json1 ?? [new TextEncoder().encode(JSON.stringify(json))], bin)
  if (!pieces) throw new ProblemError('The file would be larger than the 4 GiB a GLB can hold; hand off fewer plantings at a time.')
  return pieces
}

/** Whether a planting has a driver of tints. */
function isTinted({ plantings }: Meadow, id: string): boolean {
  return plantings.find((one) => one.id === id)?.drivers.some(({ on, target }) => on && target === 'tint') ?? false
}

export const glbInstanced = defineHandoff({
  kind: 'glb-instanced',
  label: 'GLB with instancing',
  help: 'Small and fast: each asset once, with a list of places (EXT_mesh_gpu_instancing).',
  extension: 'glb',
  mime: 'model/gltf-binary',
  params: PARAMS,
  estimate(input, values) {
    const tinted = input.plantings.reduce((sum, { id, blocks }) => sum + (isTinted(input.meadow, id) ? countOf({ meadow: input.meadow, plantings: [{ id, blocks }] }) : 0), 0)
    return fixedBytes(input, values) + 40 * countOf(input) + 8 * tinted
  },
  write(input, values, report) {
    const { builder, roots, gathered, meshes } = start(input, values, report)
    const partMeshes = new Map<number, number[]>()
    gathered.forEach(({ name, asset, position, rotation, scale, tint }, i) => {
      report(0.2 + (0.7 * i) / gathered.length, `Writing ${name}`)
      const whole = builder.json.meshes?.[meshes.get(asset) as number]
      if (!whole) return
      const parts = partMeshes.get(asset) ?? partsOf(builder, meshes.get(asset) as number, whole.primitives)
      partMeshes.set(asset, parts)
      const attributes = {
        TRANSLATION: addColumn(builder, position, { componentType: FLOAT, type: 'VEC3' }),
        ROTATION: addColumn(builder, rotation, { componentType: FLOAT, type: 'VEC4' }),
        SCALE: addColumn(builder, scale, { componentType: FLOAT, type: 'VEC3' }),
        // A colour of its own for each instance, as three.js and others read it.
        ...(tint && { _COLOR_0: addColumn(builder, linearColours(tint), { componentType: UNSIGNED_SHORT, type: 'VEC4', normalized: true }) }),
      }
      for (const mesh of parts)
        roots.push(addTo(builder, 'nodes', { name, mesh, extensions: { EXT_mesh_gpu_instancing: { attributes } } }))
    })
    if (gathered.length > 0) useExtensions(builder, ['EXT_mesh_gpu_instancing'], ['EXT_mesh_gpu_instancing'])
    builder.json.scenes = [{ name: input.meadow.name, nodes: roots }]
    builder.json.scene = 0
    return finish(builder, null)
  },
})

/** R G B A of tints as 16-bit shares of linear light, as glTF counts colours. */
function linearColours(tint: Uint32Array): Uint16Array<ArrayBuffer> {
  const colours = new Uint16Array(4 * tint.length)
  for (let i = 0; i < tint.length; i++) {
    for (let c = 0; c < 3; c++) colours[4 * i + c] = LINEAR[(tint[i] >>> (24 - 8 * c)) & 255]
    colours[4 * i + 3] = (tint[i] & 255) * 257
  }
  return colours
}

/** 16-bit linear light of an 8-bit sRGB value (IEC 61966-2-1). */
const LINEAR = Uint16Array.from({ length: 256 }, (_, value) => Math.round(65535 * linear(value / 255)))

/** One mesh per primitive, the first reusing the whole; a node per part carries the same instances. */
function partsOf(builder: GlbBuilder, mesh: number, primitives: readonly GltfPrimitive[]): number[] {
  if (primitives.length === 1) return [mesh]
  const meshes = builder.json.meshes ?? []
  const { name } = meshes[mesh]
  const parts = primitives.slice(1).map((primitive, i) => addMesh(builder, { name: `${name} ${i + 2}`, primitives: [primitive] }))
  meshes[mesh] = { name, primitives: [primitives[0]] }
  return [mesh, ...parts]
}

const COMMA = encodeText(',')
const ROTATION = encodeText('],"rotation":[')
const SCALE = encodeText('],"scale":[')
const ENDED = encodeText(']}')
const TINT = encodeText('],"extras":{"tint":"#')
const TINT_ENDED = encodeText('"}}')
const NODE_SAMPLE = encodeText('{"mesh":12,"translation":[')

/** Writes one instance as a node; `head` is what comes before its place. */
function writeNode(out: TextWriter, head: Uint8Array, position: Float32Array, rotation: Float32Array, scale: Float32Array, tint: Uint32Array | null, i: number): void {
  const list = (column: Float32Array, width: number) => {
    for (let c = 0; c < width; c++) {
      if (c > 0) out.bytes(COMMA)
      out.number(column[width * i + c])
    }
  }
  out.bytes(head)
  list(position, 3)
  out.bytes(ROTATION)
  list(rotation, 4)
  out.bytes(SCALE)
  list(scale, 3)
  if (tint && tint[i] !== UNTINTED) {
    out.bytes(TINT)
    out.hex(tint[i])
    out.bytes(TINT_ENDED)
  } else out.bytes(ENDED)
}

export const glbNodes = defineHandoff({
  kind: 'glb-nodes',
  label: 'GLB with plain nodes',
  help: 'One node an instance, for readers that know no instancing; large and slower to open.',
  extension: 'glb',
  mime: 'model/gltf-binary',
  params: PARAMS,
  estimate: (input, values) => fixedBytes(input, values) + countOf(input) * (bytesARow(input.plantings, (out, _, block, i) => writeNode(out, NODE_SAMPLE, block.position, block.rotation, block.scale, block.tint, i)) + String(countOf(input)).length + 1),
  write(input, values, report) {
    const { builder, roots, gathered, meshes } = start(input, values, report)
    const { json } = builder
    const total = Math.max(1, countOf(input))
    // Nodes are written as text piece by piece: a million of them are never objects at once.
    const nodes = createTextWriter()
    const fixed = json.nodes ?? []
    nodes.text(fixed.map((node) => JSON.stringify(node)).join(','))
    let next = fixed.length
    let done = 0
    for (const { name, asset, position, rotation, scale, tint } of gathered) {
      const count = position.length / 3
      const first = next
      const head = encodeText(`{"mesh":${meshes.get(asset)},"translation":[`)
      for (let i = 0; i < count; i++) {
        if (next > 0) nodes.bytes(COMMA)
        writeNode(nodes, head, position, rotation, scale, tint, i)
        next++
        if (++done % 20000 === 0)
          report(0.2 + (0.75 * done) / total, `Writing instance ${done.toLocaleString('en')} of ${total.toLocaleString('en')}`)
      }
      const called = JSON.stringify(name)
      nodes.text(`,{"name":${called},"children":[`)
      for (let i = 0; i < count; i++) {
        if (i > 0) nodes.bytes(COMMA)
        nodes.whole(first + i)
      }
      nodes.text(']}')
      roots.push(next++)
    }
    json.scenes = [{ name: input.meadow.name, nodes: roots }]
    json.scene = 0
    delete json.nodes
    json.buffers = [{ byteLength: builder.binLength }]
    const rest = JSON.stringify(json)
    const encode = (text: string) => new TextEncoder().encode(text)
    return finish(
      builder,
      next > 0 ? [encode(rest.slice(0, -1) + ',"nodes":['), ...nodes.done(), encode(']}')] : [encode(rest)],
    )
  },
})
