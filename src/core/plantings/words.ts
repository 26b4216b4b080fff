import type { Phrase, Span } from '../kinds.ts'
import { phrase } from '../kinds.ts'
import type { StanceValues } from '../stance/stance.ts'
import { closed } from '../stance/stance.ts'

/** Phrases one after the other with commas between. */
export function listed(phrases: readonly Phrase[]): Phrase {
  return phrases.flatMap((one, k) => (k === 0 ? one : [', ', ...one]))
}

/** What is said of a lift: sunk below 0, lifted above it; nothing where there is none. */
export function liftWords(lift: Span): readonly Phrase[] {
  const [low, high] = closed(lift)
  if (low === 0 && high === 0) return []
  if (high <= 0) return [phrase`sunk ${{ param: 'lift', turned: true }}`]
  return [low >= 0 ? phrase`lifted ${{ param: 'lift' }}` : phrase`lifted or sunk by ${{ param: 'lift' }}`]
}

/** What is said of factors on one axis alone; nothing where there are none. */
function axisWords({ wide, tall, deep }: Pick<StanceValues, 'wide' | 'tall' | 'deep'>): readonly Phrase[] {
  const sized = (span: Span) => closed(span).some((end) => end !== 1)
  return [...(sized(wide) ? [phrase`width ${{ param: 'wide' }}`] : []), ...(sized(tall) ? [phrase`height ${{ param: 'tall' }}`] : []), ...(sized(deep) ? [phrase`depth ${{ param: 'deep' }}`] : [])]
}

/** What is said of shifts along own axes; nothing where there are none. */
function shiftWords({ eastBy, southBy }: Pick<StanceValues, 'eastBy' | 'southBy'>): readonly Phrase[] {
  const shifted = (span: Span) => closed(span).some((end) => end !== 0)
  return [...(shifted(eastBy) ? [phrase`shifted ${{ param: 'eastBy' }} across`] : []), ...(shifted(southBy) ? [phrase`shifted ${{ param: 'southBy' }} ahead`] : [])]
}

/** What is said of how things lean. */
export function leanWords({ lean, leanTo }: Pick<StanceValues, 'lean' | 'leanTo'>): readonly Phrase[] {
  if (!(closed(lean)[1] > 0)) return []
  return [leanTo === 'wind' ? phrase`leaning ${{ param: 'lean' }} with the wind to ${{ param: 'wind' }}` : phrase`leaning ${{ param: 'lean' }}`]
}

/** How what is thrown by rule stands, as far as it differs from standing plain. */
export function thrownWords(p: StanceValues): Phrase {
  return listed([...leanWords(p), phrase`sized ${{ param: 'size' }}`, ...axisWords(p), ...shiftWords(p), ...liftWords(p.lift)])
}

/** How members of a pattern stand, as far as they differ from being all alike. */
export function membersWords(p: Omit<StanceValues, 'follow' | 'seat'> & { readonly leftOut: number }): Phrase {
  const [turnLow, turnHigh] = closed(p.turn)
  const [sizeLow, sizeHigh] = closed(p.size)
  return listed([
    ...(turnLow !== 0 || turnHigh !== 0 ? [phrase`each turned ${{ param: 'turn' }}`] : []),
    ...leanWords(p),
    sizeLow === 1 && sizeHigh === 1 ? ['all of their own size'] : phrase`sized ${{ param: 'size' }}`,
    ...axisWords(p),
    ...shiftWords(p),
    ...liftWords(p.lift),
    ...(p.leftOut > 0 ? [phrase`${{ param: 'leftOut' }} left out`] : []),
  ])
}
