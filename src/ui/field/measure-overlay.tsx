import { useEffect, useReducer } from 'react'
import { useStore } from 'zustand'
import { measureWords } from '../../tools/measure.ts'
import { useField } from './field-context.ts'

/** What is measured, over the picture. */
export function MeasureOverlay() {
  const { landscape, tool } = useField()
  const measured = useStore(tool, (state) => state.measured)
  const [, look] = useReducer((n: number) => n + 1, 0)
  const any = measured !== null
  useEffect(() => (any ? landscape?.onDrawn(look) : undefined), [landscape, any])
  if (!measured || !landscape) return null
  const [a, b] = [measured.from, measured.to].map(([x, y, z]) => landscape.project(x, z, y))
  const words = measureWords(measured.from, measured.to)
  return (
    <>
      <svg className="brush-overlay" aria-hidden="true">
        {a && <circle className="measure-end" cx={a[0]} cy={a[1]} r={4} />}
        {b && <circle className="measure-end" cx={b[0]} cy={b[1]} r={4} />}
        {a && b && <path className="brush-rim" d={`M${a[0]} ${a[1]}L${b[0]} ${b[1]}`} />}
        {b && (
          <text x={b[0] + 9} y={b[1] - 7}>
            {words}
          </text>
        )}
      </svg>
      {measured.done && (
        <p className="sr-only" role="status">
          {words}
        </p>
      )}
    </>
  )
}
