import type { KeyboardEvent } from 'react'
import { useEffect, useReducer } from 'react'
import { useStore } from 'zustand'
import type { Outline } from '../../core/meadow.ts'
import { aboveOf, isClosed, pointsOf } from '../../core/outlines/outline.ts'
import type { PointOf } from '../../document/edits/outlines.ts'
import { useField, useFieldState } from './field-context.ts'
import { movePoint, removePoint, setAbove } from '../../document/edits/outlines.ts'
import { terrainHeight } from '../../tools/choose/acts.ts'
import { notify } from '../../state/notices.ts'
import { gripName } from '../../tools/grips/define.ts'
import { nudged, raised, tidy } from '../../tools/grips/nudge.ts'
import { middleGrip, pointGrip } from '../../tools/grips/outline-point.ts'

/** Most points that are shown at a time; nearer ones come into view by zooming in. */
const MOST_SHOWN = 300

/** The points of the selected outline, or of the line being drawn, over the picture. */
export function OutlineOverlay() {
  const { landscape, tool } = useField()
  const selectedId = useStore(tool, (state) => state.selected)
  const drawing = useStore(tool, (state) => state.drawing)
  const selected = useFieldState((state) => state.history.meadow.outlines.find(({ id }) => id === selectedId))
  const cross = useStore(tool, (state) => state.cross)
  const [, look] = useReducer((n: number) => n + 1, 0)
  const busy = selected !== undefined || drawing !== null
  // Points are where the last frame shows them.
  useEffect(() => (busy ? landscape?.onDrawn(look) : undefined), [landscape, busy])

  return (
    <svg className={drawing ? 'outline-overlay drawing' : 'outline-overlay'}>
      {landscape && selected?.visible && !selected.locked && !drawing && <Handles outline={selected} />}
      {landscape &&
        drawing &&
        pairs(drawing).map(([x, z], i) => {
          const at = landscape.project(x, z)
          return at && <circle key={i} className={i === 0 ? 'handle first' : 'handle'} cx={at[0]} cy={at[1]} r={i === 0 ? 6 : 4} />
        })}
      {cross && <path className="key-cross" d={`M${cross[0] - 13} ${cross[1]}h26M${cross[0]} ${cross[1] - 13}v26`} />}
    </svg>
  )
}

function pairs(line: readonly number[]): [number, number][] {
  return Array.from({ length: line.length / 2 }, (_, i) => [line[2 * i], line[2 * i + 1]])
}

function Handles({ outline }: { readonly outline: Outline }) {
  const { landscape, session, tool } = useField()
  const chosen = useStore(tool, (state) => state.point)
  const { id } = outline
  if (!landscape) return null

  const key = (event: KeyboardEvent, point: PointOf, x: number, z: number) => {
    const to = nudged(event, x, z)
    const rise = outline.kind === 'path' ? raised(event) : null
    if (rise !== null) {
      event.preventDefault()
      event.stopPropagation()
      setAbove(session, id, point, tidy(aboveOf(outline, point) + rise))
    } else
    if (to) {
      event.preventDefault()
      event.stopPropagation()
      movePoint(session, id, point, to[0], to[1])
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault()
      const why = removePoint(session, id, point)
      if (why) notify('word', why)
      tool.setState({ point: null })
    }
  }

  const lines = pointsOf(outline)
  const heightAt = terrainHeight(session)
  const seen = lines.flatMap((line, l) =>
    pairs(line).flatMap(([x, z], index) => {
      const point = { line: l, index }
      const above = aboveOf(outline, point)
      const at = landscape.project(x, z, above === 0 ? undefined : heightAt(x, z) + above)
      return at ? [{ x, z, at, point, above }] : []
    }),
  )
  const shown = seen.slice(0, MOST_SHOWN)
  return (
    <>
      {shown.map(({ x, z, point }) => {
        const line = lines[point.line]
        const n = line.length / 2
        const next = (point.index + 1) % n
        if (next === 0 && !isClosed(outline)) return null
        const [mx, mz] = [(x + line[2 * next]) / 2, (z + line[2 * next + 1]) / 2]
        const [a, b] = [aboveOf(outline, point), aboveOf(outline, { line: point.line, index: next })]
        const at = landscape.project(mx, mz, a === 0 && b === 0 ? undefined : (heightAt(x, z) + a + heightAt(line[2 * next], line[2 * next + 1]) + b) / 2)
        return (
          at && (
            <circle
              key={`m${point.line}-${point.index}`}
              className="handle middle"
              cx={at[0]}
              cy={at[1]}
              r={4}
              role="button"
              aria-label={`Add a point after point ${point.index + 1}`}
              data-grip={gripName(middleGrip, id, point.line, point.index, tidy(mx), tidy(mz))}
            />
          )
        )
      })}
      {shown.map(({ x, z, at, point, above }) => (
        <circle
          key={`${point.line}-${point.index}`}
          className={chosen?.line === point.line && chosen.index === point.index ? 'handle chosen' : 'handle'}
          cx={at[0]}
          cy={at[1]}
          r={6}
          tabIndex={0}
          role="button"
          aria-label={`Point ${point.index + 1} of ${outline.name}: ${x.toFixed(1)} east, ${z.toFixed(1)} south${above === 0 ? '' : `, ${above.toFixed(2)} m off the ground`}; arrow keys move it, ${outline.kind === 'path' ? 'Page Up and Page Down raise and lower it, ' : ''}Delete takes it out`}
          data-grip={gripName(pointGrip, id, point.line, point.index)}
          onFocus={() => tool.setState({ point })}
          onKeyDown={(event) => key(event, point, x, z)}
        />
      ))}
    </>
  )
}
