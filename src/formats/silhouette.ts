/** Horizontal directions that a shape is looked at from. */
const SIDES = 8
/** Pixels of the larger side of a picture. */
const PIXELS = 48

/**
 * Areas of a shape's silhouettes from eight sides around it, in pixels of one scale for all that are compared.
 * `corners` holds nine coordinates a triangle; `radius` and `height` are those of the full form, m.
 */
export function silhouettes(corners: ArrayLike<number>, radius: number, height: number): number[] {
  const scale = PIXELS / Math.max(2 * radius, height, 1e-9)
  const wide = Math.ceil(2 * radius * scale) + 3
  const high = Math.ceil(height * scale) + 3
  return Array.from({ length: SIDES }, (_, side) => {
    const angle = (Math.PI * side) / SIDES
    const [c, s] = [Math.cos(angle), Math.sin(angle)]
    const seen = new Uint8Array(wide * high)
    const across = (k: number) => (corners[k] * c + corners[k + 2] * s + radius) * scale + 1
    for (let t = 0; t + 8 < corners.length; t += 9)
      cover(seen, wide, high, across(t), corners[t + 1] * scale + 1, across(t + 3), corners[t + 4] * scale + 1, across(t + 6), corners[t + 7] * scale + 1)
    let count = 0
    for (let i = 0; i < seen.length; i++) count += seen[i]
    return count
  })
}

/** Marks the pixels that a triangle touches: those whose middles it holds, and those along its edges. Called for each of millions, so it makes no lists. */
function cover(seen: Uint8Array, wide: number, high: number, x0: number, y0: number, x1: number, y1: number, x2: number, y2: number): void {
  const left = Math.floor(Math.min(x0, x1, x2))
  const right = Math.floor(Math.max(x0, x1, x2))
  const low = Math.floor(Math.min(y0, y1, y2))
  const top = Math.floor(Math.max(y0, y1, y2))
  if (left === right && low === top) {
    if (left >= 0 && low >= 0 && left < wide && low < high) seen[low * wide + left] = 1
    return
  }
  line(seen, wide, high, x0, y0, x1, y1)
  line(seen, wide, high, x1, y1, x2, y2)
  line(seen, wide, high, x2, y2, x0, y0)
  const area = (x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0)
  if (Math.abs(area) < 1e-12) return
  for (let j = Math.max(0, low); j <= Math.min(high - 1, top + 1); j++)
    for (let i = Math.max(0, left); i <= Math.min(wide - 1, right + 1); i++) {
      const px = i + 0.5
      const py = j + 0.5
      const u = ((px - x0) * (y2 - y0) - (x2 - x0) * (py - y0)) / area
      const v = ((x1 - x0) * (py - y0) - (px - x0) * (y1 - y0)) / area
      if (u >= 0 && v >= 0 && u + v <= 1) seen[j * wide + i] = 1
    }
}

function line(seen: Uint8Array, wide: number, high: number, x0: number, y0: number, x1: number, y1: number): void {
  const steps = Math.ceil(2 * Math.max(Math.abs(x1 - x0), Math.abs(y1 - y0))) + 1
  for (let k = 0; k <= steps; k++) {
    const i = Math.floor(x0 + ((x1 - x0) * k) / steps)
    const j = Math.floor(y0 + ((y1 - y0) * k) / steps)
    if (i >= 0 && j >= 0 && i < wide && j < high) seen[j * wide + i] = 1
  }
}
