import type { RefObject } from 'react'
import { useEffect } from 'react'
import { useStore } from 'zustand'
import { simplify } from '../../core/outlines/simplify.ts'
import { notify } from '../../state/notices.ts'
import { useField } from './field-context.ts'
import { addOutlines, OUTLINE_WORDS } from '../../document/edits/outlines.ts'

/** A press that moves farther than this draws freehand, px. */
const FREEHAND = 6
/** A click this near to the first or last point means that point, px. */
const NEAR = 9
/** Freehand lines are thinned out to within so many px. */
const TOLERANCE = 2.5

/** While a line is drawn, presses on the picture put points; turning and moving stay on the other buttons. */
export function useDrawing(surface: RefObject<SVGSVGElement | null>): void {
  const { landscape, session, tool } = useField()
  const drawing = useStore(tool, (state) => state.drawing !== null)

  useEffect(() => {
    const frame = surface.current?.parentElement
    if (!drawing || !frame || !landscape) return
    let press: { x: number; y: number; stroke: number[]; freehand: boolean } | null = null

    const place = (event: PointerEvent): [number, number] => {
      const box = frame.getBoundingClientRect()
      return [event.clientX - box.left, event.clientY - box.top]
    }
    const ground = (x: number, y: number): [number, number] | null => {
      const on = landscape.pick(x, y)
      return on && [Math.round(on.x * 100) / 100, Math.round(on.z * 100) / 100]
    }
    const points = () => tool.getState().drawing?.points ?? []
    const put = (next: readonly number[]) => {
      const now = tool.getState().drawing
      if (now) tool.setState({ drawing: { ...now, points: next } })
    }
    const leave = () => tool.setState({ drawing: null })
    function finish(smooth: boolean) {
      const now = tool.getState().drawing
      if (!now) return
      const least = now.kind === 'patch' ? 3 : 2
      if (now.points.length / 2 < least) {
        notify('word', `A ${OUTLINE_WORDS[now.kind]} needs at least ${least} points; click on the ground to put more.`)
        return
      }
      leave()
      const id = addOutlines(session, `Draw a ${OUTLINE_WORDS[now.kind]}`, [{ kind: now.kind, lines: [[...now.points]], smooth }])
      tool.setState({ selected: id, point: null })
    }
    const isNear = (x: number, y: number, px: number, pz: number) => {
      const at = landscape.project(px, pz)
      return at !== null && Math.hypot(at[0] - x, at[1] - y) < NEAR
    }

    const onDown = (event: PointerEvent) => {
      if (event.button !== 0) return
      event.stopPropagation()
      const [x, y] = place(event)
      press = { x, y, stroke: [], freehand: false }
    }
    const onMove = (event: PointerEvent) => {
      if (!press) return
      event.stopPropagation()
      const [x, y] = place(event)
      if (!press.freehand && Math.hypot(x - press.x, y - press.y) < FREEHAND) return
      if (!press.freehand) {
        press.freehand = true
        const first = ground(press.x, press.y)
        if (first) press.stroke.push(...first)
      }
      const on = ground(x, y)
      if (on) press.stroke.push(...on)
      put([...points().slice(0, points().length - strokeShown), ...press.stroke])
      strokeShown = press.stroke.length
    }
    let strokeShown = 0
    const onUp = (event: PointerEvent) => {
      if (!press || event.button !== 0) return
      event.stopPropagation()
      const { stroke, freehand } = press
      const [x, y] = place(event)
      press = null
      if (freehand) {
        const before = points().slice(0, points().length - strokeShown)
        strokeShown = 0
        const metre = metresAPixel(stroke)
        put([...before, ...simplify(stroke, TOLERANCE * metre)])
        if (before.length === 0) finish(true)
        return
      }
      const now = points()
      const n = now.length
      if (n >= 6 && isNear(x, y, now[0], now[1])) return finish(false)
      if (n >= 2 && isNear(x, y, now[n - 2], now[n - 1])) return
      const on = ground(x, y)
      if (on) put([...now, ...on])
      else notify('word', 'There is no ground there; click on the ground.')
    }
    /** Size of a pixel on the ground along a stroke. */
    function metresAPixel(stroke: readonly number[]): number {
      if (!landscape || stroke.length < 4) return 0.1
      const a = landscape.project(stroke[0], stroke[1])
      const b = landscape.project(stroke[stroke.length - 2], stroke[stroke.length - 1])
      if (!a || !b) return 0.1
      let way = 0
      for (let i = 2; i < stroke.length; i += 2) way += Math.hypot(stroke[i] - stroke[i - 2], stroke[i + 1] - stroke[i - 1])
      let pixels = 0
      for (let i = 2; i < stroke.length; i += 2) {
        const p = landscape.project(stroke[i - 2], stroke[i - 1])
        const q = landscape.project(stroke[i], stroke[i + 1])
        if (p && q) pixels += Math.hypot(p[0] - q[0], p[1] - q[1])
      }
      return pixels > 0 ? way / pixels : 0.1
    }
    const onDouble = (event: MouseEvent) => {
      event.stopPropagation()
      finish(false)
    }
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement | null
      if (target?.closest('input, select, textarea, [role="menu"]')) return
      if (event.key !== 'Escape' && event.key !== 'Enter' && event.key !== 'Backspace') return
      // A button with the focus keeps its Enter.
      if (event.key === 'Enter' && target?.closest('button')) return
      event.preventDefault()
      event.stopPropagation()
      if (event.key === 'Escape') leave()
      else if (event.key === 'Enter') finish(false)
      else put(points().slice(0, -2))
    }
    frame.addEventListener('pointerdown', onDown, true)
    frame.addEventListener('pointermove', onMove, true)
    frame.addEventListener('pointerup', onUp, true)
    frame.addEventListener('dblclick', onDouble, true)
    addEventListener('keydown', onKey, true)
    return () => {
      frame.removeEventListener('pointerdown', onDown, true)
      frame.removeEventListener('pointermove', onMove, true)
      frame.removeEventListener('pointerup', onUp, true)
      frame.removeEventListener('dblclick', onDouble, true)
      removeEventListener('keydown', onKey, true)
    }
  }, [drawing, landscape, session, surface, tool])
}
