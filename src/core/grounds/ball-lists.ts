/** What of a tree over triangles is read: its nodes from the root, each before what it is made of, as `three-mesh-bvh` goes through them. */
export interface TreeWalk {
  traverse(visit: (depth: number, isLeaf: boolean, box: ArrayLike<number>, first: number, count: number) => void): void
  /** Number of the triangle at a place of the leaves' order. */
  resolveTriangleIndex(at: number): number
}

/** Lists the triangles in leaves of the tree that meet a ball into `into`; returns how many, −1 where they do not fit. */
export type BallLists = (x: number, y: number, z: number, radius: number, into: Uint32Array) => number

/**
 * Flattens a tree into columns for asking it very often: nodes stand in the order that they are met in, and each
 * knows the one to go on with where its box is missed, so that no stack is kept and nothing is allocated.
 */
export function ballLists(tree: TreeWalk, triangles: number): BallLists {
  const boxes: number[] = []
  const ends: number[] = []
  const onward: number[] = []
  const open: { readonly node: number; readonly depth: number }[] = []
  const triangle = new Uint32Array(triangles)
  let listed = 0
  tree.traverse((depth, isLeaf, box, first, count) => {
    const node = ends.length
    while (open.length > 0 && open[open.length - 1].depth >= depth) onward[open.pop()?.node ?? 0] = node
    open.push({ node, depth })
    for (let c = 0; c < 6; c++) boxes.push(box[c])
    onward.push(0)
    if (isLeaf) for (let k = first; k < first + count; k++) triangle[listed++] = tree.resolveTriangleIndex(k)
    ends.push(listed)
  })
  for (const { node } of open) onward[node] = ends.length
  return listsOf(Float32Array.from(boxes), Int32Array.from(onward), Int32Array.from(ends), triangle)
}

/** Leaves are the nodes that hold triangles more than those before them: `ends` tells how many there are up to each. */
function listsOf(boxes: Float32Array, onward: Int32Array, ends: Int32Array, triangle: Uint32Array): BallLists {
  const nodes = onward.length
  return (x, y, z, radius, into) => {
    const most = radius * radius
    let found = 0
    for (let node = 0; node < nodes; ) {
      const b = 6 * node
      const dx = Math.max(boxes[b] - x, 0, x - boxes[b + 3])
      const dy = Math.max(boxes[b + 1] - y, 0, y - boxes[b + 4])
      const dz = Math.max(boxes[b + 2] - z, 0, z - boxes[b + 5])
      if (dx * dx + dy * dy + dz * dz > most) {
        node = onward[node]
        continue
      }
      const first = node === 0 ? 0 : ends[node - 1]
      const end = ends[node]
      if (found + end - first > into.length) return -1
      for (let k = first; k < end; k++) into[found++] = triangle[k]
      node++
    }
    return found
  }
}
