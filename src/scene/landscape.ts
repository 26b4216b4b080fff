import * as THREE from 'three'
import type { Sight } from '../core/grounds/ground.ts'
import { pickTerrain, slopeAt } from '../core/grounds/pick.ts'
import type { Terrain } from '../core/grounds/terrain.ts'
import { heightAt } from '../core/grounds/terrain.ts'
import type { Asset, Meadow, Outline, PlacedMesh, View } from '../core/meadow.ts'
import { assetsByNumber } from '../core/meadow.ts'
import { PLANTINGS } from '../core/plantings/index.ts'
import { terrainName } from '../growth/setup.ts'
import type { TintOutput } from '../runner/protocol.ts'
import type { InstanceTiles } from '../state/instances.ts'
import { createAssetShelf } from './asset-shelf.ts'
import { createGroundLayer } from './ground-layer.ts'
import type { DrawnFacts } from './instance-picture.ts'
import { createApartPicture } from './apart-picture.ts'
import { createInstancePicture } from './instance-picture.ts'
import type { Handles } from './mesh-handles.ts'
import { createHandles } from './mesh-handles.ts'
import type { MovedMesh } from './mesh-picture.ts'
import { createMeshPicture } from './mesh-picture.ts'
import { nearestInstance } from './nearest-instance.ts'
import { createOutlineLines } from './outline-lines.ts'
import { createPace } from './pace.ts'
import { createPersonLayer } from './person-layer.ts'
import { readBack } from './read-back.ts'
import { aimSun, createSkyLight, createSun } from './sun.ts'
import type { ViewStep } from './view.ts'
import { createChosenLayer } from './chosen-layer.ts'
import type { Marks } from './marks.ts'
import { createMarks } from './marks.ts'
import { createEye, within } from './view.ts'

export interface GroundPoint {
  readonly x: number
  readonly y: number
  readonly z: number
  /** Degrees. */
  readonly slope: number
}

export interface FrameFacts extends DrawnFacts {
  readonly groundTriangles: number
  /** Whether the picture is the full one, not the coarse one while moving. */
  readonly rest: boolean
}

/** What the graphics card holds. */
export interface CardFacts {
  readonly geometries: number
  readonly textures: number
}

/** The picture of one meadow, from outside React. */
export interface Landscape extends Marks {
  setMeadow(meadow: Meadow, terrain: Terrain): void
  /** Shows patches and paths, one of them stronger. */
  setOutlines(outlines: readonly Outline[], selected: string | null): void
  /** Shows handles at a mesh, or at none. */
  holdMesh(id: string | null, grip: 'translate' | 'rotate' | 'scale'): void
  /** The handles at the mesh that is held, for whoever has the pointer. */
  readonly handles: Omit<Handles, 'controls' | 'drags' | 'dispose'>
  /** Shows where conditions hold as colour on the ground; null shows the ground as it is. */
  setTint(tint: TintOutput | null): void
  /** The open planting: where it is too small to be seen, its colour lies on the ground. */
  setOpen(planting: string | null): void
  /** How many pixels tall the open planting's instances are at most; null when none of them is in view. */
  openPixels(): number | null
  /** Flies to where a planting can be seen one by one. */
  comeNear(planting: string): void
  /** Stands a person at a place of the picture, px, or in the middle of it; takes them away when there is one. */
  standPerson(at?: { readonly x: number; readonly y: number } | null): void
  /** Draws one frame. */
  frame(): void
  view(): Pick<View, 'position' | 'target'>
  flyTo(view: Pick<View, 'position' | 'target'>): void
  /** Flies nearer to what is at a place of the picture, px from its top left. */
  flyToPoint(x: number, y: number): void
  frameAll(): void
  step(move: ViewStep): void
  pick(x: number, y: number): GroundPoint | null
  /** The line of sight through a place of the picture. */
  sight(x: number, y: number): Sight
  /** Where a place is seen, on the ground unless its height is given, px from the top left; null when it is behind the eye or off the frame. */
  project(x: number, z: number, y?: number): readonly [number, number] | null
  /** The way from the meadow to the picture as it is now: four rows of four numbers, to be divided by the last, and its size, px. */
  projection(): { readonly matrix: ArrayLike<number>; readonly width: number; readonly height: number }
  /** Calls back after every frame drawn; returns how to stop that. */
  onDrawn(listener: () => void): () => void
  facts(): FrameFacts
  onCard(): CardFacts
  /** Draws `count` frames at rest and waits for each; ms each. */
  measure(count: number): number[]
  picture(width: number, height: number): Promise<Blob | null>
  dispose(): void
}

