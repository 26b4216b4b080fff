import { mix } from '../math/random.ts'
import type { MeshShape } from './mesh-shape.ts'

/** The edges of a mesh's triangles, each once: its ends, and the triangles beside it. */
export interface EdgeTable {
  readonly count: number
  readonly a: Uint32Array
  readonly b: Uint32Array
  readonly first: Int32Array
  /** −1 at a rim. */
  readonly second: Int32Array
  /** Further triangles where more than two meet. */
  readonly more: ReadonlyMap<number, number[]>
}

/** Finds all edges by a hashed table of their ends. */
export function edgesOf({ indices }: MeshShape): EdgeTable {
  const most = indices.length
  let slots = 1024
  while (slots < 2 * most) slots *= 2
  const table = new Int32Array(slots).fill(-1)
  const a = new Uint32Array(most)
  const b = new Uint32Array(most)
  const first = new Int32Array(most)
  const second = new Int32Array(most).fill(-1)
  const more = new Map<number, number[]>()
  let count = 0
  for (let i = 0; i < most; i++) {
    const triangle = Math.floor(i / 3)
    const from = indices[i]
    const to = indices[i % 3 === 2 ? i - 2 : i + 1]
    const low = from < to ? from : to
    const high = from < to ? to : from
    let slot = mix(mix(low) ^ high) & (slots - 1)
    let e = table[slot]
    while (e >= 0 && (a[e] !== low || b[e] !== high)) {
      slot = (slot + 1) & (slots - 1)
      e = table[slot]
    }
    if (e < 0) {
      table[slot] = count
      a[count] = low
      b[count] = high
      first[count++] = triangle
    } else if (second[e] < 0) second[e] = triangle
    else {
      const others = more.get(e)
      if (others) others.push(triangle)
      else more.set(e, [triangle])
    }
  }
  return { count, a, b, first, second, more }
}

/** The root of a set of joined numbers; ways there are made shorter as they are gone. */
export function rootOf(parent: Int32Array, one: number): number {
  let now = one
  while (parent[now] !== now) now = parent[now] = parent[parent[now]]
  return now
}

/** Numbers of which none is joined to another yet. */
export function eachOwn(count: number): Int32Array {
  const parent = new Int32Array(count)
  for (let k = 0; k < count; k++) parent[k] = k
  return parent
}
