/** Distances to a set of line segments, and which side of them a place lies on. */
export interface LineIndex {
  readonly segments: number
  /** x0 z0 x1 z1 of all segments, m; null when there is none. */
  readonly bounds: readonly [number, number, number, number] | null
  /**
   * Distance of each place to the nearest segment, m; infinite where there is none within `limit`,
   * which makes the search short. Negative inside by the even–odd rule when `signed`, which only makes
   * sense for closed lines.
   */
  distances(x: Float64Array, z: Float64Array, count: number, signed: boolean, limit: number, out: Float64Array): void
}

/** Segments in a leaf of the tree. */
const LEAF = 4
const MOST_ROWS = 4096
const ROW_ENTRIES = 8

/**
 * An index of polylines x z x z …; closed ones get a segment from their last point to the first. A
 * bounding volume hierarchy, split at the median, finds the nearest segment; rows of equal depth in z
 * hold the segments that a ray along x could cross.
 */
export function createLineIndex(lines: readonly (readonly number[])[], closed: boolean): LineIndex {
  const segments = segmentsOf(lines, closed)
  const n = segments.ax.length
  if (n === 0) return { segments: 0, bounds: null, distances: (_x, _z, count, _signed, _limit, out) => out.fill(Infinity, 0, count) }
  const tree = buildTree(segments)
  const rows = buildRows(segments, tree.box)
  return {
    segments: n,
    bounds: [tree.box[0], tree.box[1], tree.box[2], tree.box[3]],
    distances(x, z, count, signed, limit, out) {
      for (let from = 0; from < count; from += BATCH) {
        const to = Math.min(count, from + BATCH)
        if (limit < Infinity && allBeyond(tree, segments, x, z, from, to, limit)) out.fill(Infinity, from, to)
        else nearest(tree, segments, x, z, from, to, limit, out)
      }
      if (signed) giveSides(rows, segments, x, z, count, out)
    },
  }
}

interface Segments {
  readonly ax: Float64Array
  readonly az: Float64Array
  readonly bx: Float64Array
  readonly bz: Float64Array
}

function segmentsOf(lines: readonly (readonly number[])[], closed: boolean): Segments {
  const flat: number[] = []
  for (const line of lines) {
    const n = line.length >> 1
    for (let i = 0; i + 1 < n; i++) flat.push(line[2 * i], line[2 * i + 1], line[2 * i + 2], line[2 * i + 3])
    if (closed && n > 2) flat.push(line[2 * n - 2], line[2 * n - 1], line[0], line[1])
    if (n === 1) flat.push(line[0], line[1], line[0], line[1])
  }
  const column = (c: number) => Float64Array.from({ length: flat.length / 4 }, (_, i) => flat[4 * i + c])
  return { ax: column(0), az: column(1), bx: column(2), bz: column(3) }
}

/** Node k has its box at 4k; its children are `first[k]` and `first[k] + 1`, or, in a leaf, `count[k]` segments from `first[k]`. */
interface Tree {
  readonly box: Float64Array
  readonly first: Int32Array
  /** 0 for inner nodes. */
  readonly count: Int32Array
}

/** Builds the tree and sorts the segments into the order of its leaves. */
function buildTree(segments: Segments): Tree {
  const { ax, az, bx, bz } = segments
  const n = ax.length
  const order = Int32Array.from({ length: n }, (_, i) => i)
  const most = 4 * Math.ceil(n / LEAF) + 1
  const box = new Float64Array(4 * most)
  const first = new Int32Array(most)
  const count = new Int32Array(most)
  let nodes = 1
  const work: [node: number, from: number, to: number][] = [[0, 0, n]]
  for (let item = work.pop(); item; item = work.pop()) {
    const [node, from, to] = item
    let [x0, z0, x1, z1] = [Infinity, Infinity, -Infinity, -Infinity]
    for (let k = from; k < to; k++) {
      const i = order[k]
      x0 = Math.min(x0, ax[i], bx[i])
      x1 = Math.max(x1, ax[i], bx[i])
      z0 = Math.min(z0, az[i], bz[i])
      z1 = Math.max(z1, az[i], bz[i])
    }
    box.set([x0, z0, x1, z1], 4 * node)
    if (to - from <= LEAF) {
      first[node] = from
      count[node] = to - from
      continue
    }
    const wide = x1 - x0 > z1 - z0
    const [a, b] = wide ? [ax, bx] : [az, bz]
    order.subarray(from, to).sort((i, j) => a[i] + b[i] - a[j] - b[j] || i - j)
    const middle = (from + to) >> 1
    first[node] = nodes
    work.push([nodes, from, middle], [nodes + 1, middle, to])
    nodes += 2
  }
  for (const column of [ax, az, bx, bz]) {
    const sorted = Float64Array.from(order, (i) => column[i])
    column.set(sorted)
  }
  return { box, first, count }
}

/** Sites that lie together are looked at together: so many that follow each other. */
const BATCH = 64
const middleX = new Float64Array(1)
const middleZ = new Float64Array(1)
const middleAway = new Float64Array(1)