export interface LandscapeOptions {
  readonly renderer: THREE.WebGLRenderer
  readonly scene: THREE.Scene
  readonly camera: THREE.PerspectiveCamera
  readonly invalidate: () => void
  readonly instances: InstanceTiles
  readonly readBlob: (hash: string) => Promise<Uint8Array<ArrayBuffer>>
  readonly onAssetProblem: (asset: Asset, error: unknown) => void
  readonly onMeshProblem: (mesh: PlacedMesh, error: unknown) => void
  /** A mesh was moved by its handles; all of one drag have the same number. */
  readonly onMeshMoved: (moved: MovedMesh, drag: number) => void
  /** Whether instances are still coming in; the full picture waits until they have. */
  readonly growing: () => boolean
  /** The place the camera looks at has changed. */
  readonly onFocus: (x: number, z: number) => void
  readonly reducedMotion: boolean
}

/** A machine that is too slow for whole frames while moving draws them at this share of the size. */
const SLOW_SHARE = 0.5
/** Slow machines show ground that is still being built so far apart, ms. */
const UNFINISHED_FRAME = 400
/** Instances that are fewer pixels tall are shown by the colour of their planting too. */
const TOO_SMALL = 3

/** What the picture shows, and what has to be drawn anew. */
interface Shown {
  meadow: Meadow | null
  terrain: Terrain | null
  /** Names the ground that the view was last fitted to. */
  ground: string
  open: string | null
  shadowsStale: boolean
  drawn: FrameFacts
  /** When the last frame was drawn, ms. */
  drawnAt: number
}

/** Puts the layers of the picture together: ground, instances, meshes, outlines, a person, light. */
function createLayers(options: LandscapeOptions, shown: Shown, frame: HTMLElement) {
  const { renderer, scene, camera, invalidate, instances } = options
  const pace = createPace({
    invalidate,
    growing: options.growing,
    inSoftware: drawsInSoftware(renderer.getContext()),
    onRest() {
      shown.shadowsStale = true
      options.onFocus(eye.target.x, eye.target.z)
    },
  })
  const eye = createEye({ camera, frame, reducedMotion: options.reducedMotion, onChange: pace.stirred, onArrived: pace.settle })
  const ground = createGroundLayer(scene)
  /** Something that throws shadows or covers the ground has changed. */
  const changed = () => {
    shown.shadowsStale = true
    ground.stale()
  }
  const instancePicture = createApartPicture(createInstancePicture())
  const shelf = createAssetShelf({
    picture: instancePicture,
    readBlob: options.readBlob,
    onProblem: options.onAssetProblem,
    onLoaded() {
      changed()
      invalidate()
    },
  })
  const outlines = createOutlineLines()
  const handles = createHandles(frame, camera, { onChange: pace.stirred, onDragging: (dragging) => eye.setFree(!dragging) })
  const meshes = createMeshPicture({
    handles: handles.controls,
    readBlob: options.readBlob,
    onChange() {
      shown.shadowsStale = true
      pace.stirred()
    },
    onProblem: options.onMeshProblem,
    onMoved: (moved) => options.onMeshMoved(moved, handles.drags()),
  })
  const person = createPersonLayer()
  const chosen = createChosenLayer()
  const sun = createSun()
  scene.add(ground.group, instancePicture.group, meshes.group, outlines.group, person.group, chosen.group, handles.controls.getHelper(), sun, sun.target, createSkyLight())
  const stopListening = instances.listen((planting, tile, block, rect) => {
    instancePicture.setTile(planting, tile, block, rect)
    changed()
    pace.trickled()
  })
  return {
    pace, eye, ground, changed, instancePicture, shelf, outlines, handles, meshes, person, chosen, sun,
    dispose() {
      stopListening()
      for (const layer of [pace, eye, person, chosen, instancePicture, outlines, meshes, handles, ground, sun]) layer.dispose()
      scene.clear()
    },
  }
}

type Layers = ReturnType<typeof createLayers>

