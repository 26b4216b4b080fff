import * as THREE from 'three'
import { groundColours } from '../core/ground/ground-colour.ts'
import type { Rect, Terrain } from '../core/ground/terrain.ts'
import { heightAt } from '../core/ground/terrain.ts'

/** Quads along a side of one piece of ground. */
const QUADS = 32
const VERTICES = QUADS + 1
/** Longest that pieces are built within one frame, ms. */
const BUILD_TIME = 6
const MOST_DEPTH = 9

interface Node {
  readonly rect: Rect
  readonly depth: number
  readonly box: THREE.Box3
  mesh: THREE.Mesh | null
  children: Node[] | null
}

export interface TerrainPicture {
  readonly group: THREE.Group
  /** Chooses pieces for a camera; true when finer ones are still to be built. */
  update(camera: THREE.PerspectiveCamera, detail: number): boolean
  triangles(): number
  dispose(): void
}

/**
 * A terrain as a quadtree of equal grids: near pieces are split until their quads are as fine as
 * the samples. Skirts hide the seams between pieces of different depth.
 */
export function createTerrainPicture(
  terrain: Terrain,
  waterLevel: number,
  material: THREE.Material,
): TerrainPicture {
  const group = new THREE.Group()
  const index = sharedIndex()
  const deepest = Math.min(
    MOST_DEPTH,
    Math.max(0, Math.ceil(Math.log2((Math.max(terrain.columns, terrain.rows) - 1) / QUADS))),
  )
  const root = nodeOf(terrain.bounds, 0)
  let shownTriangles = 0

  function nodeOf(rect: Rect, depth: number): Node {
    const box = new THREE.Box3(
      new THREE.Vector3(rect.x0, terrain.lowest, rect.z0),
      new THREE.Vector3(rect.x1, terrain.highest, rect.z1),
    )
    return { rect, depth, box, mesh: null, children: null }
  }

  function build(node: Node): void {
    const geometry = pieceGeometry(terrain, node.rect, waterLevel)
    geometry.setIndex(index)
    geometry.computeBoundingBox()
    if (geometry.boundingBox) node.box.copy(geometry.boundingBox)
    geometry.boundingSphere = node.box.getBoundingSphere(new THREE.Sphere())
    node.mesh = new THREE.Mesh(geometry, material)
    node.mesh.receiveShadow = true
    node.mesh.matrixAutoUpdate = false
    group.add(node.mesh)
  }

  function split(node: Node): Node[] {
    const { x0, z0, x1, z1 } = node.rect
    const x = 0.5 * (x0 + x1)
    const z = 0.5 * (z0 + z1)
    return [
      nodeOf({ x0, z0, x1: x, z1: z }, node.depth + 1),
      nodeOf({ x0: x, z0, x1, z1: z }, node.depth + 1),
      nodeOf({ x0, z0: z, x1: x, z1 }, node.depth + 1),
      nodeOf({ x0: x, z0: z, x1, z1 }, node.depth + 1),
    ]
  }

  const frustum = new THREE.Frustum()
  const matrix = new THREE.Matrix4()
  build(root)

  return {
    group,
    update(camera, detail) {
      frustum.setFromProjectionMatrix(matrix.multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse))
      for (const child of group.children) child.visible = false
      shownTriangles = 0
      const deadline = performance.now() + BUILD_TIME
      let unfinished = false
      const visit = (node: Node) => {
        if (node.mesh && !frustum.intersectsBox(node.box)) return
        const size = Math.max(node.rect.x1 - node.rect.x0, node.rect.z1 - node.rect.z0)
        const distance = node.box.distanceToPoint(camera.position)
        if (node.depth < deepest && distance < size * detail) {
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
          shownTriangles += 2 * QUADS * QUADS + 8 * QUADS
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

/** Grid of VERTICES² and, around it, the same rim once more, lowered: the skirt. */
function pieceGeometry(terrain: Terrain, rect: Rect, waterLevel: number): THREE.BufferGeometry {
  const grid = VERTICES * VERTICES
  const rim = rimVertices()
  const positions = new Float32Array(3 * (grid + rim.length))
  const normals = new Float32Array(3 * (grid + rim.length))
  const colours = new Uint8Array(3 * (grid + rim.length))
  const stepX = (rect.x1 - rect.x0) / QUADS
  const stepZ = (rect.z1 - rect.z0) / QUADS
  const cell = Math.max(terrain.sizeX / (terrain.columns - 1), stepX)
  for (let j = 0; j < VERTICES; j++)
    for (let i = 0; i < VERTICES; i++) {
      const at = 3 * (j * VERTICES + i)
      const x = rect.x0 + i * stepX
      const z = rect.z0 + j * stepZ
      positions[at] = x
      positions[at + 1] = heightAt(terrain, x, z)
      positions[at + 2] = z
      const dx = (heightAt(terrain, x + cell, z) - heightAt(terrain, x - cell, z)) / (2 * cell)
      const dz = (heightAt(terrain, x, z + cell) - heightAt(terrain, x, z - cell)) / (2 * cell)
      const inverse = 1 / Math.hypot(1, dx, dz)
      normals[at] = -dx * inverse
      normals[at + 1] = inverse
      normals[at + 2] = -dz * inverse
    }
  colours.set(groundColours(terrain, rect, VERTICES, VERTICES, waterLevel))
  const drop = 1.5 * Math.max(stepX, stepZ)
  rim.forEach((from, k) => {
    const to = 3 * (grid + k)
    for (let c = 0; c < 3; c++) {
      positions[to + c] = positions[3 * from + c] - (c === 1 ? drop : 0)
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

/** Grid numbers around the rim, counter-clockwise seen from above, without the closing repeat. */
function rimVertices(): number[] {
  const rim: number[] = []
  for (let j = 0; j < QUADS; j++) rim.push(j * VERTICES)
  for (let i = 0; i < QUADS; i++) rim.push(QUADS * VERTICES + i)
  for (let j = QUADS; j > 0; j--) rim.push(j * VERTICES + QUADS)
  for (let i = QUADS; i > 0; i--) rim.push(i)
  return rim
}

function sharedIndex(): THREE.BufferAttribute {
  const index: number[] = []
  for (let j = 0; j < QUADS; j++)
    for (let i = 0; i < QUADS; i++) {
      const a = j * VERTICES + i
      index.push(a, a + VERTICES, a + 1, a + 1, a + VERTICES, a + VERTICES + 1)
    }
  const rim = rimVertices()
  const grid = VERTICES * VERTICES
  rim.forEach((from, k) => {
    const n = (k + 1) % rim.length
    index.push(from, grid + k, rim[n], rim[n], grid + k, grid + n)
  })
  return new THREE.BufferAttribute(Uint16Array.from(index), 1)
}
