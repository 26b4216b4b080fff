import { Canvas, useFrame, useThree } from '@react-three/fiber'
import { useEffect, useRef } from 'react'
import * as THREE from 'three'
import { useStore } from 'zustand'
import type { FieldSession } from '../state/field-session.ts'
import type { OutlineTool, OutlineToolState } from '../state/outline-tool.ts'
import { notify } from '../state/notices.ts'
import type { Landscape } from './landscape.ts'
import { CONDITIONS } from '../core/conditions/index.ts'
import { refsOf } from '../core/kinds.ts'
import type { Outline, Planting } from '../core/meadow.ts'
import { createLandscape } from './landscape.ts'

interface PictureProps {
  readonly session: FieldSession
  readonly tool: OutlineTool
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
        console.error(asset.name, error)
        notify('warning', `The asset “${asset.name}” cannot be shown; bring its model in again.`)
      },
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

  const { outlines } = meadow
  const all = useStore(tool, (state) => state.all)
  const used = useStore(session.store, (state) => usedBy(state.history.meadow.plantings.find(({ id }) => id === planting)))
  const selected = useStore(tool, (state) => state.selected)
  const drawing = useStore(tool, (state) => state.drawing)
  useEffect(() => {
    const wanted = all || drawing ? outlines : outlines.filter(({ id }) => used.includes(id))
    landscape.current?.setOutlines(drawing ? [...wanted, draft(drawing)] : wanted, drawing ? DRAFT : selected)
  }, [outlines, terrain, all, used, selected, drawing])

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

/** Ids of all that the conditions of a planting name, as one text. */
function usedBy(planting: Planting | undefined): string {
  return (planting?.habitat ?? [])
    .filter((use) => use.on)
    .flatMap((use) => refsOf(CONDITIONS.get(use.kind).params, use.params).map(({ id }) => id))
    .join(' ')
}

const DRAFT = 'drawing'

/** The line being drawn, as an outline to be shown. */
function draft({ kind, points }: NonNullable<OutlineToolState['drawing']>): Outline {
  const rest = { name: '', colour: '#f6d27a', visible: true, locked: false, smooth: false, width: 0 }
  return { id: DRAFT, kind: 'path', closed: kind === 'patch' && points.length >= 6, lines: [[...points]], ...rest }
}

/** The window on the landscape; drawn only when something has changed. */
export function Picture(props: PictureProps) {
  return (
    <Canvas
      frameloop="demand"
      shadows={{ type: THREE.PCFShadowMap }}
      dpr={[1, 1.5]}
      camera={{ fov: 42, near: 0.1, far: 4000 }}
      gl={{ antialias: true, toneMapping: THREE.ACESFilmicToneMapping, toneMappingExposure: 0.9 }}
      style={{ position: 'absolute', inset: 0 }}
    >
      <World {...props} />
    </Canvas>
  )
}
