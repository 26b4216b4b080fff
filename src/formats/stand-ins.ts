import type { Primitive } from '@gltf-transform/core'
import { WebIO } from '@gltf-transform/core'
import { ALL_EXTENSIONS } from '@gltf-transform/extensions'
import { MeshoptSimplifier } from 'meshoptimizer'

export interface StandIn {
  readonly glb: Uint8Array<ArrayBuffer>
  readonly triangles: number
}

/** Triangles that a stand-in may have at most, and its share of the full form; nearest first. */
const FORMS = [
  { share: 0.25, most: 400 },
  { share: 0.04, most: 48 },
]

/**
 * Makes two lighter forms of a repaired asset: edge collapse first (Garland & Heckbert's quadrics,
 * by meshoptimizer), and vertex clustering where that cannot get low enough.
 */
export async function makeStandIns(glb: Uint8Array<ArrayBuffer>, triangles: number): Promise<StandIn[]> {
  await MeshoptSimplifier.ready
  const forms: StandIn[] = []
  for (const { share, most } of FORMS) {
    const wanted = Math.max(4, Math.min(Math.round(triangles * share), most))
    if (wanted >= triangles) {
      forms.push({ glb, triangles })
      continue
    }
    const io = new WebIO().registerExtensions(ALL_EXTENSIONS)
    const document = await io.readBinary(glb)
    let total = 0
    for (const mesh of document.getRoot().listMeshes())
      for (const primitive of mesh.listPrimitives()) total += lighten(primitive, wanted / triangles)
    for (const accessor of document.getRoot().listAccessors())
      if (accessor.listParents().every((parent) => parent.propertyType === 'Root')) accessor.dispose()
    forms.push({ glb: (await io.writeBinary(document)) as Uint8Array<ArrayBuffer>, triangles: total })
  }
  return forms
}

function lighten(primitive: Primitive, share: number): number {
  const positionAccessor = primitive.getAttribute('POSITION')
  const indexAccessor = primitive.getIndices()
  if (!positionAccessor || !indexAccessor) return 0
  const positions = Float32Array.from(positionAccessor.getArray() ?? [])
  const indices = Uint32Array.from(indexAccessor.getArray() ?? [])
  const aim = Math.max(3, Math.floor((indices.length * share) / 3) * 3)
  let [lighter] = MeshoptSimplifier.simplify(indices, positions, 3, aim, 1)
  if (lighter.length > 1.5 * aim) [lighter] = MeshoptSimplifier.simplifySloppy(indices, positions, 3, null, aim, 1)
  if (lighter.length < 3) lighter = indices.slice(0, 3)
  const [remap, unique] = MeshoptSimplifier.compactMesh(lighter)
  for (const semantic of primitive.listSemantics()) {
    const accessor = primitive.getAttribute(semantic)
    const array = accessor?.getArray()
    if (!accessor || !array) continue
    const width = accessor.getElementSize()
    const packed = new (array.constructor as new (length: number) => typeof array)(width * unique)
    for (let v = 0; v < remap.length; v++)
      if (remap[v] !== 0xffffffff) for (let c = 0; c < width; c++) packed[width * remap[v] + c] = array[width * v + c]
    primitive.setAttribute(semantic, accessor.clone().setArray(packed))
  }
  primitive.setIndices(indexAccessor.clone().setArray(lighter))
  return lighter.length / 3
}
