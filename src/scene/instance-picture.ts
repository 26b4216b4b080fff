import * as THREE from 'three'
import type { Block } from '../core/columns.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import type { AssetForms } from './asset-forms.ts'
import type { FormPart } from './asset-forms.ts'
import type { DrawnColumns, DrawnRun } from './tile-runs.ts'
import { runsOfTile } from './tile-runs.ts'

/**
 * Draws blocks of instances straight from columns: one draw per asset part and tile, or part of a wide tile. Which
 * form that is drawn in, and how many of its instances, follows from their size on the screen and
 * from a budget of triangles; fewer are always the first by rank, so that thinning is stable.
 */
export interface InstancePicture {
  readonly group: THREE.Group
  setTile(planting: string, tile: string, block: Block | null, rect: Rect): void
  setForms(asset: number, forms: AssetForms | null): void
  /** How many pixels tall the instances of a planting were at most when last drawn; null when none is in view. */
  pixelsOf(planting: string): number | null
  setVisible(planting: string, visible: boolean): void
  /** Has none of a planting left out for a budget: gaps would be seen in what stands in order. */
  setWhole(planting: string, whole: boolean): void
  /** Chooses what is drawn for a camera within a budget. */
  update(camera: THREE.PerspectiveCamera, pixelsHigh: number, budget: number): DrawnFacts
  dispose(): void
}

export interface DrawnFacts {
  readonly triangles: number
  readonly instances: number
  readonly draws: number
}

/** The rows of one asset in one tile, or in a part of it. */
interface Run {
  readonly asset: number
  readonly planting: string
  readonly count: number
  readonly sphere: THREE.Sphere
  readonly largest: number
  readonly position: THREE.InstancedBufferAttribute
  readonly turn: THREE.InstancedBufferAttribute
  readonly size: THREE.InstancedBufferAttribute
  readonly tint: THREE.InstancedBufferAttribute
  /** Meshes by form, made when first wanted. */
  readonly meshes: (THREE.Mesh[] | undefined)[]
  /** Scratch of update: the forms of its asset, and its size on the screen, px. */
  own: AssetForms | null
  pixels: number
  form: number
  shown: number
  /** Whether none of it is left out for a budget. */
  whole: boolean
}

/** Sizes on the screen below which the next lighter form is taken, px, at quality 1. */
const FORM_PIXELS = [70, 16]
/** Below this size on the screen instances are thinned, px. */
const THIN_PIXELS = 4.5
const LEAST_SHARE = 0.04
/** Of more than so many in order some may be left out. */
const MOST_WHOLE = 2000
const SHADOW_PIXELS = 18
/** Halvings that find the quality for a budget, to a few per cent. */
const HALVINGS = 7

export function createInstancePicture(): InstancePicture {
  const group = new THREE.Group()
  const runs = new Map<string, Run[]>()
  const forms = new Map<number, AssetForms>()
  const hidden = new Set<string>()
  const wholes = new Set<string>()
  const frustum = new THREE.Frustum()
  const matrix = new THREE.Matrix4()
  let drawn: THREE.Mesh[] = []
  let lastSeen: readonly Run[] = []

  function drop(list: Run[] | undefined): void {
    for (const run of list ?? []) dropMeshes(group, run)
  }

  function meshesOf(run: Run, form: number): THREE.Mesh[] {
    const found = run.meshes[form]
    if (found) return found
    const made = (forms.get(run.asset)?.forms[form]?.parts ?? []).map((part) => meshOf(group, run, part))
    run.meshes[form] = made
    return made
  }

  return {
    group,
    setTile(planting, tile, block, rect) {
      const key = `${planting}/${tile}`
      drop(runs.get(key))
      if (!block || block.count === 0) {
        runs.delete(key)
        return
      }
      const { columns, runs: parts } = runsOfTile(block, rect)
      runs.set(
        key,
        parts.map((run) => runOf(columns, run, planting)),
      )
    },
    setForms(asset, given) {
      for (const list of runs.values()) for (const run of list) if (run.asset === asset) dropMeshes(group, run)
      if (given) forms.set(asset, given)
      else forms.delete(asset)
    },
    setWhole(planting, whole) {
      if (whole) wholes.add(planting)
      else wholes.delete(planting)
    },
    setVisible(planting, visible) {
      if (visible) hidden.delete(planting)
      else hidden.add(planting)
    },
    pixelsOf(planting) {
      let most: number | null = null
      for (const run of lastSeen) if (run.planting === planting) most = Math.max(most ?? 0, run.pixels)
      return most
    },
    update(camera, pixelsHigh, budget) {
      frustum.setFromProjectionMatrix(matrix.multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse))
      const perMetre = (0.5 * pixelsHigh) / Math.tan((camera.fov * Math.PI) / 360)
      const seen: Run[] = []
      for (const list of runs.values())
        for (const run of list) {
          const own = forms.get(run.asset)
          if (!own || hidden.has(run.planting) || !frustum.intersectsSphere(run.sphere)) continue
          const distance = Math.max(1, run.sphere.center.distanceTo(camera.position) - 0.7 * run.sphere.radius)
          run.own = own
          run.whole = run.count <= MOST_WHOLE && wholes.has(run.planting)
          run.pixels = (own.extent * run.largest * perMetre) / distance
          seen.push(run)
        }
      lastSeen = seen
      const quality = fitBudget(seen, budget)
      for (const mesh of drawn) mesh.visible = false
      drawn = []
      let triangles = 0
      let instances = 0
      for (const run of seen) {
        const cost = choose(run, quality)
        if (run.shown === 0) continue
        triangles += cost
        instances += run.shown
        for (const mesh of meshesOf(run, run.form)) {
          mesh.visible = true
          mesh.castShadow = run.pixels > SHADOW_PIXELS
          ;(mesh.geometry as THREE.InstancedBufferGeometry).instanceCount = run.shown
          drawn.push(mesh)
        }
      }
      return { triangles, instances, draws: drawn.length }
    },
    dispose() {
      for (const list of runs.values()) drop(list)
      runs.clear()
      lastSeen = []
      for (const own of forms.values()) own.dispose()
      forms.clear()
    },
  }
}

