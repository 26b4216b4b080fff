import { X } from 'lucide-react'
import { useStore } from 'zustand'
import { CONDITIONS } from '../../core/fields/conditions/index.ts'
import { IconAction } from '../parts/actions.tsx'
import { useField, useFieldState } from './field-context.ts'

/** What the colour on the ground means, as long as it shows where conditions hold. */
export function TintLegend() {
  const { tool } = useField()
  const tint = useStore(tool, (state) => state.tint)
  const share = useStore(tool, (state) => state.tintShare)
  const planting = useFieldState((state) => state.history.meadow.plantings.find(({ id }) => id === tint?.planting))
  if (!tint || !planting) return null
  const use = planting.habitat.find(({ id }) => id === tint.use)
  return (
    <section className="tint-legend" data-over="" aria-label="What the colour on the ground means">
      <span>
        <strong>{use ? `${use.invert ? 'Not: ' : ''}${CONDITIONS.get(use.kind).label}` : 'All conditions'}</strong> of {planting.name}
        {share !== null && `: ${share > 0 && share < 0.01 ? 'less than 1' : Math.round(100 * share)} % of the ground`}
      </span>
      <span className="tint-scale">
        refused <span className="tint-bar" aria-hidden="true" /> taken
      </span>
      <IconAction label="Show the ground as it is" onClick={() => tool.setState({ tint: null })}>
        <X />
      </IconAction>
    </section>
  )
}
