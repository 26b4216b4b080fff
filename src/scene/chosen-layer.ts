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

/** Marks of what is chosen and of what is under the pointer: a dot on each, on a share of those that stand too closely to be told apart, and boxes around the first. */
export interface ChosenLayer {
  readonly group: THREE.Group
  /** `places` x y z … of all that is chosen; boxes around those that are told one by one. */
  set(places: Float32Array, boxed: readonly Marked[]): void
  setHovered(hovered: Marked | null): void
  /** Shows dots and boxes of what is chosen moved, in the shader alone; null where they are. */
  move(by: Moved | null): void
  /** Boxes around what is about to be placed. */
  setGhost(ghost: readonly Marked[]): void
  /** The next frame is drawn into a share of the canvas: dots keep their size on the screen. */
  drawnAt(share: number): void
  dispose(): void
}

/** More boxes than this would hide what they are around. */
export const MOST_BOXES = 400
const DOT = 11
/** Where dots would lie closer than one on so many px², a share of them is shown: all from near by, some of a million from afar. */
const ROOM_OF_DOT = 260
/** Cells along what is chosen that tell how closely it stands. */
const CELLS = 48
const CHOSEN = 0xe0a33a
const HOVERED = 0xfffdf4

/** Edges of a box of 1 × 1 × 1 standing on its middle. */
const EDGES = [0, 1, 1, 3, 3, 2, 2, 0, 4, 5, 5, 7, 7, 6, 6, 4, 0, 4, 1, 5, 2, 6, 3, 7].map((k) => [(k & 1) - 0.5, (k & 4) / 4, ((k & 2) >> 1) - 0.5] as const)

export function createChosenLayer(): ChosenLayer {
  const group = new THREE.Group()
  /** How closely they stand, to the m². */
  const density = { value: 0 }
  const dots = new THREE.Points(new THREE.BufferGeometry(), dotMaterial(density))
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
    set(places, boxed) {
      place(dots, places)
      density.value = densityOf(places)
      place(boxes, boxed.flatMap(edgesOf))
    },
    setHovered: (hovered) => place(under, hovered ? edgesOf(hovered) : []),
    move(by) {
      for (const object of [dots, boxes]) {
        object.matrixAutoUpdate = false
        object.matrix.identity()
        if (by) object.matrix.compose(at.set(...by.about).add(there.set(...by.move)), turn.set(...by.turn), size.setScalar(by.size)).multiply(back.makeTranslation(-by.about[0], -by.about[1], -by.about[2]))
        object.matrixWorldNeedsUpdate = true
      }
    },
    setGhost: (ghost) => place(ghosts, ghost.slice(0, MOST_BOXES).flatMap(edgesOf)),
    drawnAt: (share) => void (dots.material.size = DOT * share),
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

/** How closely places x y z … stand in plan where any stand, to the m². */
function densityOf(places: Float32Array): number {
  const count = places.length / 3
  const box = new THREE.Box2()
  for (let k = 0; k < count; k++) box.expandByPoint(plan.set(places[3 * k], places[3 * k + 2]))
  const cell = Math.max(0.01, box.max.x - box.min.x, box.max.y - box.min.y) / CELLS
  const taken = new Set<number>()
  for (let k = 0; k < count; k++) taken.add(Math.floor((places[3 * k] - box.min.x) / cell) * 2 * CELLS + Math.floor((places[3 * k + 2] - box.min.y) / cell))
  return taken.size > 0 ? count / (taken.size * cell * cell) : 0
}

/** A ring with dark rims of constant size on the screen; `density` is how many stand on a m². */
function dotMaterial(density: { value: number }): THREE.PointsMaterial {
  const material = new THREE.PointsMaterial({ color: CHOSEN, size: DOT, sizeAttenuation: false, depthTest: false, transparent: true, fog: false, toneMapped: false })
  material.onBeforeCompile = (shader) => {
    shader.uniforms.density = density
    shader.vertexShader = `uniform float density;\n${shader.vertexShader.replace('#include <fog_vertex>', `#include <fog_vertex>
      float apart = projectionMatrix[1][1] * scale / gl_Position.w;
      float share = apart * apart / (density * ${ROOM_OF_DOT}.0);
      if (fract(float(gl_VertexID) * 0.6180340) > share) gl_Position = vec4(0.0, 0.0, 2.0, 1.0);`)}`
    shader.fragmentShader = shader.fragmentShader.replace('#include <clipping_planes_fragment>', 'float away = length(gl_PointCoord - 0.5);\nif (away > 0.5 || away < 0.2) discard;\nif (away > 0.38 || away < 0.28) diffuseColor.rgb = vec3(0.08);\n#include <clipping_planes_fragment>')
  }
  return material
}

const plan = new THREE.Vector2()
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