/** Draws one frame; `wanted` is the full one. False when it was passed over. */
function drawFrame({ renderer, scene, camera, invalidate, instances, growing }: LandscapeOptions, shown: Shown, layers: Layers, frame: HTMLElement, wanted: boolean): boolean {
  const { eye, ground, pace, instancePicture, shelf, sun, chosen } = layers
  eye.beforeFrame()
  // Until the ground is there in full, frames stay coarse and quick.
  const unfinished = ground.update(camera, wanted)
  const now = performance.now()
  if (unfinished && pace.slow && (wanted || growing()) && now - shown.drawnAt < UNFINISHED_FRAME) {
    // Where frames are slow, the ground is there sooner when not every piece of it is shown at once.
    invalidate()
    return false
  }
  shown.drawnAt = now
  const rest = wanted && !unfinished
  const share = fillShare(renderer, frame, rest || !pace.slow ? 1 : SLOW_SHARE)
  const high = renderer.domElement.height * share
  chosen.drawnAt(share)
  shown.drawn = { ...instancePicture.update(camera, high, pace.budget(rest)), groundTriangles: ground.triangles(), rest }
  if (rest) {
    // What only full frames show anew: far ground in the colours of what grows, marks, shadows.
    if (shown.meadow) ground.cover(shown.meadow, instances, shelf.coverOf)
    const pixels = shown.open === null ? null : instancePicture.pixelsOf(shown.open)
    ground.mark(pixels !== null && pixels < TOO_SMALL ? (shown.meadow?.plantings.find(({ id }) => id === shown.open) ?? null) : null, instances)
  }
  if (rest && shown.shadowsStale) {
    if (shown.terrain) aimSun(sun, camera, eye.target, Math.max(shown.terrain.sizeX, shown.terrain.sizeZ))
    renderer.shadowMap.needsUpdate = true
    shown.shadowsStale = false
  }
  renderer.render(scene, camera)
  if (unfinished) invalidate()
  return true
}

/**
 * Draws into a share of the canvas, stretched over the whole: to make the canvas itself smaller
 * would wait until all frames under way are drawn.
 */
function fillShare(renderer: THREE.WebGLRenderer, frame: HTMLElement, share: number): number {
  const canvas = renderer.domElement
  canvas.style.transformOrigin = '0 100%'
  canvas.style.transform = share === 1 ? '' : `scale(${1 / share})`
  renderer.setViewport(0, 0, frame.clientWidth * share, frame.clientHeight * share)
  return share
}

