import { choice, length, ref } from '../core/kinds.ts'
import type { ValuesOf } from '../core/kinds.ts'
import type { Planting } from '../core/meadow.ts'
import { PLANTINGS } from '../core/plantings/index.ts'
import { firstStrewing, strewLine } from '../document/edits/along.ts'
import { notify } from '../state/notices.ts'
import type { ActiveTool, Desk } from './define.ts'
import { defineTool, openOf, setToolValue } from './define.ts'
import { mostOf } from './of-mix.ts'
import { drawingLine } from './drawing-line.ts'

const PARAMS = {
  to: choice('new', [{ value: 'open', label: 'one more line of the open planting' }, { value: 'new', label: 'a new planting' }], { label: 'Belongs to', help: 'Whether the next line joins the open planting, or begins one of its own.' }),
  asset: ref('asset', { label: 'What', help: 'What lies along the line; more assets can join it afterwards.', shownWhen: { param: 'to', is: ['new'] } }),
  every: length(0.5, { label: 'One every', help: 'Metres of line to each of them, in the mean.', min: 0.01, max: 500, step: 0.05, shownWhen: { param: 'to', is: ['new'] } }),
  toSides: length(1, { label: 'Spread to the sides', help: 'How far from the line they come to lie at most.', max: 500, step: 0.1, shownWhen: { param: 'to', is: ['new'] } }),
}

type StrewValues = ValuesOf<typeof PARAMS>

export const strew = defineTool({
  kind: 'strew',
  label: 'Strew',
  keys: 'R',
  help: 'Draw a line over the ground along which things lie; the line stays and can be changed.',
  place: 4,
  drawing: 'M1.5 11.5 C5 3.5 9 14 14.5 5 M3 6.5 L4.2 5.3 M6.2 12.4 L7.6 13.3 M9 6.6 L9.2 5 M12.4 11 L13.8 11.6',
  cursor: 'crosshair',
  grips: false,
  cross: true,
  params: PARAMS,
  sentence: ({ to }, planting) =>
    to === 'open' && planting !== null
      ? [{ param: 'to' }, ` (${planting})`]
      : [{ param: 'asset' }, ' as ', { param: 'to' }, ', one every ', { param: 'every' }, ', up to ', { param: 'toSides' }, ' to the sides'],
  begin(desk, values) {
    const { session, state } = desk
    const { assets } = session.meadow()
    const open = openOf(desk)
    if (assets.length === 0) return 'The nursery is empty; bring in a model first.'
    setToolValue(state, 'strew', 'to', liesAlongLines(open) ? 'open' : 'new')
    if (!assets.some(({ id }) => id === values().asset)) {
      const most = mostOf(open, assets) ?? assets[0].id
      setToolValue(state, 'strew', 'asset', most)
      const { every, toSides } = firstStrewing(assets.find(({ id }) => id === most)?.room ?? 0.3)
      setToolValue(state, 'strew', 'every', every)
      setToolValue(state, 'strew', 'toSides', toSides)
    }
    return strewing(desk, values)
  },
})

function liesAlongLines(planting: Planting | undefined): boolean {
  return planting !== undefined && PLANTINGS.get(planting.kind).lineReach !== null && !PLANTINGS.get(planting.kind).within
}

function strewing(desk: Desk, values: () => StrewValues): ActiveTool {
  const { session, state } = desk
  return drawingLine(desk, {
    words: 'Drag draws a line and strews along it; or click point by point, Backspace takes one back, Enter ends; arrow keys move a cross; Esc ends',
    closes: () => false,
    smooth: () => true,
    finish(line, smooth) {
      state.setState({ drawing: [] })
      if (line.length < 4) return notify('word', 'A line needs at least 2 points; click on the ground to put more, or drag over it.')
      const open = openOf(desk)
      const { to, asset, every, toSides } = values()
      const own = to === 'open' && liesAlongLines(open) ? open : undefined
      if (own && !own.visible) return notify('word', `“${own.name}” is hidden, so that nothing of it would be seen; show it first.`)
      const id = strewLine(session, { line, smooth, planting: own?.id ?? null, mix: [{ asset, share: 1 }], params: { every, toSides } })
      if (id === null || own) return
      state.setState({ open: id })
      setToolValue(state, 'strew', 'to', 'open')
    },
  })
}
