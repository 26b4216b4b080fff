import { Trash2 } from 'lucide-react'
import { useCallback, useMemo } from 'react'
import { useStore } from 'zustand'
import { POINT } from '../../core/fields/coverage.ts'
import { placedStroke } from '../../core/fields/placed-stroke.ts'
import { STROKE_ACTS } from '../../core/fields/stroke-acts.ts'
import type { Planting, Stroke } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { ACT_WORDS, removeStrokes, setSown, setStroke } from '../../document/edits/strokes.ts'
import { NumberField } from '../params/number-field.tsx'
import { showQuantity } from '../params/quantity.ts'
import { IconAction } from '../parts/actions.tsx'
import { SwitchRow } from '../parts/switch-row.tsx'
import type { Entry } from '../parts/virtual-list.tsx'
import { VirtualList } from '../parts/virtual-list.tsx'
import { useField, useFieldState } from './field-context.ts'
import { tellRemoved } from './tell.ts'

/** What of a planting is painted by hand: whether it grows there only, and its strokes, the newest first. */
export function StrokesSection({ planting }: { readonly planting: Planting }) {
  const { session } = useField()
  const all = useFieldState((state) => state.history.meadow.strokes)
  const own = useMemo(() => all.filter((stroke) => stroke.planting === planting.id).reverse(), [all, planting.id])
  const byId = useMemo(() => new Map(own.map((stroke) => [stroke.id, stroke])), [own])
  const keys = useMemo(() => own.map(({ id }) => id), [own])
  const draw = useCallback((key: string, _place: number, entry: Entry) => {
    const stroke = byId.get(key)
    return stroke ? <StrokeRow stroke={stroke} locked={planting.locked} entry={entry} /> : null
  }, [byId, planting.locked])
  const { base, lineReach, based } = PLANTINGS.get(planting.kind)
  return (
    <section className="strokes" aria-label="Painted by hand">
      {!lineReach && !based && <SwitchRow label="Only where it is sown" help="Grows under the strokes of the brush alone; else everywhere that its conditions let it, less what is cleared." on={base === 0} disabled={planting.locked} onChange={(on) => setSown(session, planting.id, on)} />}
      <div className="row">
        <h4 className="grow">{own.length === 0 ? 'No strokes yet' : `${own.length.toLocaleString('en')} ${own.length === 1 ? 'stroke' : 'strokes'}, newest first`}</h4>
        {own.length > 1 && (
          <button type="button" className="text-action" disabled={planting.locked} onClick={() => tellRemoved(session, `${own.length.toLocaleString('en')} strokes`, removeStrokes(session, keys), 'taken out')}>
            Take all out
          </button>
        )}
      </div>
      {own.length > 0 && (
        <div className="strokes-list">
          <VirtualList keys={keys} estimate={27} label="Strokes">
            {draw}
          </VirtualList>
        </div>
      )}
    </section>
  )
}

interface RowProps {
  readonly stroke: Stroke
  readonly locked: boolean
  readonly entry: Entry
}

function StrokeRow({ stroke, locked, entry: { ref, style, ...numbered } }: RowProps) {
  const { session, tool } = useField()
  const chosen = useStore(tool, (state) => state.stroke === stroke.id)
  const words = useWords(stroke)
  return (
    <li ref={ref} style={style} {...numbered}>
      <div className="row">
        <button type="button" className="stroke-row grow" aria-expanded={chosen} onClick={() => tool.setState({ stroke: chosen ? null : stroke.id, active: 'look' })}>
          <span className="stroke-act">{ACT_WORDS[stroke.act].does}</span>
          <span className="grow">{words}</span>
        </button>
        <IconAction label="Take this stroke out" disabled={locked} onClick={() => tellRemoved(session, ACT_WORDS[stroke.act].does, removeStrokes(session, [stroke.id]), 'taken out')}>
          <Trash2 />
        </IconAction>
      </div>
      {chosen && <StrokeFields stroke={stroke} locked={locked} />}
    </li>
  )
}

/** "14 m long, 6 m wide". */
function useWords(stroke: Stroke): string {
  const meshes = useFieldState((state) => state.history.meadow.meshes)
  const assets = useFieldState((state) => state.history.meadow.assets)
  return useMemo(() => {
    const { points, radius } = placedStroke(stroke, meshes.find(({ id }) => id === stroke.ground) ?? null, assets)
    let long = 0
    for (let k = POINT; k < points.length; k += POINT) long += Math.hypot(points[k] - points[k - POINT], points[k + 1] - points[k - POINT + 1], points[k + 2] - points[k - POINT + 2])
    const tidy = (value: number) => showQuantity(Number(value.toPrecision(2)), 'm')
    const only = stroke.only.length > 0 ? `, only ${assets.find(({ id }) => id === stroke.only[0])?.name ?? 'an asset that is gone'}` : ''
    return `${long > 0 ? `${tidy(long)} long, ` : ''}${tidy(2 * radius)} wide${only}`
  }, [stroke, meshes, assets])
}

function StrokeFields({ stroke, locked }: Pick<RowProps, 'stroke' | 'locked'>) {
  const { session } = useField()
  const plantings = useFieldState((state) => state.history.meadow.plantings)
  const size = useFieldState((state) => state.history.meadow.meshes.find(({ id }) => id === stroke.ground)?.size ?? 1)
  const { id, act, width, soft, strength } = stroke
  return (
    <div className="stroke-fields" role="group" aria-label="This stroke">
      <label className="param">
        <span className="param-label">Does</span>
        <select value={act} disabled={locked} onChange={(event) => setStroke(session, id, 'act', event.target.value as Stroke['act'])}>
          {STROKE_ACTS.map((one) => (
            <option key={one} value={one}>
              {ACT_WORDS[one].does.toLowerCase()}
            </option>
          ))}
        </select>
      </label>
      <div className="param">
        <span className="param-label">Width</span>
        <NumberField label="Width of the stroke" value={width * size} unit="m" min={0.02} max={1000} step={0.1} home={width * size} disabled={locked} onChange={(value, gesture) => value !== null && setStroke(session, id, 'width', value / size, gesture)} />
      </div>
      <div className="param">
        <span className="param-label">Soft edge</span>
        <NumberField label="Soft edge of the stroke" value={soft} unit="share" min={0} max={1} step={0.01} home={0.4} disabled={locked} onChange={(value, gesture) => value !== null && setStroke(session, id, 'soft', value, gesture)} />
      </div>
      <div className="param">
        <span className="param-label">{act === 'thin' ? 'Takes away' : 'Strength'}</span>
        <NumberField label="Strength of the stroke" value={strength} unit="share" min={0} max={1} step={0.01} home={1} disabled={locked} onChange={(value, gesture) => value !== null && setStroke(session, id, 'strength', value, gesture)} />
      </div>
      <label className="param">
        <span className="param-label">Of</span>
        <select value={stroke.planting} disabled={locked} onChange={(event) => setStroke(session, id, 'planting', event.target.value)}>
          {plantings.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
      </label>
    </div>
  )
}
