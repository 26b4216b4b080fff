import * as THREE from 'three'
import { OrbitControls } from 'three/addons/controls/OrbitControls.js'
import { TransformControls } from 'three/addons/controls/TransformControls.js'
import type { Block } from '../core/columns.ts'
import { pickTerrain, slopeAt } from '../core/grounds/pick.ts'
import type { Terrain } from '../core/grounds/terrain.ts'
import type { Sight } from '../core/grounds/ground.ts'
import { heightAt } from '../core/grounds/terrain.ts'
import type { Asset, Meadow, Outline, PlacedMesh, View } from '../core/meadow.ts'
import { assetsByNumber, growsOnTerrain } from '../core/meadow.ts'
import { TERRAIN_ID } from '../core/grounds/ground.ts'
import { groundOfTile } from '../core/grow.ts'
import type { Tile } from '../growth/tile-order.ts'
import type { TintOutput } from '../runner/protocol.ts'
import type { InstanceTiles } from '../state/instances.ts'
import type { AssetForms } from './asset-forms.ts'
import { loadForms } from './asset-forms.ts'
import type { DrawnFacts } from './instance-picture.ts'
import { disposeDeep } from './dispose.ts'
import type { CoverOf } from './ground-cover.ts'
import { coverOf, readCover } from './ground-cover.ts'
import { createInstancePicture } from './instance-picture.ts'
import { createSky, createWater, groundMaterial, SKY } from './materials.ts'
import type { MovedMesh } from './mesh-picture.ts'
import { createMeshPicture } from './mesh-picture.ts'
import { createOutlineLines } from './outline-lines.ts'
import { createPerson } from './person.ts'
import { markOf } from './planting-mark.ts'
import { readBack } from './read-back.ts'
import { aimSun, createSkyLight, createSun } from './sun.ts'
import type { TerrainPicture } from './terrain-tree.ts'
import { createTerrainPicture } from './terrain-tree.ts'

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
export interface Landscape {
  setMeadow(meadow: Meadow, terrain: Terrain): void
  /** Shows patches and paths, one of them stronger. */
  setOutlines(outlines: readonly Outline[], selected: string | null): void
  /** Shows handles at a mesh, or at none. */
  holdMesh(id: string | null, grip: 'translate' | 'rotate' | 'scale'): void
  /** Shows where conditions hold as colour on the ground; null shows the ground as it is. */
  setTint(tint: TintOutput | null): void
  /** The open planting: where it is too small to be seen, its colour lies on the ground. */
  setOpen(planting: string | null): void
  /** How many pixels tall the open planting's instances are at most; null when none of them is in view. */
  openPixels(): number | null
  /** Flies to where a planting can be seen one by one. */
  comeNear(planting: string): void
  /** Stands a person where the pointer is, or in the middle of the view; takes them away when there is one. */
  standPerson(): void
  /** Draws one frame. */
  frame(): void
  view(): Pick<View, 'position' | 'target'>
  flyTo(view: Pick<View, 'position' | 'target'>): void
  /** Flies nearer to what is at a place of the canvas, px from its top left. */
  flyToPoint(x: number, y: number): void
  frameAll(): void
  /** Steps by keyboard: sideways and forward in shares of the distance, turns in degrees, zoom as a factor. */
  step(move: { right?: number; ahead?: number; turn?: number; tip?: number; zoom?: number }): void
  pick(x: number, y: number): GroundPoint | null
  /** The line of sight through a place of the canvas. */
  sight(x: number, y: number): Sight
  /** Where a place is seen, on the ground unless its height is given, px from the top left; null when it is behind the eye or off the frame. */
  project(x: number, z: number, y?: number): readonly [number, number] | null
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

/** An asset under way or loaded: its forms are null until it is. */
interface Loaded {
  readonly blob: string
  forms: AssetForms | null
  cover: CoverOf | null
}

/** Milliseconds without movement after which the full picture is drawn. */
const REST_AFTER = 160
/** A frame while moving should take about so long, ms. */
const MOVING_FRAME = 45
/** Frames while instances come in are at least so far apart, ms; more where drawing and growing share the processor. */
const GROWTH_FRAME = { least: 120, slow: 300 }
/** A machine whose frames take longer than this while moving draws them at half the size, ms. */
const SLOW_FRAME = 90
const SLOW_SHARE = 0.5
const REST_SHARE = 7
const BUDGET = { start: 160_000, least: 40_000, most: 6_000_000, restLeast: 900_000, restSlow: 450_000, restMost: 16_000_000 }
const FLIGHT = 550
/** Instances that are fewer pixels tall are shown by the colour of their planting too. */
const TOO_SMALL = 3
/** Most instances that are looked at to find a near one. */
const MOST_LOOKED_AT = 100_000
const HOLDS = ['pointerdown', 'pointerup', 'pointercancel'] as const

export function createLandscape(options: LandscapeOptions): Landscape {
  const { renderer, scene, camera, invalidate, instances } = options
  const canvas = renderer.domElement
  // The frame around the canvas takes the pointer, as the canvas itself is stretched while frames are coarse.
  const frame = canvas.parentElement ?? canvas
  const controls = new OrbitControls(camera, frame)
  controls.enableDamping = false
  controls.zoomToCursor = true
  controls.maxPolarAngle = Math.PI * 0.495
  controls.mouseButtons = { LEFT: THREE.MOUSE.ROTATE, MIDDLE: THREE.MOUSE.DOLLY, RIGHT: THREE.MOUSE.PAN }

  const sky = createSky()
  const water = createWater()
  const ground = groundMaterial()
  const instancePicture = createInstancePicture()
  const outlineLines = createOutlineLines()
  const handles = new TransformControls(camera, frame)
  handles.setSize(0.8)
  let drags = 0
  handles.addEventListener('dragging-changed', ({ value }) => {
    controls.enabled = !value
    if (value) drags++
  })
  const meshPicture = createMeshPicture({
    handles,
    readBlob: options.readBlob,
    onChange: () => {
      shadowsStale = true
      stirred()
    },
    onProblem: options.onMeshProblem,
    onMoved: (moved) => options.onMeshMoved(moved, drags),
  })
  const drawnListeners = new Set<() => void>()
  let open: string | null = null
  let marked = ''
  let person: THREE.Group | null = null
  let pointer: readonly [number, number] | null = null
  const point = (event: PointerEvent) => (pointer = [event.offsetX, event.offsetY])
  frame.addEventListener('pointermove', point)
  const sun = createSun()
  renderer.shadowMap.autoUpdate = false
  scene.add(sky, water, instancePicture.group, meshPicture.group, outlineLines.group, handles.getHelper(), sun, sun.target, createSkyLight())

  const inSoftware = drawsInSoftware(renderer.getContext())
  let slow = inSoftware
  let meadow: Meadow | null = null
  let terrain: Terrain | null = null
  let terrainPicture: TerrainPicture | null = null
  const loaded = new Map<string, Loaded>()
  let moving = false
  let lastFrame = 0
  let movingBudget = BUDGET.start
  let shadowsStale = true
  let coverStale = true
  let drawn: FrameFacts = { triangles: 0, instances: 0, draws: 0, groundTriangles: 0, rest: false }
  let flight: { from: View['position'][]; to: View['position'][]; start: number } | null = null
  let restTimer: ReturnType<typeof setTimeout> | null = null

  const stirred = () => {
    moving = true
    if (restTimer) clearTimeout(restTimer)
    restTimer = setTimeout(settle, REST_AFTER)
    invalidate()
  }
  // While something is dragged, full frames would hold up the next move.
  let held = false
  const hold = (event: PointerEvent) => (held = event.type === 'pointerdown')
  for (const type of HOLDS) addEventListener(type, hold, true)
  const settle = () => {
    if (options.growing() || held) {
      restTimer = setTimeout(settle, REST_AFTER)
      return
    }
    moving = false
    lastFrame = 0
    shadowsStale = true
    options.onFocus(controls.target.x, controls.target.z)
    invalidate()
  }
  controls.addEventListener('change', stirred)
  handles.addEventListener('change', stirred)
  // While tiles come in, coarse frames at a calm pace; the full one when they have settled.
  let growthShown = 0
  const stopListening = instances.listen((planting, tile, block, rect) => {
    instancePicture.setTile(planting, tile, block, rect)
    shadowsStale = true
    coverStale = true
    moving = true
    if (restTimer) clearTimeout(restTimer)
    restTimer = setTimeout(settle, REST_AFTER)
    if (performance.now() - growthShown < (slow ? GROWTH_FRAME.slow : GROWTH_FRAME.least)) return
    growthShown = performance.now()
    lastFrame = 0
    invalidate()
  })

  async function showAsset(asset: Asset): Promise<void> {
    const have = loaded.get(asset.id)
    if (have?.blob === asset.blob) {
      if (have.forms) instancePicture.setForms(asset.number, have.forms)
      return
    }
    const entry: Loaded = { blob: asset.blob, forms: null, cover: null }
    loaded.set(asset.id, entry)
    try {
      entry.forms = await loadForms(asset, options.readBlob)
      entry.cover = coverOf(entry.forms, asset.size)
      if (meadow?.assets.some((one) => one.id === asset.id)) instancePicture.setForms(asset.number, entry.forms)
      shadowsStale = true
      coverStale = true
      invalidate()
    } catch (error) {
      options.onAssetProblem(asset, error)
    }
  }

  function keepAboveGround(): void {
    if (!terrain) return
    const { x0, x1, z0, z1 } = terrain.bounds
    const { position } = camera
    const x = Math.min(x1, Math.max(x0, position.x))
    const z = Math.min(z1, Math.max(z0, position.z))
    const least = heightAt(terrain, x, z) + 0.35
    if (position.y < least) position.y = least
  }

  function advanceFlight(): void {
    if (!flight) return
    const t = Math.min(1, (performance.now() - flight.start) / FLIGHT)
    const eased = t * t * (3 - 2 * t)
    const at = (k: number) => new THREE.Vector3(...(flight?.from[k] ?? [0, 0, 0])).lerp(new THREE.Vector3(...(flight?.to[k] ?? [0, 0, 0])), eased)
    camera.position.copy(at(0))
    controls.target.copy(at(1))
    camera.lookAt(controls.target)
    if (t >= 1) flight = null
    stirred()
  }

  /** Colours far ground anew by what grows on it. */
  function coverGround(): void {
    if (!meadow || !terrain) return
    const assets = assetsByNumber(meadow.assets)
    const blocks = meadow.plantings
      .filter(({ visible }) => visible)
      .flatMap(({ id }) => onTerrain(instances.tiles.get(id)))
    const cover = readCover(blocks, terrain.sizeX, terrain.sizeZ, (asset) => loaded.get(assets.get(asset)?.id ?? '')?.cover ?? null)
    ground.setCover(cover, terrain.sizeX, terrain.sizeZ)
    coverStale = false
  }

  /** Colours the ground where the open planting stands, as long as its instances are too small to be told apart. */
  function markGround(): void {
    const planting = meadow?.plantings.find(({ id }) => id === open)
    const pixels = open === null ? null : instancePicture.pixelsOf(open)
    const wanted = planting && terrain && planting.visible && growsOnTerrain(planting) && pixels !== null && pixels < TOO_SMALL
    const blocks = wanted ? onTerrain(instances.tiles.get(planting.id)) : []
    const key = wanted ? `${planting.id} ${planting.colour} ${blocks.reduce((sum, { count }) => sum + count, 0)} ${terrain?.sizeX}` : ''
    if (key === marked) return
    marked = key
    if (!wanted || !terrain) ground.setMark(null, '', 1, 1)
    else ground.setMark(markOf(blocks, terrain.sizeX, terrain.sizeZ), planting.colour, terrain.sizeX, terrain.sizeZ)
  }

  function draw(wanted: boolean): void {
    keepAboveGround()
    camera.lookAt(controls.target)
    camera.updateMatrixWorld()
    // Until the ground is there in full, frames stay coarse and quick.
    const unfinished = terrainPicture?.update(camera, wanted ? 2.2 : 1.3, wanted) ?? false
    const rest = wanted && !unfinished
    const high = canvas.height * fillShare(rest || !slow ? 1 : SLOW_SHARE)
    const budget = rest
      ? Math.min(BUDGET.restMost, Math.max(inSoftware ? BUDGET.restSlow : BUDGET.restLeast, movingBudget * REST_SHARE))
      : movingBudget
    const facts = instancePicture.update(camera, high, budget)
    drawn = { ...facts, groundTriangles: terrainPicture?.triangles() ?? 0, rest }
    if (rest && coverStale) coverGround()
    if (rest) markGround()
    if (rest && shadowsStale) {
      if (terrain) aimSun(sun, camera, controls.target, Math.max(terrain.sizeX, terrain.sizeZ))
      renderer.shadowMap.needsUpdate = true
      shadowsStale = false
    }
    renderer.render(scene, camera)
    if (unfinished) invalidate()
  }

  /**
   * Draws into a share of the canvas, stretched over the whole: to make the canvas itself smaller
   * would wait until all frames under way are drawn.
   */
  function fillShare(share: number): number {
    canvas.style.transformOrigin = '0 100%'
    canvas.style.transform = share === 1 ? '' : `scale(${1 / share})`
    renderer.setViewport(0, 0, frame.clientWidth * share, frame.clientHeight * share)
    return share
  }

  /** Learns from the time between frames while moving how many triangles this machine can take. */
  function learn(): void {
    const now = performance.now()
    if (moving && lastFrame > 0) {
      const took = now - lastFrame
      if (took > SLOW_FRAME) slow = true
      if (took < 400) {
        const factor = Math.min(1.25, Math.max(0.7, MOVING_FRAME / took))
        movingBudget = Math.min(BUDGET.most, Math.max(BUDGET.least, movingBudget * factor))
      }
    }
    lastFrame = moving ? now : 0
  }

  const landscape: Landscape = {
    setMeadow(next, nextTerrain) {
      const before = meadow
      const terrainBefore = terrain
      meadow = next
      if (nextTerrain !== terrain || before?.water.level !== next.water.level) {
        const first = terrain === null
        terrain = nextTerrain
        if (terrainPicture) {
          scene.remove(terrainPicture.group)
          terrainPicture.dispose()
        }
        terrainPicture = createTerrainPicture(terrain, next.water.level, ground.material)
        scene.add(terrainPicture.group)
        const extent = Math.max(terrain.sizeX, terrain.sizeZ)
        camera.near = Math.max(0.1, extent / 8000)
        camera.far = extent * 6
        camera.updateProjectionMatrix()
        scene.fog = new THREE.Fog(SKY.horizon, extent * 0.35, extent * 2.6)
        water.scale.set(extent * 8, 1, extent * 8)
        controls.maxDistance = extent * 2
        controls.minDistance = 0.4
        if (!first) landscape.frameAll()
      }
      // A changed rule shows by what grows; only what is seen at once asks for a frame.
      const seen = (one: Meadow | null) => JSON.stringify([one?.water, one?.plantings.map(({ id, visible }) => [id, visible])])
      const changed = nextTerrain !== terrainBefore || before?.meshes !== next.meshes || before?.assets !== next.assets || seen(before) !== seen(next)
      water.visible = next.water.shown
      water.position.y = next.water.level
      water.updateMatrixWorld()
      for (const planting of next.plantings) instancePicture.setVisible(planting.id, planting.visible)
      if (before?.assets !== next.assets) {
        const known = assetsByNumber(before?.assets ?? [])
        for (const asset of next.assets) if (known.get(asset.number) !== asset) void showAsset(asset)
        const there = assetsByNumber(next.assets)
        for (const number of known.keys()) if (!there.has(number)) instancePicture.setForms(number, null)
      }
      if (before?.meshes !== next.meshes) meshPicture.set(next.meshes)
      if (!changed) return
      shadowsStale = true
      coverStale = true
      invalidate()
    },
    setOutlines(outlines, selected) {
      if (!terrain) return
      outlineLines.set(outlines, selected, terrain)
      stirred()
    },
    holdMesh: (id, grip) => meshPicture.hold(id, grip),
    setTint(tint) {
      const onTerrain = tint?.grounds.find(({ id }) => id === TERRAIN_ID)
      ground.setTint(tint && onTerrain && terrain ? { side: tint.side, weights: onTerrain.weights, sizeX: terrain.sizeX, sizeZ: terrain.sizeZ } : null)
      meshPicture.setTint(tint?.grounds ?? [])
      stirred()
    },
    setOpen(planting) {
      open = planting
      stirred()
    },
    openPixels: () => (open === null ? null : instancePicture.pixelsOf(open)),
    comeNear(planting) {
      const near = nearestInstance([...(instances.tiles.get(planting)?.values() ?? [])].map(({ block }) => block), controls.target)
      if (!near) return
      const asset = meadow && assetsByNumber(meadow.assets).get(near.asset)
      const tall = Math.max(0.3, (asset?.size[1] ?? 1) * near.size)
      const offset = camera.position.clone().sub(controls.target).setY(0).normalize().multiplyScalar(7 * tall + 2)
      const target = near.position.clone().setY(near.position.y + 0.4 * tall)
      landscape.flyTo({ position: target.clone().add(offset).setY(target.y + 2.2 * tall + 0.6).toArray(), target: target.toArray() })
    },
    standPerson() {
      if (person) {
        scene.remove(person)
        disposeDeep(person)
        person = null
      } else {
        const [x, y] = pointer ?? [frame.clientWidth / 2, frame.clientHeight / 2]
        const at = landscape.pick(x, y) ?? landscape.pick(frame.clientWidth / 2, frame.clientHeight / 2)
        if (!at) return
        person = createPerson()
        person.position.set(at.x, at.y, at.z)
        person.lookAt(camera.position.x, at.y, camera.position.z)
        scene.add(person)
      }
      shadowsStale = true
      stirred()
    },
    frame() {
      learn()
      advanceFlight()
      draw(!moving)
      for (const listener of drawnListeners) listener()
    },
    view: () => ({ position: camera.position.toArray(), target: controls.target.toArray() }),
    flyTo({ position, target }) {
      if (options.reducedMotion) {
        camera.position.set(...position)
        controls.target.set(...target)
        settle()
        return
      }
      flight = {
        from: [camera.position.toArray(), controls.target.toArray()],
        to: [position, target],
        start: performance.now(),
      }
      stirred()
    },
    flyToPoint(x, y) {
      const point = landscape.pick(x, y)
      if (!point) return
      const offset = camera.position.clone().sub(controls.target).multiplyScalar(0.4)
      const target = new THREE.Vector3(point.x, point.y, point.z)
      landscape.flyTo({ position: target.clone().add(offset).toArray(), target: target.toArray() })
    },
    frameAll() {
      if (!terrain) return
      const extent = Math.max(terrain.sizeX, terrain.sizeZ)
      const middle = 0.5 * (terrain.lowest + terrain.highest)
      landscape.flyTo({
        position: [-0.32 * extent, middle + 0.36 * extent, 0.72 * extent],
        target: [0, middle, 0.04 * extent],
      })
    },
    step({ right = 0, ahead = 0, turn = 0, tip = 0, zoom = 1 }) {
      const offset = camera.position.clone().sub(controls.target)
      const spherical = new THREE.Spherical().setFromVector3(offset)
      const forward = new THREE.Vector3(-offset.x, 0, -offset.z).normalize()
      const sideways = new THREE.Vector3(-forward.z, 0, forward.x)
      const stride = spherical.radius
      const shift = forward.multiplyScalar(ahead * stride).add(sideways.multiplyScalar(right * stride))
      spherical.theta += (turn * Math.PI) / 180
      spherical.phi = Math.min(controls.maxPolarAngle, Math.max(0.02, spherical.phi + (tip * Math.PI) / 180))
      spherical.radius = Math.min(controls.maxDistance, Math.max(controls.minDistance, spherical.radius * zoom))
      controls.target.add(shift)
      camera.position.copy(controls.target).add(new THREE.Vector3().setFromSpherical(spherical))
      stirred()
    },
    pick(x, y) {
      if (!terrain) return null
      const { origin, direction, reach } = landscape.sight(x, y)
      const hit = pickTerrain(terrain, origin, direction, reach)
      return hit && { x: hit[0], y: hit[1], z: hit[2], slope: slopeAt(terrain, hit[0], hit[2]) }
    },
    sight(x, y) {
      const caster = new THREE.Raycaster()
      caster.setFromCamera(new THREE.Vector2((x / frame.clientWidth) * 2 - 1, 1 - (y / frame.clientHeight) * 2), camera)
      return { origin: caster.ray.origin.toArray(), direction: caster.ray.direction.toArray(), reach: camera.far }
    },
    project(x, z, y) {
      if (!terrain) return null
      const { x0, x1, z0, z1 } = terrain.bounds
      const height = y ?? heightAt(terrain, Math.min(x1, Math.max(x0, x)), Math.min(z1, Math.max(z0, z)))
      const at = new THREE.Vector3(x, height, z).project(camera)
      if (at.z > 1 || Math.abs(at.x) > 1 || Math.abs(at.y) > 1) return null
      return [0.5 * (at.x + 1) * frame.clientWidth, 0.5 * (1 - at.y) * frame.clientHeight]
    },
    onDrawn(listener) {
      drawnListeners.add(listener)
      return () => drawnListeners.delete(listener)
    },
    facts: () => drawn,
    onCard: () => ({ ...renderer.info.memory }),
    measure(count) {
      const gl = renderer.getContext()
      const times: number[] = []
      const pixel = new Uint8Array(4)
      for (let k = 0; k < count; k++) {
        const start = performance.now()
        draw(true)
        // Reading a pixel waits until the frame is really drawn.
        gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, pixel)
        times.push(performance.now() - start)
      }
      return times
    },
    async picture(width, height) {
      do draw(true)
      while (!drawn.rest)
      return readBack(renderer.getContext() as WebGL2RenderingContext, width, height)
    },
    dispose() {
      stopListening()
      for (const type of HOLDS) removeEventListener(type, hold, true)
      if (restTimer) clearTimeout(restTimer)
      frame.removeEventListener('pointermove', point)
      if (person) disposeDeep(person)
      controls.dispose()
      instancePicture.dispose()
      outlineLines.dispose()
      meshPicture.dispose()
      handles.dispose()
      terrainPicture?.dispose()
      ground.dispose()
      for (const one of [sky, water]) disposeDeep(one)
      sun.dispose()
      scene.clear()
    },
  }
  return landscape
}

