import * as THREE from 'three'
import type { Stand } from '../core/hand/frames.ts'

/** A thing that is marked: where it stands, and how large its asset is, m. */
export interface Marked extends Stand {
  readonly box: readonly [number, number, number]
}

/** How marks are shown moved: turned and sized about a place, then moved, m. */
export interface Moved {
  readonly about: Stand['place']
  readonly turn: Stand['turn']
  readonly size: number
  readonly move: Stand['place']
}

/** Marks of what is chosen and of what is under the pointer: a dot on each, seen from any distance, and boxes around the first. */
export interface ChosenLayer {
  readonly group: THREE.Group
  /** `places` x y z … of all that is chosen; boxes around those that are told one by one. */
  set(places: Float32Array, boxed: readonly Marked[], hovered: Marked | null): void
  /** Shows dots and boxes of what is chosen moved, in the shader alone; null where they are. */
  move(by: Moved | null): void
  /** Boxes around what is about to be placed. */
  setGhost(ghost: readonly Marked[]): void
  dispose(): void
}

/** More boxes than this would hide what they are around. */
export const MOST_BOXES = 400
const DOT = 11
const CHOSEN = 0xe0a33a
const HOVERED = 0xfffdf4

/** Edges of a box of 1 × 1 × 1 standing on its middle. */
const EDGES = [0, 1, 1, 3, 3, 2, 2, 0, 4, 5, 5, 7, 7, 6, 6, 4, 0, 4, 1, 5, 2, 6, 3, 7].map((k) => [(k & 1) - 0.5, (k & 4) / 4, ((k & 2) >> 1) - 0.5] as const)

export function createChosenLayer(): ChosenLayer {
  const group = new THREE.Group()
  const dots = new THREE.Points(new THREE.BufferGeometry(), dotMaterial())
  const boxes = linesOf(CHOSEN)
  const under = linesOf(HOVERED)
  const ghosts = linesOf(HOVERED)
  for (const object of [dots, boxes, under, ghosts]) {
    object.frustumCulled = false
    object.renderOrder = 10
    object.visible = false
    group.add(object)
  }
  return {
    group,
    set(places, boxed, hovered) {
      place(dots, places)
      place(boxes, boxed.flatMap(edgesOf))
      place(under, hovered ? edgesOf(hovered) : [])
    },
    move(by) {
      for (const object of [dots, boxes]) {
        object.matrixAutoUpdate = false
        object.matrix.identity()
        if (by) object.matrix.compose(at.set(...by.about).add(there.set(...by.move)), turn.set(...by.turn), size.setScalar(by.size)).multiply(back.makeTranslation(-by.about[0], -by.about[1], -by.about[2]))
        object.matrixWorldNeedsUpdate = true
      }
    },
    setGhost: (ghost) => place(ghosts, ghost.slice(0, MOST_BOXES).flatMap(edgesOf)),
    dispose() {
      for (const object of [dots, boxes, under, ghosts]) {
        object.geometry.dispose()
        object.material.dispose()
      }
    },
  }
}

function place(object: THREE.Points | THREE.LineSegments, positions: ArrayLike<number>): void {
  object.geometry.setAttribute('position', new THREE.BufferAttribute(positions instanceof Float32Array ? positions : Float32Array.from(positions), 3))
  object.visible = positions.length > 0
}

function linesOf(color: number): THREE.LineSegments<THREE.BufferGeometry, THREE.LineBasicMaterial> {
  return new THREE.LineSegments(new THREE.BufferGeometry(), new THREE.LineBasicMaterial({ color, depthTest: false, transparent: true, fog: false, toneMapped: false }))
}

/** A ring of constant size on the screen. */
function dotMaterial(): THREE.PointsMaterial {
  const material = new THREE.PointsMaterial({ color: CHOSEN, size: DOT, sizeAttenuation: false, depthTest: false, transparent: true, fog: false, toneMapped: false })
  material.onBeforeCompile = (shader) => {
    shader.fragmentShader = shader.fragmentShader.replace('#include <clipping_planes_fragment>', 'float away = length(gl_PointCoord - 0.5);\nif (away > 0.5 || away < 0.2) discard;\nif (away > 0.38 || away < 0.28) diffuseColor.rgb = vec3(0.08);\n#include <clipping_planes_fragment>')
  }
  return material
}

const at = new THREE.Vector3()
const there = new THREE.Vector3()
const size = new THREE.Vector3()
const turn = new THREE.Quaternion()
const back = new THREE.Matrix4()
const by = new THREE.Quaternion()

function cornerOf({ place: [x, y, z], turn, size, box }: Marked, [u, v, w]: readonly [number, number, number]): number[] {
  at.set(u * box[0] * size[0], v * box[1] * size[1], w * box[2] * size[2]).applyQuaternion(by.set(...(turn as [number, number, number, number])))
  return [at.x + x, at.y + y, at.z + z]
}

function edgesOf(marked: Marked): number[] {
  return EDGES.flatMap((corner) => cornerOf(marked, corner))
}
