/**
 * Models of more triangles are heavy: they are made lighter step by step (to simplify all of them for each
 * try would take minutes), and small pictures show a lighter form.
 */
export const HEAVY_TRIANGLES = 60_000

/** What is measured on an asset's full form: its size, the outline of its base, the room it wants. */
export interface AssetMeasures {
  /** Bounding box size, m. */
  readonly size: [number, number, number]
  /** Convex base outline, counter-clockwise seen from above, x z pairs, m; at most 8 corners. */
  readonly base: number[]
  readonly room: number
}

/** Height above the lowest point that still counts as base, as a share of the whole height. */
const BASE_SHARE = 0.03
const DIRECTIONS = 8
/** Share of the widest reach that an instance wants to itself when its foot is narrower. */
const CROWN_ROOM = 0.5

/** Measures repaired positions (x y z triples, m, Y up). Throws RangeError when there are none. */
export function measureAsset(positions: readonly ArrayLike<number>[]): AssetMeasures {
  const low = [Infinity, Infinity, Infinity]
  const high = [-Infinity, -Infinity, -Infinity]
  let reach = 0
  for (const column of positions)
    for (let i = 0; i < column.length; i += 3) {
      for (let c = 0; c < 3; c++) {
        if (column[i + c] < low[c]) low[c] = column[i + c]
        if (column[i + c] > high[c]) high[c] = column[i + c]
      }
      reach = Math.max(reach, column[i] * column[i] + column[i + 2] * column[i + 2])
    }
  if (!(high[0] >= low[0])) throw new RangeError('measureAsset: no positions')
  const size: [number, number, number] = [high[0] - low[0], high[1] - low[1], high[2] - low[2]]
  const base = convexBase(positions, low[1] + Math.max(BASE_SHARE * size[1], 0.001))
  return { size, base, room: roomOf(base, reach) }
}

/** The room that something wants, m: by the corners of its base, x z pairs, and the square of its farthest reach in plan. */
export function roomOf(base: readonly number[], reach: number): number {
  let foot = 0
  for (let i = 0; i < base.length; i += 2) foot = Math.max(foot, base[i] * base[i] + base[i + 1] * base[i + 1])
  return Math.max(Math.sqrt(foot), CROWN_ROOM * Math.sqrt(reach))
}

/** The extreme ones of places x y z below a height in eight directions, x z pairs: corners of their convex hull, in order. */
export function convexBase(positions: readonly ArrayLike<number>[], top: number): number[] {
  const outline: number[] = []
  for (let d = 0; d < DIRECTIONS; d++) {
    // Counter-clockwise seen from above (+Y towards the eye, +X right, +Z down the page).
    const dx = OCTANT_X[d]
    const dz = -OCTANT_Z[d]
    let best = -Infinity
    let x = 0
    let z = 0
    for (const column of positions)
      for (let i = 0; i < column.length; i += 3) {
        if (column[i + 1] > top) continue
        const along = column[i] * dx + column[i + 2] * dz
        if (along > best) {
          best = along
          x = column[i]
          z = column[i + 2]
        }
      }
    const n = outline.length
    const repeated = n >= 2 && outline[n - 2] === x && outline[n - 1] === z
    const closes = n >= 2 && outline[0] === x && outline[1] === z
    if (!repeated && !closes) outline.push(x, z)
  }
  return outline
}

const DIAGONAL = 0.7071067811865476
const OCTANT_X = [1, DIAGONAL, 0, -DIAGONAL, -1, -DIAGONAL, 0, DIAGONAL]
const OCTANT_Z = [0, DIAGONAL, 1, DIAGONAL, 0, -DIAGONAL, -1, -DIAGONAL]
