import { useCallback, useMemo, useState } from 'react'
import type { TerrainGround } from '../../core/meadow.ts'
import { setGround } from '../../document/edits/ground.ts'
import { LIMITS, shortened } from '../../core/limits.ts'
import { ProblemError } from '../../document/problem.ts'
import { FILE_PATIENCE, READ_HEIGHTS, SETTLE_HEIGHTS } from '../../runner/io-refs.ts'
import { readFileAlone } from '../../runner/read-file.ts'
import { hasEnding, IMAGE_ENDINGS } from '../../formats/endings.ts'
import type { HeightGrid } from '../../formats/height-grid.ts'
import type { Distance, Gaps } from '../../formats/height-settle.ts'
import { doubt, guessDistance, latitudeOf, referenceOf, sizeOf } from '../../formats/height-settle.ts'
import { enginePool } from '../../state/engine-pool.ts'
import { attempt } from '../../state/notices.ts'
import { NumberField } from '../params/number-field.tsx'
import { showQuantity } from '../params/quantity.ts'
import { Action } from '../parts/actions.tsx'
import type { Read } from '../parts/reading.tsx'
import { ReadingHead, useReading } from '../parts/reading.tsx'
import { Sheet } from '../parts/sheet.tsx'
import { useField } from './field-context.ts'
import { HeightPreview } from './height-preview.tsx'
import { bringInImage } from './image-import.ts'

const UNITS = [
  { name: 'metres', factor: 1 },
  { name: 'centimetres', factor: 0.01 },
  { name: 'feet', factor: 0.3048 },
] as const

const GAP_WORDS: Readonly<Record<Gaps, string>> = {
  holes: 'stay holes',
  nearest: 'take the nearest',
  smooth: 'are stretched over',
  level: 'lie at a level',
}

const FALLBACK_LATITUDE = 45

interface Form {
  readonly distance: Distance
  readonly latitude: number
  readonly sizeX: number
  readonly sizeZ: number
  readonly lowest: number
  readonly highest: number
  readonly unit: number
  readonly gaps: Gaps
  readonly level: number
  readonly source: string
}

function firstForm(grid: HeightGrid): Form {
  const distance = guessDistance(grid)
  const latitude = latitudeOf(grid) ?? FALLBACK_LATITUDE
  const size = sizeOf(grid, distance, latitude)
  const range = grid.metres ? { lowest: grid.lowest, highest: grid.highest } : { lowest: 0, highest: Math.round(size.sizeX / 10) }
  return { distance, latitude, ...size, ...range, unit: 0, gaps: 'holes', level: Math.floor(grid.lowest), source: '' }
}

/** What lies between the lowest and the highest point, m. */
function reliefOf(grid: HeightGrid, form: Form): number {
  return grid.metres ? (grid.highest - grid.lowest) * UNITS[form.unit].factor : form.highest - form.lowest
}

interface GroundImportProps {
  readonly file: File
  readonly onClose: () => void
}

