import { choice, ref } from '../../kinds.ts'
import { siteAt } from '../../stages/site.ts'
import { NO_STROKES } from '../coverage.ts'
import { ANYTHING } from '../bounds.ts'
import { bounded, defineCondition } from './define.ts'

export const painted = defineCondition({
  kind: 'painted',
  label: 'Painted by hand',
  subject: 'drawn',
  help: 'Grows only where strokes of the brush have sown a planting, this one or another.',
  flat: true,
  dear: true,
  params: {
    planting: ref('painted', { label: 'Strokes of', help: 'Whose strokes count; it may be this planting itself.' }),
    from: choice(
      'bare',
      [
        { value: 'bare', label: 'where it was sown' },
        { value: 'full', label: 'where it was not cleared' },
      ],
      { label: 'Grows', help: 'Only where it was sown by hand, or everywhere but where it was cleared or thinned.' },
    ),
  },
  sentence: () => [{ param: 'from' }, ' (', { param: 'planting' }, ')'],
  prepare({ planting, from }) {
    const base = from === 'full' ? 1 : 0
    return bounded(
      (sites, around) => {
        if (around.painted) (around.painted.get(planting) ?? NO_STROKES).weigh(sites, base)
      },
      (block, around) => (around.painted ? (around.painted.get(planting) ?? NO_STROKES).bound(block, base) : ANYTHING),
    )
  },
  explain({ planting, from }, _context, place, around) {
    if (!around.painted) return 'what is painted is not known here'
    const base = from === 'full' ? 1 : 0
    return coverageWords((around.painted.get(planting) ?? NO_STROKES).at(siteAt(place), 0, base, -1), base)
  },
})

/** What a coverage is called. */
export function coverageWords(covered: number, base: number): string {
  const share = `${Math.round(100 * covered)} %`
  if (base === 0) return covered > 0 ? `sown to ${share} by hand` : `not sown by hand: ${share}`
  return covered < 1 ? `strokes that clear or thin leave ${share}` : `not cleared by hand: ${share}`
}
