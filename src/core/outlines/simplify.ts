/**
 * The points of an open line that are needed for it to stay within `tolerance` m of all given ones
 * (Ramer 1972; Douglas & Peucker 1973). Points x z x z …
 */
export function simplify(points: readonly number[], tolerance: number): number[] {
  const n = points.length / 2
  if (n < 3) return [...points]
  const keep = new Uint8Array(n)
  keep[0] = keep[n - 1] = 1
  const work: [number, number][] = [[0, n - 1]]
  for (let item = work.pop(); item; item = work.pop()) {
    const [from, to] = item
    let farthest = -1
    let most = tolerance * tolerance
    for (let i = from + 1; i < to; i++) {
      const d = squaredDistance(points, i, from, to)
      if (d > most) {
        most = d
        farthest = i
      }
    }
    if (farthest < 0) continue
    keep[farthest] = 1
    work.push([from, farthest], [farthest, to])
  }
  return points.filter((_, k) => keep[k >> 1] === 1)
}

/** Squared distance of point i to the segment from point a to b. */
function squaredDistance(p: readonly number[], i: number, a: number, b: number): number {
  const ex = p[2 * b] - p[2 * a]
  const ez = p[2 * b + 1] - p[2 * a + 1]
  const wx = p[2 * i] - p[2 * a]
  const wz = p[2 * i + 1] - p[2 * a + 1]
  const full = ex * ex + ez * ez
  const t = full > 0 ? Math.min(1, Math.max(0, (wx * ex + wz * ez) / full)) : 0
  return (wx - t * ex) ** 2 + (wz - t * ez) ** 2
}
