/**
 * The triangles of a mesh as one blob:
 *
 *   'WMSH' | version u32 | vertices u32 | triangles u32 | positions f32[3·vertices] | indices u32[3·triangles]
 *
 * little-endian, metres, Y up, in the mesh's own frame. Vertices that share a place are one, and
 * triangles without area are left out, so that edges can be told to be shared.
 */
export interface MeshShape {
  readonly positions: Float32Array<ArrayBuffer>
  readonly indices: Uint32Array<ArrayBuffer>
}

const MAGIC = 0x48534d57
const VERSION = 1
const HEAD = 16
export const MOST_TRIANGLES = 2_000_000

/** Packs a shape. */
export function shapeToBytes({ positions, indices }: MeshShape): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(HEAD + 4 * (positions.length + indices.length))
  new Uint32Array(bytes.buffer, 0, 4).set([MAGIC, VERSION, positions.length / 3, indices.length / 3])
  new Float32Array(bytes.buffer, HEAD, positions.length).set(positions)
  new Uint32Array(bytes.buffer, HEAD + 4 * positions.length, indices.length).set(indices)
  return bytes
}

/** Views a packed shape; null when it is none, or an index points nowhere. */
export function bytesToShape(bytes: Uint8Array<ArrayBuffer>): MeshShape | null {
  if (bytes.length < HEAD) return null
  const own = bytes.byteOffset % 4 === 0 ? bytes : bytes.slice()
  const [magic, version, vertices, triangles] = new Uint32Array(own.buffer, own.byteOffset, 4)
  if (magic !== MAGIC || version !== VERSION || triangles > MOST_TRIANGLES) return null
  if (own.length !== HEAD + 12 * (vertices + triangles)) return null
  const positions = new Float32Array(own.buffer, own.byteOffset + HEAD, 3 * vertices)
  const indices = new Uint32Array(own.buffer, own.byteOffset + HEAD + 12 * vertices, 3 * triangles)
  for (let i = 0; i < positions.length; i++) if (!(positions[i] - positions[i] === 0)) return null
  for (let i = 0; i < indices.length; i++) if (indices[i] >= vertices) return null
  return { positions, indices }
}

export interface WeldedShape extends MeshShape {
  /** Which of the given triangles each one was. */
  readonly from: Uint32Array
  /** Triangles without area that were left out. */
  readonly flat: number
  /** Edges that belong to one triangle only, and to more than two. */
  readonly openEdges: number
  readonly crowdedEdges: number
  /** Whether its faces look inwards, as far as a closed mesh can tell. */
  readonly insideOut: boolean
}

/**
 * Makes one vertex of all that share a place, leaves out triangles without area, and counts what is
 * odd about the edges. `triangles` holds nine coordinates each, m.
 */
export function weldShape(triangles: ArrayLike<number>): WeldedShape {
  const count = Math.floor(triangles.length / 9)
  const slots = new Int32Array(nextPower(count * 6))
  const mask = slots.length - 1
  const places = new Float32Array(3 * 3 * count)
  const words = new Int32Array(places.buffer)
  const indices = new Uint32Array(3 * count)
  const from = new Uint32Array(count)
  let vertices = 0
  let kept = 0
  let flat = 0
  let volume = 0
  const corner = new Uint32Array(3)
  for (let t = 0; t < count; t++) {
    if (!(areaOf(triangles, 9 * t) > 0)) {
      flat++
      continue
    }
    for (let c = 0; c < 3; c++) {
      const at = 3 * vertices
      // Adding 0 makes one of the two zeros, which are the same place.
      places[at] = triangles[9 * t + 3 * c] + 0
      places[at + 1] = triangles[9 * t + 3 * c + 1] + 0
      places[at + 2] = triangles[9 * t + 3 * c + 2] + 0
      let slot = (Math.imul(words[at], 0x9e3779b1) ^ Math.imul(words[at + 1], 0x85ebca77) ^ Math.imul(words[at + 2], 0xc2b2ae3d)) & mask
      for (; ; slot = (slot + 1) & mask) {
        const held = slots[slot] - 1
        if (held < 0) {
          slots[slot] = ++vertices
          corner[c] = vertices - 1
          break
        }
        if (words[3 * held] === words[at] && words[3 * held + 1] === words[at + 1] && words[3 * held + 2] === words[at + 2]) {
          corner[c] = held
          break
        }
      }
    }
    if (corner[0] === corner[1] || corner[1] === corner[2] || corner[0] === corner[2]) {
      flat++
      continue
    }
    from[kept] = t
    indices.set(corner, 3 * kept++)
    const [a, b, c] = [3 * corner[0], 3 * corner[1], 3 * corner[2]]
    volume +=
      places[a] * (places[b + 1] * places[c + 2] - places[b + 2] * places[c + 1]) +
      places[a + 1] * (places[b + 2] * places[c] - places[b] * places[c + 2]) +
      places[a + 2] * (places[b] * places[c + 1] - places[b + 1] * places[c])
  }
  const used = indices.slice(0, 3 * kept)
  const { openEdges, crowdedEdges } = countEdges(used)
  return {
    positions: places.slice(0, 3 * vertices),
    indices: used,
    from: from.slice(0, kept),
    flat,
    openEdges,
    crowdedEdges,
    insideOut: openEdges === 0 && volume < 0,
  }
}

function nextPower(value: number): number {
  let power = 16
  while (power < value) power *= 2
  return power
}

/**
 * Writes the cross product of two edges of a triangle, whose corners start at offsets a, b, c of `p`:
 * its direction is the face's, its length twice the area.
 */
export function writeCross(p: ArrayLike<number>, a: number, b: number, c: number, out: Float64Array): void {
  const ux = p[b] - p[a]
  const uy = p[b + 1] - p[a + 1]
  const uz = p[b + 2] - p[a + 2]
  const vx = p[c] - p[a]
  const vy = p[c + 1] - p[a + 1]
  const vz = p[c + 2] - p[a + 2]
  out[0] = uy * vz - uz * vy
  out[1] = uz * vx - ux * vz
  out[2] = ux * vy - uy * vx
}

/** Squared twice-area of a triangle of nine coordinates. */
function areaOf(p: ArrayLike<number>, at: number): number {
  writeCross(p, at, at + 3, at + 6, cross)
  return cross[0] * cross[0] + cross[1] * cross[1] + cross[2] * cross[2]
}

const cross = new Float64Array(3)

function countEdges(indices: Uint32Array): { openEdges: number; crowdedEdges: number } {
  const keys = new Float64Array(indices.length)
  for (let i = 0; i < indices.length; i++) {
    const a = indices[i]
    const b = indices[i % 3 === 2 ? i - 2 : i + 1]
    keys[i] = a < b ? a * 4294967296 + b : b * 4294967296 + a
  }
  keys.sort()
  let openEdges = 0
  let crowdedEdges = 0
  for (let from = 0; from < keys.length; ) {
    let to = from + 1
    while (to < keys.length && keys[to] === keys[from]) to++
    if (to - from === 1) openEdges++
    if (to - from > 2) crowdedEdges++
    from = to
  }
  return { openEdges, crowdedEdges }
}
