import { Canvas, useFrame, useThree } from '@react-three/fiber'
import { setMesh } from '../document/edits/meshes.ts'
import { logProblem } from '../document/log.ts'
import { useEffect, useMemo, useRef } from 'react'
import * as THREE from 'three'
import { useStore } from 'zustand'
import type { TintOutput } from '../runner/protocol.ts'
import type { FieldSession } from '../state/field-session.ts'
import type { FieldTool, FieldToolState } from '../state/field-tool.ts'
import { notify } from '../state/notices.ts'
import type { Landscape } from './landscape.ts'
import { namedBy } from '../core/grow.ts'
import type { Beacon, Outline, Planting } from '../core/meadow.ts'
import { createLandscape } from './landscape.ts'

interface PictureProps {
  readonly session: FieldSession
  readonly tool: FieldTool
  /** The open planting, whose outlines are shown. */
  readonly planting: string | null
  readonly onReady: (landscape: Landscape | null) => void
}

function World({ session, tool, planting, onReady }: PictureProps) {
  const { gl, scene, camera, invalidate } = useThree()
  const landscape = useRef<Landscape | null>(null)
  const meadow = useStore(session.store, (state) => state.history.meadow)
  const terrain = useStore(session.store, (state) => state.terrain)

  useEffect(() => {
    const made = createLandscape({
      renderer: gl,
      scene,
      camera: camera as THREE.PerspectiveCamera,
      invalidate,
      instances: session.instances,
      readBlob: session.blob,
      onAssetProblem: (asset, error) => {
        logProblem(`Showing “${asset.name}”`, error)
        notify('warning', `The asset “${asset.name}” cannot be shown; bring its model in again.`)
      },
      onMeshProblem: (mesh, error) => {
        logProblem(`Showing “${mesh.name}”`, error)
        notify('warning', `The mesh “${mesh.name}” cannot be shown; bring its file in again.`)
      },
      onMeshMoved: ({ id, position, turn, size }, drag) =>
        setMesh(session, id, 'Move a mesh', { position, turn, size }, `mesh-${drag}`),
      growing: () => session.store.getState().growing,
      onFocus: session.setFocus,
      reducedMotion: matchMedia('(prefers-reduced-motion: reduce)').matches,
    })
    landscape.current = made
    const state = session.store.getState()
    made.setMeadow(state.history.meadow, state.terrain)
    const first = state.history.meadow.views[0]
    if (first) {
      camera.position.set(...first.position)
      made.flyTo(first)
    } else made.frameAll()
    onReady(made)
    return () => {
      landscape.current = null
      onReady(null)
      made.dispose()
    }
  }, [gl, scene, camera, invalidate, session, onReady])

  useEffect(() => landscape.current?.setMeadow(meadow, terrain), [meadow, terrain])
  useEffect(() => landscape.current?.setOpen(planting), [planting])

  const { outlines } = meadow
  const all = useStore(tool, (state) => state.all)
  const used = useStore(session.store, (state) => usedBy(state.history.meadow.plantings.find(({ id }) => id === planting)))
  const selected = useStore(tool, (state) => state.selected)
  const drawing = useStore(tool, (state) => state.drawing)
  const closes = useStore(tool, (state) => state.closes)
  const { beacons } = meadow
  const allBeacons = useStore(tool, (state) => state.beacons)
  const rings = useMemo(
    () => beacons.filter(({ id, visible }) => visible && (allBeacons || used.includes(id))).map(ringOf),
    [beacons, allBeacons, used],
  )
  useEffect(() => {
    const wanted = all || drawing ? outlines : outlines.filter(({ id }) => used.includes(id))
    landscape.current?.setOutlines(drawing ? [...wanted, ...rings, draft(drawing, closes)] : [...wanted, ...rings], drawing ? DRAFT : selected)
  }, [outlines, terrain, all, used, selected, drawing, closes, rings])

  const mesh = useStore(tool, (state) => state.mesh)
  const grip = useStore(tool, (state) => state.grip)
  const held = meadow.meshes.find(({ id }) => id === mesh)
  const holdable = held && !held.locked && held.visible
  useEffect(() => landscape.current?.holdMesh(holdable ? mesh : null, grip), [mesh, grip, holdable])

  const tint = useStore(tool, (state) => state.tint)
  const grown = useStore(session.store, (state) => (tint ? state.growing : false))
  const tinted = meadow.plantings.find(({ id }) => id === tint?.planting)
  useEffect(() => {
    if (!tint || !tinted) {
      landscape.current?.setTint(null)
      tool.setState({ tintShare: null })
      return
    }
    let current = true
    session.tint(tint.planting, tint.use).then(
      (output) => {
        if (!current) return
        landscape.current?.setTint(output)
        tool.setState({ tintShare: output && meanOf(output) })
      },
      () => current && landscape.current?.setTint(null),
    )
    return () => {
      current = false
    }
    // What surrounds the planting changes the tint too; earlier plantings once they have grown.
  }, [session, tool, tint, tinted, terrain, outlines, beacons, meadow.meshes, meadow.images, meadow.water.level, grown])

  useEffect(() => {
    const canvas = gl.domElement
    const lost = (event: Event) => {
      event.preventDefault()
      notify('warning', 'The graphics were taken away by the system; nothing is lost, and the picture comes back by itself.')
    }
    const restored = () => invalidate()
    canvas.addEventListener('webglcontextlost', lost)
    canvas.addEventListener('webglcontextrestored', restored)
    return () => {
      canvas.removeEventListener('webglcontextlost', lost)
      canvas.removeEventListener('webglcontextrestored', restored)
    }
  }, [gl, invalidate])

  // A priority above 0 hands drawing over to the landscape.
  useFrame(() => landscape.current?.frame(), 1)
  return null
}

