import { yupResolver } from '@hookform/resolvers/yup'
import { useCallback, useLayoutEffect, useMemo, useState } from 'react'
import type { UseFormReturn } from 'react-hook-form'
import { useForm, useWatch } from 'react-hook-form'
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
import { ChoiceRow, NumberRow, TextRow } from '../forms/form-rows.tsx'
import type { GroundForm } from '../forms/schemas.ts'
import { groundForm } from '../forms/schemas.ts'
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

const UNREAD: GroundForm = { distance: 'metres', latitude: FALLBACK_LATITUDE, sizeX: 1, sizeZ: 1, lowest: 0, highest: 0, unit: 0, gaps: 'holes', level: 0, source: '' }

function firstForm(grid: HeightGrid): GroundForm {
  const distance = guessDistance(grid)
  const latitude = latitudeOf(grid) ?? FALLBACK_LATITUDE
  const size = sizeOf(grid, distance, latitude)
  const range = grid.metres ? { lowest: grid.lowest, highest: grid.highest } : { lowest: 0, highest: Math.round(size.sizeX / 10) }
  return { distance, latitude, ...size, ...range, unit: 0, gaps: 'holes', level: Math.floor(grid.lowest), source: '' }
}

/** What lies between the lowest and the highest point, m. */
function reliefOf(grid: HeightGrid, form: GroundForm): number {
  return grid.metres ? (grid.highest - grid.lowest) * UNITS[form.unit].factor : form.highest - form.lowest
}

interface GroundImportProps {
  readonly file: File
  readonly onClose: () => void
}

/** Asks for the size, the height range and the unit of a height file, filled in from the file. */
export function GroundImport({ file, onClose }: GroundImportProps) {
  const { session } = useField()
  const [busy, setBusy] = useState(false)
  const reading = useReading(
    file.name,
    useCallback<Read<HeightGrid>>((options) => readFileAlone(enginePool(), READ_HEIGHTS, file, {}, options), [file]),
  )
  // The heights are lent to a worker that settles them, and come back with its answer.
  const [back, setBack] = useState<Float32Array<ArrayBuffer> | null>(null)
  const read = useMemo(() => reading.output && (back ? { ...reading.output, values: back } : reading.output), [reading.output, back])
  const first = useMemo(() => (reading.output ? firstForm(reading.output) : undefined), [reading.output])
  const form = useForm<GroundForm>({ resolver: yupResolver(groundForm), defaultValues: UNREAD, mode: 'onChange' })
  const { control, handleSubmit, reset } = form
  // Nothing can be taken over, by a key that comes at once either, before what was read is in the fields.
  const [filled, setFilled] = useState(false)
  useLayoutEffect(() => {
    if (!first) return
    reset(first)
    setFilled(true)
  }, [first, reset])
  const grid = filled ? read : null
  const [sizeX, sizeZ, gaps] = useWatch({ control, name: ['sizeX', 'sizeZ', 'gaps'] })

  async function accept(read: HeightGrid, { sizeX, sizeZ, distance, source, gaps, level, lowest, highest, unit }: GroundForm) {
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
        source,
        georeference: referenceOf(read, distance, { sizeX, sizeZ }),
      }
      if (setGround(session, ground)) onClose()
    })
    setBusy(false)
  }

  return (
    <Sheet
      title="Bring in a ground"
      wide
      onClose={onClose}
      onSubmit={() => grid && !busy && void handleSubmit((chosen) => accept(grid, chosen))()}
      foot={
        <>
          <Action onClick={onClose}>Cancel</Action>
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
          <Action main type="submit" disabled={!grid || busy}>
            Use this ground
          </Action>
        </>
      }
    >
      <ReadingHead fileName={file.name} reading={reading} kept="The ground you had is kept." />
      {grid && (
        <div className="import">
          <HeightPreview grid={grid} sizeX={sizeX} sizeZ={sizeZ} gapsStay={gaps === 'holes'} />
          <div>
            <p>
              <em>{file.name}</em>: {grid.form}, {grid.columns} × {grid.rows} samples{spacingWords(grid, sizeX, sizeZ)}.
            </p>
            <GroundFields grid={grid} form={form} />
          </div>
        </div>
      )}
    </Sheet>
  )
}

