/** Estimators written apart from what they measure. */

/**
 * Clark and Evans (1954): mean distance to the nearest neighbour over that of a random pattern of the
 * same density. Places nearer to the rim than `margin` are neighbours only, which corrects the edge.
 */
export function clarkEvans(points: readonly (readonly [number, number])[], side: number, margin: number): number {
  const density = points.length / (side * side)
  const cell = 1.5 / Math.sqrt(density)
  const cells = new Map<number, number[]>()
  const name = (i: number, j: number) => i * 65537 + j
  points.forEach(([x, z], k) => {
    const key = name(Math.floor(x / cell), Math.floor(z / cell))
    cells.set(key, [...(cells.get(key) ?? []), k])
  })
  let sum = 0
  let count = 0
  points.forEach(([x, z], k) => {
    if (Math.abs(x) > side / 2 - margin || Math.abs(z) > side / 2 - margin) return
    const [ci, cj] = [Math.floor(x / cell), Math.floor(z / cell)]
    let best = Infinity
    for (let ring = 0; best > (ring - 1) * cell && ring < 200; ring++)
      for (let i = ci - ring; i <= ci + ring; i++)
        for (let j = cj - ring; j <= cj + ring; j++)
          if (Math.max(Math.abs(i - ci), Math.abs(j - cj)) === ring)
            for (const other of cells.get(name(i, j)) ?? []) if (other !== k) best = Math.min(best, Math.hypot(points[other][0] - x, points[other][1] - z))
    sum += best
    count++
  })
  return (2 * Math.sqrt(density) * sum) / count
}

/** Upper 0.001 point of χ² with `freedom` degrees of freedom (Wilson and Hilferty 1931). */
export function chiSquaredLimit(freedom: number): number {
  const z = 3.0902
  return freedom * (1 - 2 / (9 * freedom) + z * Math.sqrt(2 / (9 * freedom))) ** 3
}
