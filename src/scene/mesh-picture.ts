import * as THREE from 'three'
import type { TransformControls } from 'three/addons/controls/TransformControls.js'
import { bytesToShape } from '../core/grounds/mesh-shape.ts'
import { turnMatrix } from '../core/grounds/solid.ts'
import type { PlacedMesh } from '../core/meadow.ts'
import { parseGlb } from './asset-forms.ts'
import { disposeDeep, disposeReplaced } from './dispose.ts'
import { TINT_COLOUR } from './materials.ts'

type ReadBlob = (hash: string) => Promise<Uint8Array<ArrayBuffer>>

/** How a mesh was moved by its handles. */
export interface MovedMesh {
  readonly id: string
  readonly position: [number, number, number]
  /** Degrees about X, then Y, then Z of the world. */
  readonly turn: [number, number, number]
  readonly size: number
}

/** Meshes that stand in the meadow. */
export interface MeshPicture {
  readonly group: THREE.Group
  set(meshes: readonly PlacedMesh[]): void
  /** Shows handles at a mesh, or at none. */
  hold(id: string | null, grip: 'translate' | 'rotate' | 'scale'): void
  /** Shows weights 0…255 at the corners of meshes as colour. */
  setTint(meshes: readonly { readonly id: string; readonly weights: Uint8Array<ArrayBuffer> }[]): void
  dispose(): void
}

interface Shown {
  blob: string
  readonly holder: THREE.Group
  tint: THREE.Mesh | null
  mesh: PlacedMesh
}

export interface MeshPictureOptions {
  readonly handles: TransformControls
  readonly readBlob: ReadBlob
  readonly onChange: () => void
  readonly onProblem: (mesh: PlacedMesh, error: unknown) => void
  readonly onMoved: (moved: MovedMesh) => void
}

export function createMeshPicture({ handles, readBlob, onChange, onProblem, onMoved }: MeshPictureOptions): MeshPicture {
  const group = new THREE.Group()
  const shown = new Map<string, Shown>()
  let held: string | null = null

  handles.addEventListener('objectChange', () => {
    const one = held === null ? undefined : shown.get(held)
    if (one) onMoved(readPlace(one.mesh.id, one.holder))
  })

  async function load(one: Shown): Promise<void> {
    const { mesh } = one
    one.blob = mesh.blob
    try {
      const model = await parseGlb(await readBlob(mesh.blob))
      if (one.blob !== mesh.blob || shown.get(mesh.id) !== one) return
      for (const old of [...one.holder.children]) discard(one.holder, old)
      model.traverse((object) => {
        if (!(object instanceof THREE.Mesh)) return
        object.castShadow = true
        object.receiveShadow = true
        // Matt as all else in the picture is.
        const material = object.material as THREE.MeshStandardMaterial
        object.material = new THREE.MeshLambertMaterial({ color: material.color, map: material.map, vertexColors: material.vertexColors, side: THREE.DoubleSide })
        disposeReplaced(material, object.material as THREE.Material)
      })
      one.holder.add(model)
      onChange()
    } catch (error) {
      onProblem(mesh, error)
    }
  }

  function place(one: Shown): void {
    const { position, turn, size } = one.mesh
    const m = turnMatrix(turn)
    one.holder.quaternion.setFromRotationMatrix(new THREE.Matrix4().set(m[0], m[1], m[2], 0, m[3], m[4], m[5], 0, m[6], m[7], m[8], 0, 0, 0, 0, 1))
    one.holder.position.set(...position)
    one.holder.scale.setScalar(size)
    one.holder.visible = one.mesh.visible
    one.holder.updateMatrixWorld(true)
  }

  return {
    group,
    set(meshes) {
      for (const [id, one] of shown) {
        if (meshes.some((mesh) => mesh.id === id)) continue
        if (held === id) handles.detach()
        shown.delete(id)
        discard(group, one.holder)
      }
      for (const mesh of meshes) {
        let one = shown.get(mesh.id)
        if (!one) {
          one = { blob: '', holder: new THREE.Group(), tint: null, mesh }
          shown.set(mesh.id, one)
          group.add(one.holder)
        }
        one.mesh = mesh
        // While its handles are dragged the holder leads.
        if (!(held === mesh.id && handles.dragging)) place(one)
        if (one.blob !== mesh.blob) void load(one)
      }
    },
    hold(id, grip) {
      const one = id === null ? undefined : shown.get(id)
      held = one && !one.mesh.locked && one.mesh.visible ? id : null
      if (one && held) {
        handles.setMode(grip)
        handles.attach(one.holder)
      } else handles.detach()
      onChange()
    },
    setTint(meshes) {
      for (const one of shown.values()) {
        if (one.tint) discard(one.holder, one.tint)
        one.tint = null
        const found = meshes.find(({ id }) => id === one.mesh.id)
        if (found) void showTint(one, found.weights)
      }
      onChange()
    },
    dispose() {
      handles.detach()
      for (const { holder } of shown.values()) discard(group, holder)
      shown.clear()
    },
  }

  async function showTint(one: Shown, corners: Uint8Array): Promise<void> {
    const shape = bytesToShape(await readBlob(one.mesh.shape))
    if (!shape || shape.positions.length !== 3 * corners.length || one.tint) return
    const geometry = new THREE.BufferGeometry()
    geometry.setAttribute('position', new THREE.BufferAttribute(shape.positions, 3))
    geometry.setIndex(new THREE.BufferAttribute(shape.indices, 1))
    const colours = new Float32Array(4 * corners.length)
    for (let i = 0; i < corners.length; i++) colours.set([TINT_COLOUR.r, TINT_COLOUR.g, TINT_COLOUR.b, 0.15 + (0.7 * corners[i]) / 255], 4 * i)
    geometry.setAttribute('color', new THREE.BufferAttribute(colours, 4))
    const material = new THREE.MeshBasicMaterial({ vertexColors: true, transparent: true, polygonOffset: true, polygonOffsetFactor: -2, polygonOffsetUnits: -2, side: THREE.DoubleSide })
    one.tint = new THREE.Mesh(geometry, material)
    one.holder.add(one.tint)
    one.holder.updateMatrixWorld(true)
    onChange()
  }
}

/** Where a holder stands, as the document says it. */
function readPlace(id: string, holder: THREE.Group): MovedMesh {
  // About X, then Y, then Z of the world is the order ZYX of three's own axes.
  const euler = new THREE.Euler().setFromQuaternion(holder.quaternion, 'ZYX')
  const degrees = (radians: number) => tidy((radians * 180) / Math.PI)
  const { x, y, z } = holder.scale
  // One factor for all axes: the one that was pulled most.
  const size = [x, y, z].reduce((far, one) => (Math.abs(Math.log(one / far)) > 1e-9 && Math.abs(one - y) > Math.abs(far - y) ? one : far), y)
  return {
    id,
    position: [tidy(holder.position.x), tidy(holder.position.y), tidy(holder.position.z)],
    turn: [degrees(euler.x), degrees(euler.y), degrees(euler.z)],
    size: tidy(Math.max(0.001, Math.abs(size))),
  }
}

function tidy(value: number): number {
  return Math.round(value * 1000) / 1000
}

function discard(parent: THREE.Object3D, object: THREE.Object3D): void {
  parent.remove(object)
  disposeDeep(object)
}