/** The share of its grounds that a tint takes. */
function meanOf({ grounds }: TintOutput): number | null {
  let sum = 0
  let count = 0
  for (const { weights } of grounds) {
    for (let i = 0; i < weights.length; i++) sum += weights[i]
    count += weights.length
  }
  return count > 0 ? sum / count / 255 : null
}

/** Ids of all that a planting names, as one text. */
function usedBy(planting: Planting | undefined): string {
  return planting ? namedBy(planting).map(({ id }) => id).join(' ') : ''
}

const RING_POINTS = 48

/** The reach of a beacon, as an outline to be shown. */
function ringOf({ id, x, z, reach, colour }: Beacon): Outline {
  const line = Array.from({ length: RING_POINTS }, (_, i) => (2 * Math.PI * i) / RING_POINTS).flatMap((angle) => [x + reach * Math.cos(angle), z + reach * Math.sin(angle)])
  return { id: `ring-${id}`, kind: 'path', name: '', colour, visible: true, locked: true, smooth: false, closed: true, width: 0, lines: [line] }
}

const DRAFT = 'drawing'

/** The line being drawn, as an outline to be shown. */
function draft(points: NonNullable<FieldToolState['drawing']>, closes: boolean): Outline {
  const rest = { name: '', colour: '#f6d27a', visible: true, locked: false, smooth: false, width: 0 }
  return { id: DRAFT, kind: 'path', closed: closes && points.length >= 6, lines: [[...points]], ...rest }
}

let drawable: boolean | null = null

/** Whether the browser gives a WebGL 2 context; asked once, and given back at once. */
function canDraw(): boolean {
  if (drawable === null) {
    const gl = document.createElement('canvas').getContext('webgl2')
    drawable = gl !== null
    gl?.getExtension('WEBGL_lose_context')?.loseContext()
  }
  return drawable
}

/** The window on the landscape; drawn only when something has changed. */
export function Picture(props: PictureProps) {
  if (!canDraw())
    return (
      <div className="no-landscape" role="alert">
        <p>
          This browser gives no 3D graphics (WebGL 2), so there is no picture. Everything else works: plantings grow and can be handed off. Switch
          hardware acceleration on in the browser’s settings, or use another one.
        </p>
      </div>
    )
  return (
    <Canvas
      frameloop="demand"
      shadows={{ type: THREE.PCFShadowMap }}
      dpr={[0.5, 1.5]}
      camera={{ fov: 42, near: 0.1, far: 4000 }}
      gl={{ antialias: true, toneMapping: THREE.ACESFilmicToneMapping, toneMappingExposure: 0.9 }}
      style={{ position: 'absolute', inset: 0 }}
    >
      <World {...props} />
    </Canvas>
  )
}
