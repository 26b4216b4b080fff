import { choice, length, number, ref, share } from '../../core/kinds.ts'
import type { ValuesOf } from '../../core/kinds.ts'

/** How the brush is set. */
export const SOW_PARAMS = {
  act: choice('sow', [{ value: 'sow', label: 'more of' }, { value: 'clear', label: 'none of' }, { value: 'thin', label: 'fewer of' }], { label: 'What the brush does', help: 'Raises how much grows, takes it away, or leaves a share of it.' }),
  of: choice('open', [{ value: 'open', label: 'the open planting' }, { value: 'all', label: 'all plantings' }, { value: 'asset', label: 'one asset' }], {
    label: 'Of what',
    help: 'What is cleared or thinned: the open planting, all that stands under the brush, or one asset of whichever planting.',
    shownWhen: { param: 'act', is: ['clear', 'thin'] },
  }),
  asset: ref('asset', { label: 'Asset', help: 'Only this one is cleared or thinned.', shownWhen: { param: 'of', is: ['asset'] } }),
  width: length(6, { label: 'Width', help: 'How wide the brush is on the ground.', min: 0.05, max: 500, step: 0.25 }),
  soft: share(0.4, { label: 'Soft edge', help: 'Over which share of its radius it fades out.', step: 0.05 }),
  strength: share(1, { label: 'Strength', help: 'How much it does in its middle.', min: 0.01, step: 0.05 }),
  left: number('count', 2, { label: 'Leave one in', help: 'Of so many, thinning leaves one.', min: 2, max: 100, step: 1, shownWhen: { param: 'act', is: ['thin'] } }),
}

export type SowValues = ValuesOf<typeof SOW_PARAMS>

/** Ends of what wheel and keys change. */
export const BRUSH_ENDS = { width: SOW_PARAMS.width, soft: SOW_PARAMS.soft, strength: SOW_PARAMS.strength }

/** The numbers of the brush, as they stand beside it. */
export function numbersOf({ act, width, soft, strength, left }: SowValues): string {
  const last = act === 'thin' ? `1 in ${left}` : `${Math.round(100 * strength)} %`
  return `${Number(width.toPrecision(3))} m · soft ${Math.round(100 * soft)} % · ${last}`
}
