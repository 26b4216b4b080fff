/** Farthest that a flattened curve lies from the curve itself, m. */
export const FLATNESS = 0.01
/** Enough for curves that bend over hundreds of metres. */
const MOST_PIECES = 256

/**
 * Points x z x z … of the polyline that stands for a line: the same points when it is straight, or a
 * centripetal Catmull–Rom curve through them (Yuksel, Schaefer & Keyser 2011) flattened to within
 * `FLATNESS`. A closed line does not repeat its first point. Points that double their neighbour are
 * left out.
 */
export function flatten(points: readonly number[], closed: boolean, smooth: boolean): number[] {
  return flattenAt(points, closed, smooth).line
}

/** The same polyline with where each of its points is among those of the line: 2.5 is half-way between the third and the next one that is no double. */
export function flattenAt(points: readonly number[], closed: boolean, smooth: boolean): { readonly line: number[]; readonly at: number[] } {
  const { line: own, at: kept } = withoutDoubles(points, closed)
  const n = own.length / 2
  if (!smooth || n < 3) return { line: own, at: kept }
  const out: number[] = []
  const at: number[] = []
  const pieces = closed ? n : n - 1
  for (let i = 0; i < pieces; i++) {
    const before = closed ? (i + n - 1) % n : i - 1
    const next = (i + 1) % n
    const after = closed ? (i + 2) % n : i + 2
    const b = bezierOf(own, before, i, next, after < n ? after : -1)
    const bend = Math.max(
      (b[0] - 2 * b[2] + b[4]) ** 2 + (b[1] - 2 * b[3] + b[5]) ** 2,
      (b[2] - 2 * b[4] + b[6]) ** 2 + (b[3] - 2 * b[5] + b[7]) ** 2,
    )
    // A cubic's chord of a share 1/k strays at most 6/8 · bend / k².
    const k = Math.min(MOST_PIECES, Math.max(1, Math.ceil(Math.sqrt((0.75 * Math.sqrt(bend)) / FLATNESS))))
    for (let j = 0; j < k; j++) {
      const t = j / k
      const s = 1 - t
      at.push(kept[i] + t)
      for (let c = 0; c < 2; c++)
        out.push(s * s * s * b[c] + 3 * s * s * t * b[2 + c] + 3 * s * t * t * b[4 + c] + t * t * t * b[6 + c])
    }
  }
  if (!closed) {
    out.push(own[2 * n - 2], own[2 * n - 1])
    at.push(kept[n - 1])
  }
  return { line: out, at }
}

/** A line without points that double their neighbour, and which of the points are left. */
function withoutDoubles(points: readonly number[], closed: boolean): { readonly line: number[]; readonly at: number[] } {
  const out: number[] = []
  const at: number[] = []
  for (let i = 0; i + 1 < points.length; i += 2) {
    const n = out.length
    if (n > 0 && out[n - 2] === points[i] && out[n - 1] === points[i + 1]) continue
    out.push(points[i], points[i + 1])
    at.push(i / 2)
  }
  const n = out.length
  if (closed && n > 2 && out[0] === out[n - 2] && out[1] === out[n - 1]) {
    out.length = n - 2
    at.length--
  }
  return { line: out, at }
}

/** Control points of the piece from point i to j; beyond an open end the line goes straight on. */
function bezierOf(p: readonly number[], h: number, i: number, j: number, k: number): number[] {
  const piece = [p[2 * i], p[2 * i + 1], 0, 0, 0, 0, p[2 * j], p[2 * j + 1]]
  const at = (n: number, c: number, from: number, to: number) => (n < 0 ? 2 * p[2 * from + c] - p[2 * to + c] : p[2 * n + c])
  const d2 = distance(p[2 * j] - p[2 * i], p[2 * j + 1] - p[2 * i + 1])
  const d1 = distance(p[2 * i] - at(h, 0, i, j), p[2 * i + 1] - at(h, 1, i, j))
  const d3 = distance(at(k, 0, j, i) - p[2 * j], at(k, 1, j, i) - p[2 * j + 1])
  const [r1, r2, r3] = [Math.sqrt(d1), Math.sqrt(d2), Math.sqrt(d3)]
  for (let c = 0; c < 2; c++) {
    const [p0, p1, p2, p3] = [at(h, c, i, j), p[2 * i + c], p[2 * j + c], at(k, c, j, i)]
    piece[2 + c] = (d1 * p2 - d2 * p0 + (2 * d1 + 3 * r1 * r2 + d2) * p1) / (3 * r1 * (r1 + r2))
    piece[4 + c] = (d3 * p1 - d2 * p3 + (2 * d3 + 3 * r3 * r2 + d2) * p2) / (3 * r3 * (r3 + r2))
  }
  return piece
}

function distance(x: number, z: number): number {
  return Math.sqrt(x * x + z * z)
}
