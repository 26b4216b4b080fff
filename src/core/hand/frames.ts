import { TERRAIN_ID } from '../grounds/ground.ts'
import { turnMatrix } from '../grounds/solid.ts'
import type { Quaternion } from '../math/quaternion.ts'
import { conjugate, multiply, NO_TURN, ofMatrix, turned } from '../math/quaternion.ts'
import type { Vector } from '../math/vector.ts'
import type { PlacedMesh } from '../meadow.ts'

export type { Vector }

/** Where something stands, how it is turned and how large it is, per own axis. */
export interface Stand {
  readonly place: Vector
  readonly turn: Quaternion
  readonly size: Vector
}

/** The frame of a ground that hand work is kept in, and the way between it and the world. */
export interface GroundFrame {
  /** Places: of the terrain with the height above it, of a mesh its own. */
  placeToOwn(place: Vector): Vector
  placeToWorld(own: Vector): Vector
  /** A way from one place to another: of the terrain the world's own. */
  wayToWorld(own: Vector): Vector
  turnToOwn(turn: Quaternion): Quaternion
  turnToWorld(turn: Quaternion): Quaternion
  /** A turn that is made after another, kept so that it comes out the same where the ground is turned. */
  turningToOwn(turn: Quaternion): Quaternion
  turningToWorld(turn: Quaternion): Quaternion
  /** Factor from its lengths to the world's. */
  readonly size: number
}

/** The frame of a ground; null for a mesh that is gone. `heightAt` tells the height of the terrain, m. */
export function groundFrame(id: string, meshes: readonly PlacedMesh[], heightAt: (x: number, z: number) => number): GroundFrame | null {
  if (id === TERRAIN_ID) {
    const same = (turn: Quaternion) => turn
    return {
      placeToOwn: ([x, y, z]) => [x, y - heightAt(x, z), z],
      placeToWorld: ([x, y, z]) => [x, y + heightAt(x, z), z],
      wayToWorld: (way) => way,
      turnToOwn: same,
      turnToWorld: same,
      turningToOwn: same,
      turningToWorld: same,
      size: 1,
    }
  }
  const mesh = meshes.find((one) => one.id === id)
  if (!mesh) return null
  const { position: [px, py, pz], size } = mesh
  const there = ofMatrix(turnMatrix(mesh.turn))
  const back = conjugate(there)
  const wayToWorld = ([x, y, z]: Vector): Vector => turned(there, [x * size, y * size, z * size])
  return {
    placeToOwn([x, y, z]) {
      const [ox, oy, oz] = turned(back, [x - px, y - py, z - pz])
      return [ox / size, oy / size, oz / size]
    },
    wayToWorld,
    placeToWorld(own) {
      const [wx, wy, wz] = wayToWorld(own)
      return [wx + px, wy + py, wz + pz]
    },
    turnToOwn: (turn) => multiply(back, turn),
    turnToWorld: (turn) => multiply(there, turn),
    turningToOwn: (turn) => multiply(multiply(back, turn), there),
    turningToWorld: (turn) => multiply(multiply(there, turn), back),
    size,
  }
}

/** What turns one turn into another: done after it, it gives the other. */
export function turning(from: Quaternion, to: Quaternion): Quaternion {
  const by = multiply(to, conjugate(from))
  // A hair off is rounding.
  return Math.abs(by[3]) > 1 - 1e-12 ? NO_TURN : by
}
