import { Document, WebIO } from '@gltf-transform/core'
import { readFileSync } from 'node:fs'
import { splitGlb } from './glb.ts'
import { readModel } from './asset-import.ts'
import { repairModel } from './asset-repair.ts'
import { tintOf } from './model-tint.ts'
import { NO_REPAIR } from './repair.ts'

const cactus = new Uint8Array(readFileSync('src/testing/models/cactus.glb')) as Uint8Array<ArrayBuffer>

async function tinted(bytes: Uint8Array<ArrayBuffer>, tint: string): Promise<Uint8Array<ArrayBuffer>> {
  return (await repairModel(await readModel(bytes, 'model.glb'), { ...NO_REPAIR, tint }, 'model')).glb
}

const factorsOf = async (bytes: Uint8Array<ArrayBuffer>) => (await new WebIO().readBinary(bytes)).getRoot().listMaterials().map((material) => material.getBaseColorFactor())

/** Linear light by the standard's own table of tangent points: #808080 is 21.586 %. */
const GREY = 0.2158605

describe('a tint over all of a model', () => {
  it('multiplies what the file gave it; another takes its place, and white leaves it as it was', async () => {
    const plain = await tinted(cactus, '#ffffff')
    const own = await factorsOf(plain)
    const grey = await tinted(plain, '#808080')
    expect((await readModel(grey, 'model.glb')).guess.tint).toBe('#808080')
    const greyed = await factorsOf(grey)
    expect(greyed.length).toBeGreaterThan(0)
    greyed.forEach((factor, k) => [0, 1, 2].forEach((c) => expect(factor[c]).toBeCloseTo(own[k][c] * GREY, 6)))
    greyed.forEach((factor, k) => expect(factor[3]).toBe(own[k][3]))
    const red = await factorsOf(await tinted(grey, '#ff0000'))
    red.forEach((factor, k) => expect(factor.slice(0, 3)).toEqual([own[k][0], 0, 0]))
    expect(splitGlb(await tinted(grey, '#ffffff'))?.json).toEqual(splitGlb(await tinted(plain, '#ffffff'))?.json)
    // The same again changes nothing.
    expect(await factorsOf(await tinted(grey, '#808080'))).toEqual(greyed)
  })

  it('colours what has no material, and takes no nonsense for a tint or a colour', async () => {
    const document = new Document()
    const buffer = document.createBuffer()
    const primitive = document.createPrimitive().setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0)).setBuffer(buffer))
    document.createScene().addChild(document.createNode().setMesh(document.createMesh().addPrimitive(primitive)))
    document.getRoot().setExtras({ tint: 'javascript:' })
    expect(tintOf(document)).toBe('#ffffff')
    const bytes = (await new WebIO().writeBinary(document)) as Uint8Array<ArrayBuffer>
    expect(await factorsOf(await tinted(bytes, '#808080'))).toEqual([[expect.closeTo(GREY, 6), expect.closeTo(GREY, 6), expect.closeTo(GREY, 6), 1]])
    const strange = document.createMaterial('Strange').setBaseColorFactor([0.5, 0.5, 0.5, 1]).setExtras({ ownColour: [9, 'x', null] })
    primitive.setMaterial(strange)
    const [factor] = await factorsOf(await tinted((await new WebIO().writeBinary(document)) as Uint8Array<ArrayBuffer>, '#808080'))
    expect(factor[0]).toBeCloseTo(0.5 * GREY, 6)
  })
})
