import type { GltfJson } from '../formats/glb.ts'
import { splitGlb } from '../formats/glb.ts'

/** What a test reads from a GLB that was handed off, without the writer's own code: its ground and the places of its instances. */
export interface ExportedGround {
  /** Height of the ground's triangles at a plan position; null where there is none. */
  height(x: number, z: number): number | null
  /** x y z of every instance. */
  readonly places: readonly (readonly [number, number, number])[]
}

export function readExported(glb: Uint8Array<ArrayBuffer>, groundName: string): ExportedGround {
  const parts = splitGlb(glb)
  if (!parts) throw new Error('no GLB')
  const { json, bin } = parts
  const node = json.nodes?.find(({ name }) => name === groundName)
  const primitive = json.meshes?.[node?.mesh as number]?.primitives[0]
  if (!primitive) throw new Error(`no ground is called ${groundName}`)
  const positions = columnOf(json, bin, primitive.attributes.POSITION)
  const indices = columnOf(json, bin, primitive.indices as number)
  return { height: heightsOf(positions, indices), places: placesOf(json, bin) }
}

function columnOf({ accessors, bufferViews }: GltfJson, bin: Uint8Array<ArrayBuffer>, index: number): Float32Array | Uint32Array {
  const accessor = accessors?.[index]
  const view = bufferViews?.[accessor?.bufferView ?? -1]
  if (!accessor || !view) throw new Error('no such accessor')
  const width = { SCALAR: 1, VEC3: 3, VEC4: 4 }[accessor.type] ?? 1
  const from = (view.byteOffset ?? 0) + (accessor.byteOffset ?? 0)
  const bytes = bin.slice(from, from + 4 * width * accessor.count).buffer
  return accessor.componentType === 5126 ? new Float32Array(bytes) : new Uint32Array(bytes)
}

/** Looks triangles up by the buckets that their boxes touch, and weighs their corners by areas. */
function heightsOf(p: ArrayLike<number>, indices: ArrayLike<number>): ExportedGround['height'] {
  let side = 0
  for (let c = 0; c < 3; c++) side = Math.max(side, Math.abs(p[3 * indices[c]] - p[3 * indices[0]]), Math.abs(p[3 * indices[c] + 2] - p[3 * indices[0] + 2]))
  const buckets = new Map<string, number[]>()
  for (let t = 0; t < indices.length; t += 3) {
    const xs = [0, 1, 2].map((c) => p[3 * indices[t + c]])
    const zs = [0, 1, 2].map((c) => p[3 * indices[t + c] + 2])
    for (let i = Math.floor(Math.min(...xs) / side); i <= Math.floor(Math.max(...xs) / side); i++)
      for (let j = Math.floor(Math.min(...zs) / side); j <= Math.floor(Math.max(...zs) / side); j++) {
        const key = `${i},${j}`
        const list = buckets.get(key)
        if (list) list.push(t)
        else buckets.set(key, [t])
      }
  }
  return (x, z) => {
    for (const t of buckets.get(`${Math.floor(x / side)},${Math.floor(z / side)}`) ?? []) {
      const [a, b, c] = [0, 1, 2].map((k) => [p[3 * indices[t + k]], p[3 * indices[t + k] + 1], p[3 * indices[t + k] + 2]])
      const area = (b[0] - a[0]) * (c[2] - a[2]) - (c[0] - a[0]) * (b[2] - a[2])
      const u = ((x - a[0]) * (c[2] - a[2]) - (c[0] - a[0]) * (z - a[2])) / area
      const v = ((b[0] - a[0]) * (z - a[2]) - (x - a[0]) * (b[2] - a[2])) / area
      if (u > -1e-6 && v > -1e-6 && u + v < 1 + 1e-6) return a[1] + u * (b[1] - a[1]) + v * (c[1] - a[1])
    }
    return null
  }
}

function placesOf(json: GltfJson, bin: Uint8Array<ArrayBuffer>): [number, number, number][] {
  const places: [number, number, number][] = []
  const seen = new Set<number>()
  for (const { extensions } of json.nodes ?? []) {
    const column = (extensions as { EXT_mesh_gpu_instancing?: { attributes: { TRANSLATION: number } } } | undefined)?.EXT_mesh_gpu_instancing?.attributes.TRANSLATION
    if (column === undefined || seen.has(column)) continue
    seen.add(column)
    const xyz = columnOf(json, bin, column)
    for (let i = 0; i < xyz.length; i += 3) places.push([xyz[i], xyz[i + 1], xyz[i + 2]])
  }
  return places
}
