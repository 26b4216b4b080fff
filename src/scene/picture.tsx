import { Canvas, useFrame, useThree } from '@react-three/fiber'
import { useEffect, useRef } from 'react'
import * as THREE from 'three'
import { useStore } from 'zustand'
import type { FieldSession } from '../state/field-session.ts'
import { notify } from '../state/notices.ts'
import type { Landscape } from './landscape.ts'
import { createLandscape } from './landscape.ts'

interface PictureProps {
  readonly session: FieldSession
  readonly onReady: (landscape: Landscape | null) => void
}

function World({ session, onReady }: PictureProps) {
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
