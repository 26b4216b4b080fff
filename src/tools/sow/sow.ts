import type { Phrase } from '../../core/kinds.ts'
import { defineTool } from '../define.ts'
import { brushing } from './brushing.ts'
import type { SowValues } from './settings.ts'
import { SOW_PARAMS } from './settings.ts'

export const sow = defineTool({
  kind: 'sow',
  label: 'Sow',
  keys: 'S',
  help: 'Paint a planting over its ground by hand: more of it, none of it, or fewer.',
  place: 3,
  drawing: 'M2 13.5 C5 10 8 14 14 11 M5 9 L5 6 M5 7.5 C3.5 7.5 3 6.5 3 5.5 M5 7 C6.5 7 7 6 7 5 M11 8 V4 M11 6 C9.5 6 9 5 9 4 M11 5.5 C12.5 5.5 13 4.5 13 3.5',
  cursor: 'crosshair',
  grips: false,
  cross: true,
  params: SOW_PARAMS,
  sentence: (values, planting) => [...whatPhrase(values, planting), ...howPhrase(values)],
  begin: (desk, values) => brushing(desk, values),
})

function whatPhrase({ act, of }: SowValues, planting: string | null): Phrase {
  if (act === 'sow') return [{ param: 'act' }, ` ${planting ?? 'the open planting'}, `]
  const name = of === 'open' ? ` (${planting ?? 'none is open'}), ` : ', '
  return [{ param: 'act' }, ' ', { param: 'of' }, ...(of === 'asset' ? [' ', { param: 'asset' }] : []), name]
}

function howPhrase({ act }: SowValues): Phrase {
  const edges: Phrase = [{ param: 'width' }, ' wide, soft edge ', { param: 'soft' }]
  return act === 'thin' ? ['leaving one in ', { param: 'left' }, ', ', ...edges] : [...edges, ', strength ', { param: 'strength' }]
}
