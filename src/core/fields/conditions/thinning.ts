import type { Range } from '../../grounds/blocks.ts'
import type { ChoiceParam, Phrase, Span } from '../../kinds.ts'
import { choice } from '../../kinds.ts'
import { saturate } from '../../math/portable.ts'
import type { Bound } from '../bounds.ts'
import { boundWithin, NOTHING, shifted } from '../bounds.ts'
import { FALLOFFS } from '../falloff.ts'
import { weighWithin } from './define.ts'

/** How a condition by a distance thins out: at a soft edge, or all the way from what it names to the farthest distance. */
export type Thins = 'edge' | 'straight' | 'steep'

/** The parameter of conditions that can thin out all the way. */
export function thinsParam(): ChoiceParam<Thins> {
  return choice<Thins>(
    'edge',
    [
      { value: 'edge', label: 'at a soft edge' },
      { value: 'straight', label: 'all the way' },
      { value: 'steep', label: 'all the way, steep' },
    ],
    { label: 'Thins out', help: 'At a soft edge only; or all the way to the farthest distance, straight or steep at first. Without a farthest distance there is only the edge.' },
  )
}

/** When the width of the soft edge is asked for. */
export const SOFT_EDGE = { param: 'thins', is: ['edge'] } as const

/** "thinning out all the way", as far as it does. */
export function thinsPhrase(thins: Thins, { to }: Span): Phrase {
  return thins === 'edge' || to === null ? [] : [', thinning out ', { param: 'thins' }]
}

interface Limits {
  readonly from: number
  readonly to: number
  /** Width of the soft edge, m. */
  readonly soft: number
}

export interface Thinning {
  /** Multiplies the weights of the first `count` sites by what their distances give. */
  weigh(weight: Float64Array, distances: Float64Array, count: number): void
  bound(distances: Range): Bound
}

/**
 * Weights of distances, m: 0 beyond the limits. All the way they are 1 at the nearest limit, or from 0 inwards where
 * that is open, and 0 at the farthest; `off` is taken from all distances first.
 */
export function thinning(thins: Thins, { from, to, soft }: Limits, off: number): Thinning {
  const base = Math.max(from, Math.min(0, to))
  if (thins === 'edge' || to === Infinity)
    return {
      weigh: (weight, distances, count) => weighWithin(weight, distances, count, off, from, to, soft),
      bound: (distances) => boundWithin(shifted(distances, -off), from, to, soft),
    }
  const nearness = FALLOFFS[thins]
  const weightAt = (distance: number) => (distance < from || distance > to ? 0 : to > base ? nearness(saturate((distance - base) / (to - base))) : 1)
  return {
    weigh(weight, distances, count) {
      for (let i = 0; i < count; i++) weight[i] *= weightAt(distances[i] - off)
    },
    bound(distances) {
      const { low, high } = shifted(distances, -off)
      if (high < from || low > to) return NOTHING
      return { low: low >= from && high <= to ? weightAt(high) : 0, high: weightAt(Math.max(low, from)) }
    },
  }
}
