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
    for (let t = 0; t + 8 < corners.length; t += 9) {
      const x = [0, 3, 6].map((k) => (corners[t + k] * c + corners[t + k + 2] * s + radius) * scale + 1)
      const y = [0, 3, 6].map((k) => corners[t + k + 1] * scale + 1)
      cover(seen, wide, high, x, y)
    }
    return seen.reduce((sum, one) => sum + one, 0)
  })
}

/** Marks the pixels that a triangle touches: those whose middles it holds, and those along its edges. */
function cover(seen: Uint8Array, wide: number, high: number, x: readonly number[], y: readonly number[]): void {
  const area = (x[1] - x[0]) * (y[2] - y[0]) - (x[2] - x[0]) * (y[1] - y[0])
  for (let k = 0; k < 3; k++) line(seen, wide, high, x[k], y[k], x[(k + 1) % 3], y[(k + 1) % 3])
  if (Math.abs(area) < 1e-12) return
  const j1 = Math.min(high - 1, Math.ceil(Math.max(...y)))
  const i1 = Math.min(wide - 1, Math.ceil(Math.max(...x)))
  for (let j = Math.max(0, Math.floor(Math.min(...y))); j <= j1; j++)
    for (let i = Math.max(0, Math.floor(Math.min(...x))); i <= i1; i++) {
      const [px, py] = [i + 0.5, j + 0.5]
      const u = ((px - x[0]) * (y[2] - y[0]) - (x[2] - x[0]) * (py - y[0])) / area
      const v = ((x[1] - x[0]) * (py - y[0]) - (px - x[0]) * (y[1] - y[0])) / area
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
