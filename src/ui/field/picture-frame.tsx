import type { KeyboardEvent as ReactKeyboardEvent } from 'react'
import { useEffect, useRef } from 'react'
import type { Landscape } from '../../scene/landscape.ts'
import { Picture } from '../../scene/picture.tsx'
import type { Dispatcher } from '../../tools/dispatcher.ts'
import { createDispatcher } from '../../tools/dispatcher.ts'
import { GhostShown, LassoOverlay } from './lasso-overlay.tsx'
import { BrushOverlay } from './brush-overlay.tsx'
import { BeaconOverlay } from './beacon-overlay.tsx'
import { useField, useOpen } from './field-context.ts'
import { FirstLine } from './first-line.tsx'
import { BaseOverlay } from './base-overlay.tsx'
import { HandlesOverlay } from './handles-overlay.tsx'
import { SnapOverlay } from './snap-overlay.tsx'
import { MeasureOverlay } from './measure-overlay.tsx'
import { OpenedPosy } from './opened-posy.tsx'
import { OutlineOverlay } from './outline-overlay.tsx'
import { Probe } from './probe.tsx'
import { StrokeOverlay } from './stroke-overlay.tsx'
import { TintLegend } from './tint-legend.tsx'

interface FrameProps {
  /** Whether a page lies over it: what lies over the picture is not to be had then. */
  readonly covered: boolean
  readonly onReady: (landscape: Landscape | null) => void
  readonly onDispatcher: (dispatcher: Dispatcher | null) => void
}

const STEP = 0.08
const TURN = 6

/** The picture with its own keys, and the dispatcher that gives its pointer to the tool in hand. */
export function PictureFrame({ covered, onReady, onDispatcher }: FrameProps) {
  const { session, landscape, tool } = useField()
  const open = useOpen()
  const frame = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (!frame.current || !landscape) return
    const dispatcher = createDispatcher(frame.current, { session, view: landscape, state: tool })
    onDispatcher(dispatcher)
    return () => {
      onDispatcher(null)
      dispatcher.end()
    }
  }, [session, landscape, tool, onDispatcher])
  function key(event: ReactKeyboardEvent) {
    const arrows: Record<string, readonly [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, 1],
      ArrowDown: [0, -1],
    }
    const arrow = arrows[event.key]
    if (event.altKey || event.ctrlKey || event.metaKey) return
    if (arrow) {
      event.preventDefault()
      const [x, y] = arrow
      landscape?.step(event.shiftKey ? { turn: x * TURN, tip: -y * TURN } : { right: x * STEP, ahead: y * STEP })
    } else if (event.key === '+' || event.key === '=') landscape?.step({ zoom: 0.88 })
    else if (event.key === '-') landscape?.step({ zoom: 1.14 })
  }
  return (
    <div
      ref={frame}
      className="picture"
      tabIndex={0}
      role="application"
      aria-label="The picture. Arrow keys move, Shift with arrows turns, plus and minus zoom."
      onKeyDown={key}
      onContextMenu={(event) => event.preventDefault()}
    >
      <Picture session={session} tool={tool} planting={open} onReady={onReady} />
      {!covered && (
        <>
          <OutlineOverlay />
          <BeaconOverlay />
          <StrokeOverlay />
          <BrushOverlay />
          <LassoOverlay />
          <GhostShown />
          <MeasureOverlay />
          <HandlesOverlay />
          <SnapOverlay />
          <BaseOverlay />
          <Probe />
          <TintLegend />
          <FirstLine />
          <OpenedPosy />
        </>
      )}
    </div>
  )
}
