import * as THREE from 'three'
import { groundColours } from '../core/grounds/ground-colour.ts'
import type { Terrain } from '../core/grounds/terrain.ts'
import { heightAt } from '../core/grounds/terrain.ts'

/** Quads along a side of one piece of ground. */
const QUADS = 32
const VERTICES = QUADS + 1
/** Longest that pieces are built within one frame, ms. */
const BUILD_TIME = 6
const MOST_DEPTH = 9
/** A piece at rest may stray from the ground by so many pixels of a picture this high. */
const PIXELS = 2
const PICTURE_HEIGHT = 800

/** A square of the grid: its first node and how many nodes lie from one vertex to the next. */
interface Node {
  readonly column: number
  readonly row: number
  readonly stride: number
  readonly box: THREE.Box3
  mesh: THREE.Mesh | null
  /** How far it strays from the ground, m. */
  strays: number
  children: Node[] | null
}

export interface TerrainPicture {
  readonly group: THREE.Group
  /**
   * Chooses pieces for a camera: `detail` sides of a piece away it may be coarse, and where `exact` it
   * may only stray from the ground by what cannot be seen. True when finer ones are still to be built.
   */
  update(camera: THREE.PerspectiveCamera, detail: number, exact: boolean): boolean
  triangles(): number
  dispose(): void
}

/**
 * A terrain as a quadtree of equal grids whose vertices are nodes of the ground's own grid: near pieces
 * are split until they have all nodes, and then are the very triangles that things stand on. Skirts hide
 * the seams between pieces of different depth. Cells without ground are left out.
 */
export function createTerrainPicture(terrain: Terrain, waterLevel: number, material: THREE.Material): TerrainPicture {
  const group = new THREE.Group()
  const index = new THREE.BufferAttribute(indexOf(() => true), 1)
  const cells = Math.max(terrain.columns, terrain.rows) - 1
  const depth = Math.min(MOST_DEPTH, Math.max(0, Math.ceil(Math.log2(cells / QUADS))))
  const root = nodeOf(0, 0, 2 ** depth)
  let shownTriangles = 0

  function nodeOf(column: number, row: number, stride: number): Node {
    const { bounds, stepX, stepZ, lowest, highest } = terrain
    const x = bounds.x0 + column * stepX
    const z = bounds.z0 + row * stepZ
    const box = new THREE.Box3(
      new THREE.Vector3(x, lowest, z),
      new THREE.Vector3(Math.min(bounds.x1, x + QUADS * stride * stepX), highest, Math.min(bounds.z1, z + QUADS * stride * stepZ)),
    )
    return { column, row, stride, box, mesh: null, strays: 0, children: null }
  }

  function build(node: Node): void {
    const geometry = pieceGeometry(terrain, node, waterLevel)
    const there = terrain.holes ? quadsThere(terrain, node) : null
    geometry.setIndex(there ? new THREE.BufferAttribute(indexOf((quad) => there[quad] === 1), 1) : index)
    geometry.computeBoundingBox()
    if (geometry.boundingBox) node.box.copy(geometry.boundingBox)
    geometry.boundingSphere = node.box.getBoundingSphere(new THREE.Sphere())
    node.strays = straying(terrain, node)
    node.mesh = new THREE.Mesh(geometry, material)
    node.mesh.receiveShadow = true
    node.mesh.matrixAutoUpdate = false
    group.add(node.mesh)
  }

  function split({ column, row, stride }: Node): Node[] {
    const half = stride / 2
    const children: Node[] = []
    for (const j of [row, row + QUADS * half])
      for (const i of [column, column + QUADS * half])
        if (i < terrain.columns - 1 && j < terrain.rows - 1) children.push(nodeOf(i, j, half))
    return children
  }

  const frustum = new THREE.Frustum()
  const matrix = new THREE.Matrix4()
  build(root)

  return {
    group,
    update(camera, detail, exact) {
      frustum.setFromProjectionMatrix(matrix.multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse))
      for (const child of group.children) child.visible = false
      shownTriangles = 0
      const deadline = performance.now() + BUILD_TIME
      const pixel = (2 * Math.tan((camera.fov * Math.PI) / 360)) / PICTURE_HEIGHT
      let unfinished = false
      const visit = (node: Node) => {
        if (node.mesh && !frustum.intersectsBox(node.box)) return
        const size = QUADS * node.stride * Math.max(terrain.stepX, terrain.stepZ)
        const distance = node.box.distanceToPoint(camera.position)
        if (node.stride > 1 && (distance < size * detail || (exact && node.strays > PIXELS * pixel * distance))) {
          node.children ??= split(node)
          const missing = node.children.filter((child) => !child.mesh)
          for (const child of missing) if (performance.now() < deadline) build(child)
          if (node.children.every((child) => child.mesh)) {
            node.children.forEach(visit)
            return
          }
          unfinished = true
        }
        if (node.mesh) {
          node.mesh.visible = true
          shownTriangles += (node.mesh.geometry.index?.count ?? 0) / 3
        }
      }
      visit(root)
      return unfinished
    },
    triangles: () => shownTriangles,
    dispose() {
      for (const child of group.children) if (child instanceof THREE.Mesh) child.geometry.dispose()
      group.clear()
    },
  }
}