/** The picture of one meadow. */
export function createLandscape(options: LandscapeOptions): Landscape {
  const { renderer, camera, invalidate, instances } = options
  // The frame around the canvas takes the pointer, as the canvas itself is stretched while frames are coarse.
  const frame = renderer.domElement.parentElement ?? renderer.domElement
  renderer.shadowMap.autoUpdate = false
  const shown: Shown = { meadow: null, terrain: null, ground: '', open: null, shadowsStale: true, drawn: { triangles: 0, instances: 0, draws: 0, groundTriangles: 0, rest: false }, drawnAt: -Infinity }
  const layers = createLayers(options, shown, frame)
  const { pace, eye, ground, changed, instancePicture, shelf, outlines, handles, meshes, person } = layers
  const drawnListeners = new Set<() => void>()
  const draw = (wanted: boolean) => drawFrame(options, shown, layers, frame, wanted)

  const openPixels = () => (shown.open === null ? null : instancePicture.pixelsOf(shown.open))
  const tooSmall = () => (openPixels() ?? TOO_SMALL) < TOO_SMALL

  const landscape: Landscape = {
    setMeadow(next, nextTerrain) {
      const { meadow: before, terrain: groundBefore } = shown
      Object.assign(shown, { meadow: next, terrain: nextTerrain })
      const otherGround = ground.set(next, nextTerrain)
      if (otherGround) {
        eye.setTerrain(nextTerrain)
        // The same ground read anew is no other one: the view stays.
        if (groundBefore && shown.ground !== terrainName(next)) eye.frameAll()
        shown.ground = terrainName(next)
      }
      showPlantings(next, instancePicture)
      if (before?.assets !== next.assets) shelf.set(next.assets)
      instancePicture.setPosies(next, nextTerrain)
      if (before?.meshes !== next.meshes) meshes.set(next.meshes)
      // A changed rule shows by what grows; only what is seen at once asks for a frame.
      if (!otherGround && before?.meshes === next.meshes && before?.assets === next.assets && before.opened === next.opened && seenAtOnce(before) === seenAtOnce(next)) return
      changed()
      invalidate()
    },
    setOutlines(lines, selected) {
      if (!shown.terrain) return
      outlines.set(lines, selected, shown.terrain)
      pace.stirred()
    },
    ...createMarks({ chosen: layers.chosen, instances: instancePicture, assets: () => shown.meadow?.assets ?? [], onChange: pace.stirred }),
    holdMesh: (id, grip) => meshes.hold(id, grip),
    handles,
    setTint(tint) {
      ground.setTint(tint)
      meshes.setTint(tint?.grounds ?? [])
      pace.stirred()
    },
    setOpen(planting) {
      const wasMarked = tooSmall()
      shown.open = planting
      // Only where the ground takes or loses its colour there is something else to be seen.
      if (wasMarked || tooSmall()) pace.stirred()
    },
    openPixels,
    comeNear(planting) {
      const near = nearestInstance([...(instances.tiles.get(planting)?.values() ?? [])].map(({ block }) => block), eye.target)
      if (!near) return
      const asset = shown.meadow && assetsByNumber(shown.meadow.assets).get(near.asset)
      const tall = Math.max(0.3, (asset?.size[1] ?? 1) * near.size)
      const offset = camera.position.clone().sub(eye.target).setY(0).normalize().multiplyScalar(7 * tall + 2)
      const target = near.position.clone().setY(near.position.y + 0.4 * tall)
      eye.flyTo({ position: target.clone().add(offset).setY(target.y + 2.2 * tall + 0.6).toArray(), target: target.toArray() })
    },
    standPerson(at) {
      const middle = { x: frame.clientWidth / 2, y: frame.clientHeight / 2 }
      const on = person.stands() ? null : (at && landscape.pick(at.x, at.y)) ?? landscape.pick(middle.x, middle.y)
      if (on) person.stand(on, camera.position)
      else person.leave()
      shown.shadowsStale = true
      pace.stirred()
    },
    frame() {
      const drawn = draw(!pace.moving)
      pace.learn(drawn, shown.drawnAt)
      if (drawn) for (const listener of drawnListeners) listener()
    },
    view: eye.view,
    flyTo: eye.flyTo,
    flyToPoint(x, y) {
      const on = landscape.pick(x, y)
      if (on) eye.approach(new THREE.Vector3(on.x, on.y, on.z))
    },
    frameAll: eye.frameAll,
    step: eye.step,
    pick(x, y) {
      const { terrain } = shown
      if (!terrain) return null
      const { origin, direction, reach } = eye.sight(x, y)
      const hit = pickTerrain(terrain, origin, direction, reach)
      return hit && { x: hit[0], y: hit[1], z: hit[2], slope: slopeAt(terrain, hit[0], hit[2]) }
    },
    sight: eye.sight,
    project: (x, z, y) => (shown.terrain ? eye.project(x, y ?? heightAt(shown.terrain, ...within(shown.terrain, x, z)), z) : null),
    projection: () => ({ matrix: new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse).transpose().elements, width: frame.clientWidth, height: frame.clientHeight }),
    onDrawn(listener) {
      drawnListeners.add(listener)
      return () => drawnListeners.delete(listener)
    },
    facts: () => shown.drawn,
    onCard: () => ({ ...renderer.info.memory }),
    measure(count) {
      const gl = renderer.getContext()
      const pixel = new Uint8Array(4)
      return Array.from({ length: count }, () => {
        const start = performance.now()
        draw(true)
        // Reading a pixel waits until the frame is really drawn.
        gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, pixel)
        return performance.now() - start
      })
    },
    async picture(width, height) {
      do draw(true)
      while (!shown.drawn.rest)
      return readBack(renderer.getContext() as WebGL2RenderingContext, width, height)
    },
    dispose: layers.dispose,
  }
  return landscape
}

/** Tells the picture which plantings are seen, and of which none may be left out. */
function showPlantings({ plantings }: Meadow, picture: Layers['instancePicture']): void {
  for (const { id, kind, visible } of plantings) {
    picture.setVisible(id, visible)
    picture.setWhole(id, PLANTINGS.get(kind).inOrder)
  }
}

/** A text of what of a meadow is seen at once, without anything growing. */
function seenAtOnce(meadow: Meadow | null): string {
  return JSON.stringify([meadow?.water, meadow?.plantings.map(({ id, visible }) => [id, visible])])
}

/** Whether the browser says that no graphics card is at work. */
function drawsInSoftware(gl: WebGLRenderingContext | WebGL2RenderingContext): boolean {
  const told = gl.getExtension('WEBGL_debug_renderer_info')
  const name = told ? String(gl.getParameter(told.UNMASKED_RENDERER_WEBGL)) : ''
  return /llvmpipe|swiftshader|software|basic render/i.test(name)
}
