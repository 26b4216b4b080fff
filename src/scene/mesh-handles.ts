import type * as THREE from 'three'
import { TransformControls } from 'three/addons/controls/TransformControls.js'
import { disposeDeep } from './dispose.ts'
import { inFrame } from './view.ts'

/** Handles that move, turn and size what they are attached to. They are given the pointer; they listen to none. Places are in px from the picture's top left. */
export interface Handles {
  readonly controls: TransformControls
  /** Looks at the pointer; whether it is on a handle. */
  hover(x: number, y: number): boolean
  press(x: number, y: number): void
  drag(x: number, y: number): void
  release(x: number, y: number): void
  /** How many times they have been dragged. */
  drags(): number
  dispose(): void
}

interface HandleEvents {
  readonly onChange: () => void
  readonly onDragging: (dragging: boolean) => void
}

/** The pointer as the controls take it: `button` is −1 while it moves. */
interface NdcPointer {
  readonly x: number
  readonly y: number
  readonly button: number
}

/** What the controls do with a pointer that is not theirs to listen to; their types leave it out. */
interface Driven {
  pointerHover(pointer: NdcPointer): void
  pointerDown(pointer: NdcPointer): void
  pointerMove(pointer: NdcPointer): void
  pointerUp(pointer: NdcPointer): void
}

export function createHandles(frame: HTMLElement, camera: THREE.PerspectiveCamera, { onChange, onDragging }: HandleEvents): Handles {
  const controls = new TransformControls(camera)
  controls.setSize(0.8)
  let drags = 0
  controls.addEventListener('dragging-changed', ({ value }) => {
    onDragging(Boolean(value))
    if (value) drags++
  })
  controls.addEventListener('change', onChange)
  const driven = controls as unknown as Driven
  const at = (x: number, y: number, button: number): NdcPointer => {
    const [right, up] = inFrame(frame, x, y)
    return { x: right, y: up, button }
  }
  return {
    controls,
    hover(x, y) {
      if (!controls.object) return false
      driven.pointerHover(at(x, y, -1))
      return controls.axis !== null
    },
    press: (x, y) => driven.pointerDown(at(x, y, 0)),
    drag: (x, y) => driven.pointerMove(at(x, y, -1)),
    release: (x, y) => driven.pointerUp(at(x, y, 0)),
    drags: () => drags,
    // The controls' own way would stop listening to the pointer, which they never began.
    dispose() {
      controls.detach()
      disposeDeep(controls.getHelper())
    },
  }
}