/** Asks for the size, the height range and the unit of a height file, filled in from the file. */
export function GroundImport({ file, onClose }: GroundImportProps) {
  const { session } = useField()
  const [chosen, setForm] = useState<Form | null>(null)
  const [busy, setBusy] = useState(false)
  const reading = useReading(
    file.name,
    useCallback<Read<HeightGrid>>((options) => readFileAlone(enginePool(), READ_HEIGHTS, file, {}, options), [file]),
  )
  // The heights are lent to a worker that settles them, and come back with its answer.
  const [back, setBack] = useState<Float32Array<ArrayBuffer> | null>(null)
  const grid = useMemo(() => reading.output && (back ? { ...reading.output, values: back } : reading.output), [reading.output, back])
  const form = chosen ?? (grid && firstForm(grid))

  async function accept(read: HeightGrid, { sizeX, sizeZ, distance, source, gaps, level, lowest, highest, unit }: Form) {
    setBusy(true)
    await attempt('Taking the ground over', async () => {
      const settings = { gaps, level, factor: UNITS[unit].factor, lowest, highest }
      const { values, columns, rows, metres, missing } = read
      const { values: lent, result: settled } = await enginePool().alone(
        SETTLE_HEIGHTS,
        { grid: { values, columns, rows, metres, missing }, settings },
        { doing: 'Taking the ground over', milliseconds: FILE_PATIENCE },
        [values.buffer],
      ).catch((error: unknown) => {
        // The heights are gone with the worker.
        onClose()
        throw error
      })
      setBack(lent)
      if ('refused' in settled) throw new ProblemError(settled.refused)
      await session.putBlob(settled.blob, settled.bytes)
      const ground: TerrainGround = {
        kind: 'terrain',
        name: shortened(file.name.replace(/\.[^.]+$/, ''), LIMITS.name) || 'Ground',
        blob: settled.blob,
        columns,
        rows,
        sizeX,
        sizeZ,
        lowest: settled.lowest,
        highest: settled.highest,
        source: source.trim(),
        georeference: referenceOf(read, distance, { sizeX, sizeZ }),
      }
      if (setGround(session, ground)) onClose()
    })
    setBusy(false)
  }

  const unsound = grid !== null && form !== null && !grid.metres && form.highest < form.lowest
  return (
    <Sheet
      title="Bring in a ground"
      wide
      onClose={onClose}
      foot={
        <>
          <Action onClick={onClose}>Leave it</Action>
          {hasEnding(file.name, IMAGE_ENDINGS) && (
            <Action
              disabled={busy}
              onClick={() => {
                void bringInImage(session, file)
                onClose()
              }}
            >
              Lay it over the ground as an image
            </Action>
          )}
          <Action main disabled={!grid || !form || busy || unsound} onClick={() => grid && form && void accept(grid, form)}>
            Use this ground
          </Action>
        </>
      }
    >
      <ReadingHead fileName={file.name} reading={reading} kept="The ground you had is kept." />
      {grid && form && (
        <div className="import">
          <HeightPreview grid={grid} sizeX={form.sizeX} sizeZ={form.sizeZ} gapsStay={form.gaps === 'holes'} />
          <div>
            <p>
              <em>{file.name}</em>: {grid.form}, {grid.columns} × {grid.rows} samples{spacingWords(grid, form)}.
            </p>
            <GroundFields grid={grid} form={form} onChange={setForm} />
            {unsound && <p className="warning-line">The highest point must not lie below the lowest.</p>}
          </div>
        </div>
      )}
    </Sheet>
  )
}

function spacingWords(grid: HeightGrid, { sizeX, sizeZ }: Form): string {
  if (!grid.spacing) return ''
  const [x, z] = [sizeX / (grid.columns - 1), sizeZ / (grid.rows - 1)].map((step) => showQuantity(Number(step.toPrecision(3)), 'm'))
  return x === z ? `, ${x} apart` : `, ${x} × ${z} apart`
}

interface FieldsProps {
  readonly grid: HeightGrid
  readonly form: Form
  readonly onChange: (form: Form) => void
}

