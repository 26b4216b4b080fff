import { useEffect } from 'react'
import { useStore } from 'zustand'
import { useField } from './field-context.ts'

/** Shows in the picture what a press would place. */
export function GhostShown() {
  const { tool, landscape } = useField()
  const ghost = useStore(tool, (state) => state.ghost)
  useEffect(() => landscape?.setGhost(ghost), [landscape, ghost])
  return null
}

/** What is drawn around things that are to be chosen. */
export function LassoOverlay() {
  const { tool } = useField()
  const lasso = useStore(tool, (state) => state.lasso)
  if (!lasso || lasso.length < 4) return null
  const [x0, y0, x1, y1] = lasso
  const path = lasso.length === 4 ? `M${x0} ${y0}H${x1}V${y1}H${x0}Z` : `M${Array.from({ length: lasso.length / 2 }, (_, k) => `${lasso[2 * k]} ${lasso[2 * k + 1]}`).join('L')}Z`
  return (
    <svg className="outline-overlay" aria-hidden="true">
      <path className="lasso" d={path} />
    </svg>
  )
}
