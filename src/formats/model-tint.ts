import type { Document, Material, Primitive } from '@gltf-transform/core'
import { linear } from './srgb.ts'

/**
 * A tint over all of a model, which multiplies the colours that its file gave it. The file's own colours are kept
 * beside it, so that a tint can be changed or taken off at any time, wherever the model was in between.
 */

/** The tint that leaves a model as its file has it. */
export const NO_TINT = '#ffffff'

const isTint = (value: unknown): value is string => typeof value === 'string' && /^#[0-9a-f]{6}$/.test(value)

/** Where a material keeps the colour that its file gave it: linear r g b. */
const OWN = 'ownColour'

/** The tint that a model has, #rrggbb. */
export function tintOf(document: Document): string {
  const { tint } = document.getRoot().getExtras()
  return isTint(tint) ? tint : NO_TINT
}

/** Gives a model a tint in the place of the one that it has. Only what `parts` are of is tinted; those without a material get one. */
export function tintModel(document: Document, parts: readonly Primitive[], tint: string): void {
  if (tint === tintOf(document)) return
  const by = [1, 3, 5].map((at) => linear(parseInt(tint.slice(at, at + 2), 16) / 255))
  const bare = parts.filter((part) => !part.getMaterial())
  if (bare.length > 0) {
    const material = document.createMaterial('Tinted')
    for (const part of bare) part.setMaterial(material)
  }
  for (const material of new Set(parts.flatMap((part) => part.getMaterial() ?? []))) {
    const own = ownColour(material)
    const [, , , opacity] = material.getBaseColorFactor()
    material.setBaseColorFactor([own[0] * by[0], own[1] * by[1], own[2] * by[2], opacity])
    const { [OWN]: _, ...rest } = material.getExtras()
    material.setExtras(tint === NO_TINT ? rest : { ...rest, [OWN]: own })
  }
  const { tint: _, ...rest } = document.getRoot().getExtras()
  document.getRoot().setExtras(tint === NO_TINT ? rest : { ...rest, tint })
}

function ownColour(material: Material): number[] {
  const kept = material.getExtras()[OWN]
  if (Array.isArray(kept) && kept.length === 3 && kept.every((one) => typeof one === 'number' && one >= 0 && one <= 1)) return kept as number[]
  return material.getBaseColorFactor().slice(0, 3)
}