/** Whether all sites from `from` to `to` are farther than `limit` from every segment, as far as the circle around them tells. */
function allBeyond(tree: Tree, segments: Segments, x: Float64Array, z: Float64Array, from: number, to: number, limit: number): boolean {
  let [x0, z0, x1, z1] = [Infinity, Infinity, -Infinity, -Infinity]
  for (let s = from; s < to; s++) {
    if (x[s] < x0) x0 = x[s]
    if (x[s] > x1) x1 = x[s]
    if (z[s] < z0) z0 = z[s]
    if (z[s] > z1) z1 = z[s]
  }
  middleX[0] = 0.5 * (x0 + x1)
  middleZ[0] = 0.5 * (z0 + z1)
  const radius = 0.5 * Math.sqrt((x1 - x0) * (x1 - x0) + (z1 - z0) * (z1 - z0))
  nearest(tree, segments, middleX, middleZ, 0, 1, (limit + radius) * (1 + 1e-9) + 1e-9, middleAway)
  return middleAway[0] === Infinity
}

const stack = new Int32Array(128)
const stackDistance = new Float64Array(128)

function nearest(
  { box, first, count }: Tree,
  { ax, az, bx, bz }: Segments,
  x: Float64Array,
  z: Float64Array,
  start: number,
  end: number,
  limit: number,
  out: Float64Array,
): void {
  let last = Infinity
  const farthest = limit * limit
  for (let s = start; s < end; s++) {
    const px = x[s]
    const pz = z[s]
    // Neighbouring sites have nearly the same distance: no farther than the last one and the step from it.
    let best = farthest
    if (last < Infinity) {
      const dx = px - x[s - 1]
      const dz = pz - z[s - 1]
      const most = (last + Math.sqrt(dx * dx + dz * dz)) * (1 + 1e-9) + 1e-9
      if (most * most < best) best = most * most
    }
    let found = Infinity
    let top = 1
    stack[0] = 0
    stackDistance[0] = boxDistance(box, 0, px, pz)
    while (top > 0) {
      top--
      if (stackDistance[top] > best) continue
      const node = stack[top]
      const from = first[node]
      const held = count[node]
      if (held > 0) {
        for (let i = from; i < from + held; i++) {
          const ex = bx[i] - ax[i]
          const ez = bz[i] - az[i]
          const wx = px - ax[i]
          const wz = pz - az[i]
          const along = wx * ex + wz * ez
          const full = ex * ex + ez * ez
          const t = along <= 0 ? 0 : along >= full ? 1 : along / full
          const dx = wx - t * ex
          const dz = wz - t * ez
          const d = dx * dx + dz * dz
          if (d < found) found = d
        }
        if (found < best) best = found
        continue
      }
      const da = boxDistance(box, from, px, pz)
      const db = boxDistance(box, from + 1, px, pz)
      const near = da <= db ? from : from + 1
      const dNear = da <= db ? da : db
      const dFar = da <= db ? db : da
      if (dFar <= best) {
        stack[top] = near === from ? from + 1 : from
        stackDistance[top++] = dFar
      }
      if (dNear <= best) {
        stack[top] = near
        stackDistance[top++] = dNear
      }
    }
    last = found <= farthest ? Math.sqrt(found) : Infinity
    out[s] = last
  }
}

/** Squared distance to a node's box. */
function boxDistance(box: Float64Array, node: number, x: number, z: number): number {
  const k = 4 * node
  const dx = x < box[k] ? box[k] - x : x > box[k + 2] ? x - box[k + 2] : 0
  const dz = z < box[k + 1] ? box[k + 1] - z : z > box[k + 3] ? z - box[k + 3] : 0
  return dx * dx + dz * dz
}

/** Segments of row r: members start[r] … start[r + 1] − 1. */
interface Rows {
  readonly z0: number
  readonly z1: number
  readonly perZ: number
  readonly start: Int32Array
  readonly members: Int32Array
}

function buildRows({ az, bz }: Segments, box: Float64Array): Rows {
  const n = az.length
  const [z0, z1] = [box[1], box[3]]
  for (let rows = Math.min(MOST_ROWS, n); ; rows >>= 1) {
    const perZ = z1 > z0 ? rows / (z1 - z0) : 0
    const row = (z: number) => Math.min(rows - 1, Math.floor((z - z0) * perZ))
    const start = new Int32Array(rows + 1)
    let total = 0
    for (let i = 0; i < n; i++) total += row(Math.max(az[i], bz[i])) - row(Math.min(az[i], bz[i])) + 1
    // Tall segments lie in many rows; fewer rows then.
    if (rows > 1 && total > ROW_ENTRIES * n) continue
    const each = (visit: (row: number, segment: number) => void) => {
      for (let i = 0; i < n; i++)
        for (let r = row(Math.min(az[i], bz[i])); r <= row(Math.max(az[i], bz[i])); r++) visit(r, i)
    }
    each((r) => start[r + 1]++)
    for (let r = 0; r < rows; r++) start[r + 1] += start[r]
    const members = new Int32Array(total)
    const fill = start.slice()
    each((r, i) => (members[fill[r]++] = i))
    return { z0, z1, perZ, start, members }
  }
}

function giveSides(
  { z0, z1, perZ, start, members }: Rows,
  { ax, az, bx, bz }: Segments,
  x: Float64Array,
  z: Float64Array,
  count: number,
  out: Float64Array,
): void {
  const last = start.length - 2
  for (let s = 0; s < count; s++) {
    const px = x[s]
    const pz = z[s]
    if (pz < z0 || pz > z1) continue
    const row = Math.min(last, Math.floor((pz - z0) * perZ))
    let inside = false
    for (let k = start[row]; k < start[row + 1]; k++) {
      const i = members[k]
      if (az[i] <= pz === bz[i] <= pz) continue
      if (px < ax[i] + ((pz - az[i]) / (bz[i] - az[i])) * (bx[i] - ax[i])) inside = !inside
    }
    if (inside) out[s] = -out[s]
  }
}
