import type { Outline } from '../../core/meadow.ts'
import { outlineLength, patchArea } from '../../core/outlines/measure.ts'

/** "0.42 ha" or "87 m²" of a patch. */
export function areaWords(outline: Outline): string {
  const area = patchArea(outline)
  return area >= 5000 ? `${(area / 10000).toFixed(2)} ha` : `${area.toFixed(0)} m²`
}

/** "112 m long". */
export function lengthWords(outline: Outline): string {
  return `${outlineLength(outline).toFixed(0)} m long`
}