function GroundFields({ grid, form, onChange }: FieldsProps) {
  const length = (label: string, key: 'sizeX' | 'sizeZ' | 'lowest' | 'highest' | 'level', min: number) => (
    <div className="param">
      <span className="param-label">{label}</span>
      <NumberField
        label={label}
        value={form[key]}
        unit="m"
        min={min}
        max={key.startsWith('size') ? LIMITS.place : LIMITS.height}
        step={1}
        onChange={(value) => value !== null && onChange({ ...form, [key]: value })}
      />
    </div>
  )
  const question = doubt(form.sizeX, form.sizeZ, reliefOf(grid, form))
  return (
    <>
      {grid.spacing && <DistanceFields grid={grid} form={form} onChange={onChange} />}
      {length('Width, west to east', 'sizeX', 0.1)}
      {length('Depth, north to south', 'sizeZ', 0.1)}
      {grid.metres ? (
        <>
          <Choice id="height-unit" label="Heights are in" value={form.unit} options={UNITS.map(({ name }, i) => [i, name])} onChange={(unit) => onChange({ ...form, unit })} />
          <p className="faded">
            From {heightWords(grid.lowest * UNITS[form.unit].factor)} to {heightWords(grid.highest * UNITS[form.unit].factor)}.
          </p>
        </>
      ) : (
        <>
          {length('Lowest point', 'lowest', -LIMITS.height)}
          {length('Highest point', 'highest', -LIMITS.height)}
        </>
      )}
      {question && (
        <p className="warning-line" role="alert">
          {question}
        </p>
      )}
      {grid.missing > 0 && (
        <>
          <p className="warning-line" role="status">
            {grid.missing.toLocaleString('en')} samples ({shareWords(grid.missing / grid.values.length)}) have no data.
          </p>
          <Choice id="gaps" label="Those without data" value={form.gaps} options={Object.entries(GAP_WORDS) as [Gaps, string][]} onChange={(gaps) => onChange({ ...form, gaps })} />
          {form.gaps === 'level' && length('Level', 'level', -LIMITS.height)}
        </>
      )}
      <div className="param">
        <label className="param-label" htmlFor="ground-source" title="Named wherever the ground is shown or handed off">
          Source, if it must be named
        </label>
        <input id="ground-source" value={form.source} maxLength={300} onChange={(event) => onChange({ ...form, source: event.target.value })} />
      </div>
    </>
  )
}

/** The unit of the file's own distances; degrees are turned into metres at a latitude. */
function DistanceFields({ grid, form, onChange }: FieldsProps) {
  const settle = (distance: Distance, latitude: number) => onChange({ ...form, distance, latitude, ...sizeOf(grid, distance, latitude) })
  const known = latitudeOf(grid)
  const { degrees = false, system = '' } = grid.spacing?.georeference ?? {}
  const at = `${Math.abs(form.latitude).toFixed(2)}° ${form.latitude < 0 ? 'south' : 'north'}`
  return (
    <>
      <Choice
        id="distances"
        label="Distances are in"
        value={form.distance}
        options={[
          ['metres', 'metres'],
          ['feet', 'feet'],
          ['degrees', 'degrees'],
        ]}
        onChange={(distance) => settle(distance, form.latitude)}
      />
      {form.distance === 'degrees' && (known === null || !degrees) && (
        <div className="param">
          <span className="param-label">Latitude of its middle</span>
          <NumberField label="Latitude of its middle" value={form.latitude} unit="deg" min={-89} max={89} step={1} onChange={(latitude) => latitude !== null && settle('degrees', latitude)} />
        </div>
      )}
      {form.distance === 'degrees' && (
        <p className="faded" role="status">
          The file is laid out in degrees; they are turned into metres as they are at {at}.
        </p>
      )}
      {system && <p className="faded">Its reference, {system}, is kept: outlines of the same reference will meet it.</p>}
    </>
  )
}

interface ChoiceProps<T extends string | number> {
  readonly id: string
  readonly label: string
  readonly value: T
  readonly options: readonly (readonly [T, string])[]
  readonly onChange: (value: T) => void
}

function Choice<T extends string | number>({ id, label, value, options, onChange }: ChoiceProps<T>) {
  return (
    <div className="param">
      <label className="param-label" htmlFor={id}>
        {label}
      </label>
      <select id={id} value={String(value)} onChange={(event) => onChange(options[event.target.selectedIndex][0])}>
        {options.map(([one, words]) => (
          <option key={String(one)} value={String(one)}>
            {words}
          </option>
        ))}
      </select>
    </div>
  )
}

function heightWords(metres: number): string {
  return showQuantity(Number(metres.toFixed(1)), 'm')
}

function shareWords(share: number): string {
  return share < 0.001 ? 'under 0.1 %' : `${Number((100 * share).toPrecision(2))} %`
}