/** The instance nearest to a place, of every so many where there are very many. */
function nearestInstance(blocks: readonly Block[], to: THREE.Vector3): { readonly position: THREE.Vector3; readonly asset: number; readonly size: number } | null {
  const count = blocks.reduce((sum, block) => sum + block.count, 0)
  const stride = Math.ceil(count / MOST_LOOKED_AT)
  let best: { block: Block; i: number } | null = null
  let least = Infinity
  for (const block of blocks)
    for (let i = 0; i < block.count; i += stride) {
      const away = (block.position[3 * i] - to.x) ** 2 + (block.position[3 * i + 2] - to.z) ** 2
      if (away >= least) continue
      least = away
      best = { block, i }
    }
  if (!best) return null
  const { block, i } = best
  return { position: new THREE.Vector3(...block.position.subarray(3 * i, 3 * i + 3)), asset: block.asset[i], size: block.scale[3 * i + 1] }
}

/** Whether the browser says that no graphics card is at work. */
function drawsInSoftware(gl: WebGLRenderingContext | WebGL2RenderingContext): boolean {
  const told = gl.getExtension('WEBGL_debug_renderer_info')
  const name = told ? String(gl.getParameter(told.UNMASKED_RENDERER_WEBGL)) : ''
  return /llvmpipe|swiftshader|software|basic render/i.test(name)
}

/** The blocks of a planting's tiles on the terrain. */
function onTerrain(tiles: ReadonlyMap<string, Tile> | undefined): Block[] {
  return [...(tiles ?? [])].filter(([key]) => groundOfTile(key) === TERRAIN_ID).map(([, { block }]) => block)
}