type Square = Pick<Node, 'column' | 'row' | 'stride'>

/** Grid of VERTICES² nodes and, around it, the same rim once more, lowered: the skirt. Vertices beyond the ground stand on its rim. */
function pieceGeometry(terrain: Terrain, { column, row, stride }: Square, waterLevel: number): THREE.BufferGeometry {
  const { columns, rows, heights, bounds } = terrain
  const grid = VERTICES * VERTICES
  const rim = rimVertices()
  const positions = new Float32Array(3 * (grid + rim.length))
  const normals = new Float32Array(3 * (grid + rim.length))
  const colours = new Uint8Array(3 * (grid + rim.length))
  const stepX = stride * terrain.stepX
  const stepZ = stride * terrain.stepZ
  const cell = Math.max(terrain.stepX, stepX)
  for (let j = 0; j < VERTICES; j++)
    for (let i = 0; i < VERTICES; i++) {
      const at = 3 * (j * VERTICES + i)
      const a = Math.min(columns - 1, column + i * stride)
      const b = Math.min(rows - 1, row + j * stride)
      const x = bounds.x0 + a * terrain.stepX
      const z = bounds.z0 + b * terrain.stepZ
      positions[at] = x
      positions[at + 1] = heights[b * columns + a]
      positions[at + 2] = z
      const dx = (heightAt(terrain, x + cell, z) - heightAt(terrain, x - cell, z)) / (2 * cell)
      const dz = (heightAt(terrain, x, z + cell) - heightAt(terrain, x, z - cell)) / (2 * cell)
      const inverse = 1 / Math.hypot(1, dx, dz)
      normals[at] = -dx * inverse
      normals[at + 1] = inverse
      normals[at + 2] = -dz * inverse
    }
  const x0 = bounds.x0 + column * terrain.stepX
  const z0 = bounds.z0 + row * terrain.stepZ
  colours.set(groundColours(terrain, { x0, z0, x1: x0 + QUADS * stepX, z1: z0 + QUADS * stepZ }, VERTICES, VERTICES, waterLevel))
  const drop = 1.5 * Math.max(stepX, stepZ)
  rim.forEach((from, k) => {
    const to = 3 * (grid + k)
    // Where the ground ends there is no seam to hide, and a skirt would show.
    const hangs = atEdge(terrain, column + (from % VERTICES) * stride, row + Math.floor(from / VERTICES) * stride, stride) ? 0 : drop
    for (let c = 0; c < 3; c++) {
      positions[to + c] = positions[3 * from + c] - (c === 1 ? hangs : 0)
      normals[to + c] = normals[3 * from + c]
      colours[to + c] = colours[3 * from + c]
    }
  })
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3))
  geometry.setAttribute('normal', new THREE.BufferAttribute(normals, 3))
  geometry.setAttribute('color', new THREE.BufferAttribute(colours, 3, true))
  return geometry
}

