import { useEffect, useRef, useState } from 'react'
import { hashBytes, heightsToBytes } from '../../document/blobs.ts'
import { sentenceOf } from '../../document/problem.ts'
import { FILE_PATIENCE, READ_HEIGHTS } from '../../engine/io-refs.ts'
import { enginePool } from '../../state/engine-pool.ts'
import { attempt } from '../../state/notices.ts'
import { Action } from '../parts/actions.tsx'
import { Sheet } from '../parts/sheet.tsx'
import { NumberField } from '../params/number-field.tsx'
import { showQuantity } from '../params/quantity.ts'
import { hasEnding, IMAGE_ENDINGS } from '../../formats/endings.ts'
import { useField } from './field-context.ts'
import { bringInImage } from './image-import.ts'

type Read = Awaited<ReturnType<typeof readFile>>

async function readFile(file: File) {
  const bytes = new Uint8Array(await file.arrayBuffer())
  return enginePool().run(READ_HEIGHTS, { name: file.name, bytes }, { urgent: true, silence: FILE_PATIENCE })
}

const UNITS = [
  { name: 'metres', factor: 1 },
  { name: 'centimetres', factor: 0.01 },
  { name: 'feet', factor: 0.3048 },
] as const

interface GroundImportProps {
  readonly file: File
  readonly onClose: () => void
}

/** Asks for the size, the height range and the unit of a height file, filled in from the file. */
export function GroundImport({ file, onClose }: GroundImportProps) {
  const { session } = useField()
  const [grid, setGrid] = useState<Read | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const [form, setForm] = useState({ sizeX: 1000, sizeZ: 1000, lowest: 0, highest: 100, unit: 0, source: '' })
  const [busy, setBusy] = useState(false)

  useEffect(() => {
    let here = true
    readFile(file).then(
      (read) => {
        if (!here) return
        setGrid(read)
        setForm((before) => ({ ...before, ...firstGuess(read) }))
      },
      (error: unknown) => here && setProblem(sentenceOf(error, `Reading “${file.name}”`)),
    )
    return () => {
      here = false
    }
  }, [file])

  async function accept() {
    if (!grid) return
    setBusy(true)
    await attempt('Taking the ground over', async () => {
      const [low, high] = rangeOf(grid.filled)
      const factor = UNITS[form.unit].factor
      const heights = Float32Array.from(grid.filled, (v) =>
        grid.metres ? v * factor : form.lowest + (high > low ? (v - low) / (high - low) : 0) * (form.highest - form.lowest),
      )
      const [lowest, highest] = rangeOf(heights)
      const bytes = heightsToBytes(heights)
      const blob = await hashBytes(bytes)
      await session.putBlob(blob, bytes)
      session.edit('Bring in a ground', (meadow) => {
        meadow.ground = {
          kind: 'terrain',
          name: file.name.replace(/\.[^.]+$/, ''),
          blob,
          columns: grid.columns,
          rows: grid.rows,
          sizeX: form.sizeX,
          sizeZ: form.sizeZ,
          lowest,
          highest,
          source: form.source,
        }
        // Water that would drown or miss the new ground altogether is put away.
        if (meadow.water.level < lowest || meadow.water.level > highest) {
          meadow.water.shown = false
          meadow.water.level = lowest
        }
      })
      onClose()
    })
    setBusy(false)
  }

  const length = (label: string, key: 'sizeX' | 'sizeZ' | 'lowest' | 'highest', min: number) => (
    <div className="param">
      <span className="param-label">{label}</span>
      <NumberField
        label={label}
        value={form[key]}
        unit="m"
        min={min}
        max={key.startsWith('size') ? 1000000 : 12000}
        step={1}
        onChange={(value) => value !== null && setForm({ ...form, [key]: value })}
      />
    </div>
  )
  const unsound = grid !== null && !grid.metres && form.highest < form.lowest
  return (
    <Sheet
      title="Bring in a ground"
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
          <Action main disabled={!grid || busy || unsound} onClick={() => void accept()}>
            Use this ground
          </Action>
        </>
      }
    >
      {problem && (
        <p className="warning-line" role="alert">
          {problem} The ground you had is kept.
        </p>
      )}
      {!grid && !problem && <p>Reading {file.name}…</p>}
      {grid && (
        <div className="import">
          <HeightPreview grid={grid} />
          <div>
            <p>
              <em>{file.name}</em>: {grid.form}, {grid.columns} × {grid.rows} samples
              {grid.cell !== null && `, ${showQuantity(grid.cell, 'm')} apart`}.
            </p>
            {grid.missing > 0 && (
              <p className="warning-line" role="status">
                {grid.missing.toLocaleString('en')} cells have no data; they take the height of their nearest neighbour.
              </p>
            )}
            {length('Width, west to east', 'sizeX', 0.1)}
            {length('Depth, north to south', 'sizeZ', 0.1)}
            {grid.metres ? (
              <div className="param">
                <label className="param-label" htmlFor="height-unit">
                  Heights are in
                </label>
                <select id="height-unit" value={form.unit} onChange={(event) => setForm({ ...form, unit: Number(event.target.value) })}>
                  {UNITS.map((unit, i) => (
                    <option key={unit.name} value={i}>
                      {unit.name}
                    </option>
                  ))}
                </select>
              </div>
            ) : (
              <>
                {length('Lowest point', 'lowest', -12000)}
                {length('Highest point', 'highest', -12000)}
              </>
            )}
            {grid.metres && <RangeWords grid={grid} factor={UNITS[form.unit].factor} />}
            {unsound && <p className="warning-line">The highest point must not lie below the lowest.</p>}
            <div className="param">
              <label className="param-label" htmlFor="ground-source" title="Named wherever the ground is shown or handed off">
                Source, if it must be named
              </label>
              <input id="ground-source" value={form.source} maxLength={300} onChange={(event) => setForm({ ...form, source: event.target.value })} />
            </div>
          </div>
        </div>
      )}
    </Sheet>
  )
}