/** Takes the meshes of a run off the card. */
function dropMeshes(group: THREE.Group, run: Run): void {
  for (const meshes of run.meshes)
    for (const mesh of meshes ?? []) {
      group.remove(mesh)
      // Shared vertex attributes stay with their asset; only the instance columns go.
      for (const name of Object.keys(mesh.geometry.attributes))
        if (!name.startsWith('instance')) mesh.geometry.deleteAttribute(name)
      mesh.geometry.setIndex(null)
      mesh.geometry.dispose()
    }
  run.meshes.length = 0
}

/** One instanced draw of a part of an asset's form. */
function meshOf(group: THREE.Group, run: Run, part: FormPart): THREE.Mesh {
  const geometry = new THREE.InstancedBufferGeometry()
  geometry.setIndex(part.geometry.index)
  for (const [name, attribute] of Object.entries(part.geometry.attributes)) geometry.setAttribute(name, attribute)
  geometry.setAttribute('instancePosition', run.position)
  geometry.setAttribute('instanceTurn', run.turn)
  geometry.setAttribute('instanceSize', run.size)
  geometry.setAttribute('instanceTint', run.tint)
  geometry.boundingSphere = run.sphere
  const mesh = new THREE.Mesh(geometry, part.material)
  mesh.customDepthMaterial = part.shadow
  mesh.frustumCulled = false
  mesh.matrixAutoUpdate = false
  mesh.receiveShadow = true
  mesh.visible = false
  group.add(mesh)
  return mesh
}

/** The largest quality in 1/64…1 whose triangles fit the budget, by halving. */
function fitBudget(seen: readonly Run[], budget: number): number {
  const cost = (quality: number) => {
    let sum = 0
    for (const run of seen) sum += choose(run, quality)
    return sum
  }
  let low = 1 / 64
  let high = 1
  if (cost(high) <= budget) return high
  for (let k = 0; k < HALVINGS; k++) {
    const middle = Math.sqrt(low * high)
    if (cost(middle) <= budget) low = middle
    else high = middle
  }
  return low
}

/** Sets form and number of a run for a quality; returns its triangles. */
function choose(run: Run, quality: number): number {
  const { own } = run
  if (!own || own.forms.length === 0) return (run.shown = 0)
  const pixels = run.pixels * quality
  let form = 0
  while (form < own.forms.length - 1 && pixels < FORM_PIXELS[form]) form++
  run.form = form
  const size = (run.whole ? run.pixels : pixels) / THIN_PIXELS
  const share = size >= 1 ? 1 : Math.max(LEAST_SHARE * quality, size * Math.sqrt(size))
  run.shown = Math.ceil(run.count * Math.min(1, share))
  return run.shown * own.forms[form].triangles
}

function runOf({ position, rotation, scale, tint }: DrawnColumns, { asset, start, end, rect }: DrawnRun, planting: string): Run {
  let low = Infinity
  let high = -Infinity
  let largest = 0
  for (let i = start; i < end; i++) {
    const y = position[3 * i + 1]
    if (y < low) low = y
    if (y > high) high = y
    for (let c = 0; c < 3; c++) if (scale[3 * i + c] > largest) largest = scale[3 * i + c]
  }
  const centre = new THREE.Vector3(0.5 * (rect.x0 + rect.x1), 0.5 * (low + high), 0.5 * (rect.z0 + rect.z1))
  const radius = 0.5 * Math.hypot(rect.x1 - rect.x0, high - low, rect.z1 - rect.z0) + 4 * largest
  const column = (values: Float32Array, width: number) =>
    new THREE.InstancedBufferAttribute(values.subarray(width * start, width * end), width)
  return {
    asset,
    planting,
    count: end - start,
    sphere: new THREE.Sphere(centre, radius),
    largest,
    position: column(position, 3),
    turn: column(rotation, 4),
    size: column(scale, 3),
    tint: new THREE.InstancedBufferAttribute(tint.subarray(4 * start, 4 * end), 4, true),
    meshes: [],
    own: null,
    pixels: 0,
    form: 0,
    shown: 0,
    whole: false,
  }
}
