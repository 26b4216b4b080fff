/**
 * Instances as columns. A block is one buffer, so that it can be handed to another thread whole:
 *
 *   idLow u32[n] | idHigh u32[n] | tint u32[n] | key f32[n] | room f32[n] |
 *   position f32[3n] | rotation f32[4n] | scale f32[3n] | asset u16[n]
 *
 * position in metres, rotation a unit quaternion x y z w, scale a factor per own axis, room the
 * radius in metres, key the rank that decides who stays when fewer are wanted (lowest first),
 * tint 0xRRGGBBAA. Rows are sorted by asset, then key, then id, so that the first k rows of an
 * asset are the k that stay.
 */
export interface Block {
  readonly count: number
  readonly buffer: ArrayBuffer
  readonly idLow: Uint32Array<ArrayBuffer>
  readonly idHigh: Uint32Array<ArrayBuffer>
  readonly tint: Uint32Array<ArrayBuffer>
  readonly key: Float32Array<ArrayBuffer>
  readonly room: Float32Array<ArrayBuffer>
  readonly position: Float32Array<ArrayBuffer>
  readonly rotation: Float32Array<ArrayBuffer>
  readonly scale: Float32Array<ArrayBuffer>
  readonly asset: Uint16Array<ArrayBuffer>
}

/** The tint that leaves an instance as its asset is. */
export const UNTINTED = 0xffffffff

const BYTES_PER_INSTANCE = 5 * 4 + 10 * 4 + 2

/** Bytes of a block of `count` instances. */
export function blockBytes(count: number): number {
  return count * BYTES_PER_INSTANCE
}

/** Views a buffer laid out as above; allocates one when none is given. */
export function blockOf(count: number, buffer: ArrayBuffer = new ArrayBuffer(blockBytes(count))): Block {
  if (buffer.byteLength !== blockBytes(count))
    throw new RangeError(`blockOf: ${count} instances need ${blockBytes(count)} bytes, got ${buffer.byteLength}`)
  const column = 4 * count
  return {
    count,
    buffer,
    idLow: new Uint32Array(buffer, 0, count),
    idHigh: new Uint32Array(buffer, column, count),
    tint: new Uint32Array(buffer, 2 * column, count),
    key: new Float32Array(buffer, 3 * column, count),
    room: new Float32Array(buffer, 4 * column, count),
    position: new Float32Array(buffer, 5 * column, 3 * count),
    rotation: new Float32Array(buffer, 8 * column, 4 * count),
    scale: new Float32Array(buffer, 12 * column, 3 * count),
    asset: new Uint16Array(buffer, 15 * column, count),
  }
}

/** Start and end row of every asset in a block, in asset order. */
export interface AssetRun {
  readonly asset: number
  readonly start: number
  readonly end: number
}

/** The runs of equal asset in a sorted block. */
export function assetRuns(block: Block): AssetRun[] {
  const runs: AssetRun[] = []
  let start = 0
  for (let i = 1; i <= block.count; i++) {
    if (i === block.count || block.asset[i] !== block.asset[start]) {
      runs.push({ asset: block.asset[start], start, end: i })
      start = i
    }
  }
  return runs
}

/** The rows of a block that `keep` names, as a new block; the same one when all are kept. */
export function keepRows(block: Block, keep: (row: number) => boolean): Block {
  const rows: number[] = []
  for (let i = 0; i < block.count; i++) if (keep(i)) rows.push(i)
  if (rows.length === block.count) return block
  const kept = blockOf(rows.length)
  for (let k = 0; k < rows.length; k++) copyRow(block, rows[k], kept, k)
  return kept
}

/** Copies a row of one block to a row of another. */
export function copyRow(from: Block, i: number, to: Block, k: number): void {
  to.idLow[k] = from.idLow[i]
  to.idHigh[k] = from.idHigh[i]
  to.tint[k] = from.tint[i]
  to.key[k] = from.key[i]
  to.room[k] = from.room[i]
  to.asset[k] = from.asset[i]
  for (let c = 0; c < 3; c++) {
    to.position[3 * k + c] = from.position[3 * i + c]
    to.scale[3 * k + c] = from.scale[3 * i + c]
  }
  for (let c = 0; c < 4; c++) to.rotation[4 * k + c] = from.rotation[4 * i + c]
}

/**
 * Candidate sites as columns, reused from tile to tile. Plan position x z in metres, ground height
 * y, weight 0…1, rank, address halves, draw key.
 */
export interface Sites {
  count: number
  capacity: number
  x: Float64Array
  z: Float64Array
  y: Float64Array
  weight: Float64Array
  rank: Float64Array
  /** Which candidate of its source it is; ids are made of it, see `identity.ts`. */
  addressLow: Uint32Array
  addressHigh: Uint32Array
  draws: Int32Array
  /** Unit normals of the sites' own; null where the ground knows them by the plan position. */
  normals: SiteNormals | null
}

export interface SiteNormals {
  x: Float64Array
  y: Float64Array
  z: Float64Array
}

/** Gives the sites normals of their own, all 0 at first. */
export function carryNormals(s: Sites): SiteNormals {
  return (s.normals = normalsFor(s.capacity))
}

function normalsFor(capacity: number): SiteNormals {
  return { x: new Float64Array(capacity), y: new Float64Array(capacity), z: new Float64Array(capacity) }
}

/** Room for `capacity` sites. */
export function createSites(capacity: number): Sites {
  const f = () => new Float64Array(capacity)
  const u = () => new Uint32Array(capacity)
  return {
    count: 0,
    capacity,
    x: f(),
    z: f(),
    y: f(),
    weight: f(),
    rank: f(),
    addressLow: u(),
    addressHigh: u(),
    draws: new Int32Array(capacity),
    normals: null,
  }
}

/** Drops the sites of weight 0 (or below) in place, keeping the order. */
export function dropRefused(s: Sites): void {
  const { x, z, y, weight, rank, addressLow, addressHigh, draws, normals, count } = s
  let k = 0
  for (let i = 0; i < count; i++) {
    if (!(weight[i] > 0)) continue
    if (k !== i) {
      if (normals) moveNormal(normals, i, k)
      x[k] = x[i]
      z[k] = z[i]
      y[k] = y[i]
      weight[k] = weight[i]
      rank[k] = rank[i]
      addressLow[k] = addressLow[i]
      addressHigh[k] = addressHigh[i]
      draws[k] = draws[i]
    }
    k++
  }
  s.count = k
}

/** Moves a site to another place of the columns. */
export function moveSite(sites: Sites, from: number, to: number): void {
  if (from === to) return
  for (const column of ['x', 'y', 'z', 'rank', 'weight', 'addressLow', 'addressHigh', 'draws'] as const) sites[column][to] = sites[column][from]
  if (sites.normals) moveNormal(sites.normals, from, to)
}

/** Moves one site's normal to another place of the columns. */
export function moveNormal({ x, y, z }: SiteNormals, from: number, to: number): void {
  x[to] = x[from]
  y[to] = y[from]
  z[to] = z[from]
}

/** Doubles the capacity in place, keeping the first `count` sites with their normals. */
export function enlargeSites(s: Sites, count: number): void {
  const larger = createSites(s.capacity * 2)
  for (const key of ['x', 'z', 'y', 'weight', 'rank', 'addressLow', 'addressHigh', 'draws'] as const)
    larger[key].set(s[key].subarray(0, count))
  if (s.normals) {
    const before = s.normals
    const normals = carryNormals(larger)
    for (const axis of ['x', 'y', 'z'] as const) normals[axis].set(before[axis].subarray(0, count))
  }
  Object.assign(s, larger, { count })
}