function firstGuess(grid: Read) {
  const cell = grid.cell ?? 1
  const sizeX = (grid.columns - 1) * cell
  const sizeZ = (grid.rows - 1) * cell
  const [lowest, highest] = rangeOf(grid.filled)
  return grid.metres ? { sizeX, sizeZ, lowest, highest } : { sizeX, sizeZ, lowest: 0, highest: Math.round(sizeX / 10) }
}

function rangeOf(values: Float32Array): [number, number] {
  let low = Infinity
  let high = -Infinity
  for (const v of values) {
    if (v < low) low = v
    if (v > high) high = v
  }
  return [low, high]
}

function RangeWords({ grid, factor }: { readonly grid: Read; readonly factor: number }) {
  const [low, high] = rangeOf(grid.filled)
  const words = (v: number) => showQuantity(Number((v * factor).toFixed(1)), 'm')
  return (
    <p className="faded">
      From {words(low)} to {words(high)}.
    </p>
  )
}

/** The heights as a shaded picture, north up. */
function HeightPreview({ grid }: { readonly grid: Read }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    const context = canvas.current?.getContext('2d')
    if (!context) return
    const side = 200
    const image = context.createImageData(side, side)
    const [low, high] = rangeOf(grid.filled)
    const at = (x: number, y: number) =>
      grid.filled[Math.min(grid.rows - 1, Math.floor((y / side) * grid.rows)) * grid.columns + Math.min(grid.columns - 1, Math.floor((x / side) * grid.columns))]
    const span = high - low || 1
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        const t = (at(x, y) - low) / span
        const light = Math.max(0.35, Math.min(1.25, 0.85 + ((at(Math.max(0, x - 1), y) - at(x, Math.min(side - 1, y + 1))) / span) * -14))
        image.data.set([(70 + 150 * t) * light, (84 + 120 * t) * light, (52 + 110 * t) * light, 255], 4 * (y * side + x))
      }
    context.putImageData(image, 0, 0)
  }, [grid])
  return <canvas ref={canvas} width={200} height={200} className="height-preview" aria-label="The heights, shaded, north up" />
}