function spacingWords(grid: HeightGrid, sizeX: number, sizeZ: number): string {
  if (!grid.spacing) return ''
  const [x, z] = [sizeX / (grid.columns - 1), sizeZ / (grid.rows - 1)].map((step) => showQuantity(Number(step.toPrecision(3)), 'm'))
  return x === z ? `, ${x} apart` : `, ${x} × ${z} apart`
}

interface FieldsProps {
  readonly grid: HeightGrid
  readonly form: UseFormReturn<GroundForm>
}

function GroundFields({ grid, form }: FieldsProps) {
  const { control, trigger } = form
  const now = useWatch({ control }) as GroundForm
  const heights = { control, unit: 'm', min: -LIMITS.height, max: LIMITS.height, step: 1 } as const
  const sides = { control, unit: 'm', min: 0.1, max: LIMITS.place, step: 1 } as const
  const question = doubt(now.sizeX, now.sizeZ, reliefOf(grid, now))
  return (
    <>
      {grid.spacing && <DistanceFields grid={grid} form={form} />}
      <NumberRow {...sides} name="sizeX" label="Width, west to east" />
      <NumberRow {...sides} name="sizeZ" label="Depth, north to south" />
      {grid.metres ? (
        <>
          <ChoiceRow control={control} name="unit" label="Heights are in" options={UNITS.map(({ name }, i) => [i, name] as const)} />
          <p className="faded">
            From {heightWords(grid.lowest * UNITS[now.unit].factor)} to {heightWords(grid.highest * UNITS[now.unit].factor)}.
          </p>
        </>
      ) : (
        <>
          {/* What is wrong between the two is said at the other. */}
          <NumberRow {...heights} name="lowest" label="Lowest point" onTaken={() => void trigger('highest')} />
          <NumberRow {...heights} name="highest" label="Highest point" />
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
          <ChoiceRow control={control} name="gaps" label="Those without data" options={Object.entries(GAP_WORDS) as [Gaps, string][]} />
          {now.gaps === 'level' && <NumberRow {...heights} name="level" label="Level" />}
        </>
      )}
      <TextRow control={control} name="source" label="Source, if it must be named" help="Named wherever the ground is shown or handed off" />
    </>
  )
}

const DISTANCES: readonly (readonly [Distance, string])[] = [
  ['metres', 'metres'],
  ['feet', 'feet'],
  ['degrees', 'degrees'],
]

/** The unit of the file's own distances; degrees are turned into metres at a latitude. */
function DistanceFields({ grid, form: { control, setValue } }: FieldsProps) {
  const [distance, latitude] = useWatch({ control, name: ['distance', 'latitude'] })
  const settle = (as: Distance, at: number) => {
    const { sizeX, sizeZ } = sizeOf(grid, as, at)
    setValue('sizeX', sizeX)
    setValue('sizeZ', sizeZ)
  }
  const known = latitudeOf(grid)
  const { degrees = false, system = '' } = grid.spacing?.georeference ?? {}
  const at = `${Math.abs(latitude).toFixed(2)}° ${latitude < 0 ? 'south' : 'north'}`
  return (
    <>
      <ChoiceRow control={control} name="distance" label="Distances are in" options={DISTANCES} onChosen={(as) => settle(as, latitude)} />
      {distance === 'degrees' && (known === null || !degrees) && (
        <NumberRow control={control} name="latitude" label="Latitude of its middle" unit="deg" min={-89} max={89} step={1} onTaken={(next) => settle('degrees', next)} />
      )}
      {distance === 'degrees' && (
        <p className="faded" role="status">
          The file is laid out in degrees; they are turned into metres as they are at {at}.
        </p>
      )}
      {system && <p className="faded">Its reference, {system}, is kept: outlines of the same reference will meet it.</p>}
    </>
  )
}

function heightWords(metres: number): string {
  return showQuantity(Number(metres.toFixed(1)), 'm')
}

function shareWords(share: number): string {
  return share < 0.001 ? 'under 0.1 %' : `${Number((100 * share).toPrecision(2))} %`
}
