import type { WeldedShape } from './mesh-shape.ts'

/** Which faces of a mesh must be turned so that all look outwards, as far as that can be told. */
export interface Orientation {
  /** 1 for each triangle, as given to the welding, that is to be turned. */
  readonly turned: Uint8Array
  readonly count: number
  /** Whether its faces cannot be told apart into two sides, as those of a Möbius strip. */
  readonly oneSided: boolean
}

const NONE = -1
/** An edge that more than two triangles share joins none of them. */
const CROWDED = -2

/**
 * Makes the faces of a welded mesh consistent piece by piece: triangles that share an edge run along it in
 * opposite ways. A closed piece is then turned to hold a volume above 0; an open one stays as most of its
 * faces were. `triangles` is how many there were before the welding.
 */
export function orientFaces({ positions, indices, from }: WeldedShape, triangles: number): Orientation {
  const mates = matesOf(indices)
  const faces = indices.length / 3
  const turn = new Int8Array(faces).fill(NONE)
  const queue = new Uint32Array(faces)
  const turned = new Uint8Array(triangles)
  let count = 0
  let oneSided = false
  for (let seed = 0; seed < faces; seed++) {
    if (turn[seed] !== NONE) continue
    turn[seed] = 0
    queue[0] = seed
    let end = 1
    let open = false
    for (let next = 0; next < end; next++) {
      const face = queue[next]
      for (let c = 0; c < 3; c++) {
        const mate = mates[3 * face + c]
        if (mate < 0) {
          open = true
          continue
        }
        const other = Math.floor(mate / 3)
        // Running along the shared edge the same way, one of the two is the wrong way round.
        const same = indices[3 * face + c] === indices[mate] ? 1 : 0
        const wanted = turn[face] ^ same
        if (turn[other] === NONE) {
          turn[other] = wanted
          queue[end++] = other
        } else if (turn[other] !== wanted) oneSided = true
      }
    }
    const piece = queue.subarray(0, end)
    if (allRound(positions, indices, piece, turn, open)) for (let k = 0; k < end; k++) turn[piece[k]] ^= 1
    for (let k = 0; k < end; k++)
      if (turn[piece[k]] === 1) {
        turned[from[piece[k]]] = 1
        count++
      }
  }
  return { turned, count, oneSided }
}

/** Whether a whole piece is to be turned once more. */
function allRound(positions: Float32Array, indices: Uint32Array, piece: Uint32Array, turn: Int8Array, open: boolean): boolean {
  if (!open) return volumeOf(positions, indices, piece, turn) < 0
  let round = 0
  for (let k = 0; k < piece.length; k++) round += turn[piece[k]]
  return 2 * round > piece.length
}

/** Six times the volume of a piece, about its first corner so that no digits are lost. */
function volumeOf(p: Float32Array, indices: Uint32Array, piece: Uint32Array, turn: Int8Array): number {
  const o = 3 * indices[3 * piece[0]]
  let volume = 0
  for (let k = 0; k < piece.length; k++) {
    const f = 3 * piece[k]
    const [a, b, c] = [3 * indices[f], 3 * indices[f + 1], 3 * indices[f + 2]]
    const [ax, ay, az] = [p[a] - p[o], p[a + 1] - p[o + 1], p[a + 2] - p[o + 2]]
    const [bx, by, bz] = [p[b] - p[o], p[b + 1] - p[o + 1], p[b + 2] - p[o + 2]]
    const [cx, cy, cz] = [p[c] - p[o], p[c + 1] - p[o + 1], p[c + 2] - p[o + 2]]
    const six = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)
    volume += turn[piece[k]] === 1 ? -six : six
  }
  return volume
}

/** For the edge from each corner of a triangle to the next: the corner at which the other triangle's same edge begins. */
function matesOf(indices: Uint32Array): Int32Array {
  const mates = new Int32Array(indices.length).fill(NONE)
  let size = 16
  while (size < 2 * indices.length) size *= 2
  const slots = new Int32Array(size)
  for (let k = 0; k < indices.length; k++) {
    const [a, b] = edgeAt(indices, k)
    let slot = (Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca77)) & (size - 1)
    for (; slots[slot] !== 0; slot = (slot + 1) & (size - 1)) {
      const [c, d] = edgeAt(indices, slots[slot] - 1)
      if (a === c && b === d) break
    }
    const first = slots[slot] - 1
    if (first < 0) slots[slot] = k + 1
    else if (mates[first] === NONE) {
      mates[first] = k
      mates[k] = first
    } else {
      if (mates[first] >= 0) mates[mates[first]] = CROWDED
      mates[first] = mates[k] = CROWDED
    }
  }
  return mates
}

/** The lower and the higher vertex of the edge that begins at a corner. */
function edgeAt(indices: Uint32Array, k: number): readonly [number, number] {
  const a = indices[k]
  const b = indices[k % 3 === 2 ? k - 2 : k + 1]
  return a < b ? [a, b] : [b, a]
}