/** Whether the ground ends at a node: at its rim, or beside a hole. */
function atEdge({ columns, rows, stored, holes }: Terrain, a: number, b: number, stride: number): boolean {
  if (a <= 0 || b <= 0 || a >= columns - 1 || b >= rows - 1) return true
  if (!holes) return false
  for (const j of [b - stride, b, b + stride])
    for (const i of [a - stride, a, a + stride]) {
      const h = stored[Math.min(rows - 1, Math.max(0, j)) * columns + Math.min(columns - 1, Math.max(0, i))]
      if (h !== h) return true
    }
  return false
}

/** How far the surface of a square strays from the ground at the nodes halfway between its own, m; a hole it may miss counts as its step. */
function straying(terrain: Terrain, { column, row, stride }: Square): number {
  if (stride === 1) return 0
  const { columns, rows, heights, holes } = terrain
  const half = stride / 2
  const clamped = (a: number, b: number) => heights[Math.min(rows - 1, b) * columns + Math.min(columns - 1, a)]
  let most = 0
  for (let j = 0; j < QUADS; j++)
    for (let i = 0; i < QUADS; i++) {
      const [a, b] = [column + i * stride, row + j * stride]
      const [nw, ne, sw, se] = [clamped(a, b), clamped(a + stride, b), clamped(a, b + stride), clamped(a + stride, b + stride)]
      most = Math.max(
        most,
        Math.abs(clamped(a + half, b) - (nw + ne) / 2),
        Math.abs(clamped(a, b + half) - (nw + sw) / 2),
        Math.abs(clamped(a + half, b + half) - (ne + sw) / 2),
        Math.abs(clamped(a + half, b + stride) - (sw + se) / 2),
      )
    }
  return holes ? Math.max(most, half * terrain.stepX) : most
}

/** 1 for each quad of a square that is ground. */
function quadsThere({ columns, rows, stored, holes }: Terrain, { column, row, stride }: Square): Uint8Array {
  const there = new Uint8Array(QUADS * QUADS)
  const known = (a: number, b: number) => {
    const h = stored[Math.min(rows - 1, b) * columns + Math.min(columns - 1, a)]
    return h === h
  }
  for (let j = 0; j < QUADS; j++)
    for (let i = 0; i < QUADS; i++) {
      const [a, b] = [column + i * stride, row + j * stride]
      if (a >= columns - 1 || b >= rows - 1) continue
      const whole = stride === 1 ? holes?.[b * (columns - 1) + a] !== 1 : known(a, b) && known(a + stride, b) && known(a, b + stride) && known(a + stride, b + stride)
      if (whole) there[j * QUADS + i] = 1
    }
  return there
}

/** Grid numbers around the rim, counter-clockwise seen from above, without the closing repeat. */
function rimVertices(): number[] {
  const rim: number[] = []
  for (let j = 0; j < QUADS; j++) rim.push(j * VERTICES)
  for (let i = 0; i < QUADS; i++) rim.push(QUADS * VERTICES + i)
  for (let j = QUADS; j > 0; j--) rim.push(j * VERTICES + QUADS)
  for (let i = QUADS; i > 0; i--) rim.push(i)
  return rim
}

/** The quad that the k-th stretch of the rim borders on. */
function quadAtRim(k: number): number {
  const along = k % QUADS
  if (k < QUADS) return along * QUADS
  if (k < 2 * QUADS) return (QUADS - 1) * QUADS + along
  if (k < 3 * QUADS) return (QUADS - 1 - along) * QUADS + QUADS - 1
  return QUADS - 1 - along
}

/** Corners of the triangles of those quads that are there, and of the skirt beside them. */
function indexOf(isThere: (quad: number) => boolean): Uint16Array<ArrayBuffer> {
  const index: number[] = []
  for (let j = 0; j < QUADS; j++)
    for (let i = 0; i < QUADS; i++) {
      if (!isThere(j * QUADS + i)) continue
      const a = j * VERTICES + i
      index.push(a, a + VERTICES, a + 1, a + 1, a + VERTICES, a + VERTICES + 1)
    }
  const grid = VERTICES * VERTICES
  const rim = rimVertices()
  rim.forEach((from, k) => {
    if (!isThere(quadAtRim(k))) return
    const n = (k + 1) % rim.length
    index.push(from, grid + k, rim[n], rim[n], grid + k, grid + n)
  })
  return Uint16Array.from(index)
}
