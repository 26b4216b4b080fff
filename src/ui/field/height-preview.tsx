import { useEffect, useRef } from 'react'
import type { HeightGrid } from '../../formats/height-grid.ts'

const SIDE = 260

interface HeightPreviewProps {
  readonly grid: HeightGrid
  /** Plan size, m: the picture has its true shape. */
  readonly sizeX: number
  readonly sizeZ: number
  /** Height and level, m, as the preview's own values; cells without data are drawn as what becomes of them. */
  readonly gapsStay: boolean
}

/** The heights as a shaded picture of their true shape, north up, with a bar for scale; what stays a hole is hatched. */
export function HeightPreview({ grid, sizeX, sizeZ, gapsStay }: HeightPreviewProps) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const scale = SIDE / Math.max(sizeX, sizeZ)
  const width = Math.max(12, Math.round(sizeX * scale))
  const height = Math.max(12, Math.round(sizeZ * scale))
  useEffect(() => {
    const context = canvas.current?.getContext('2d')
    if (!context) return
    context.putImageData(new ImageData(shade(grid, width, height, gapsStay), width, height), 0, 0)
  }, [grid, width, height, gapsStay])
  const bar = roundLength(0.4 * sizeX)
  return (
    <figure className="height-preview">
      <canvas ref={canvas} width={width} height={height} aria-label="The heights, shaded, north up" />
      <figcaption>
        <span className="scale-bar" style={{ width: `${Math.min(width, bar * (width / sizeX))}px` }} />
        {bar >= 1000 ? `${bar / 1000} km` : `${bar} m`}
      </figcaption>
    </figure>
  )
}

/** The largest 1, 2 or 5 with zeros that is not above a length. */
function roundLength(metres: number): number {
  const ten = 10 ** Math.floor(Math.log10(metres))
  const step = [5, 2, 1].find((one) => one * ten <= metres) ?? 1
  return Number((step * ten).toPrecision(1))
}

function shade(grid: HeightGrid, width: number, height: number, gapsStay: boolean): Uint8ClampedArray<ArrayBuffer> {
  const { columns, rows, values, lowest, highest } = grid
  const span = highest - lowest || 1
  const at = (x: number, y: number) => {
    const i = Math.min(columns - 1, Math.floor((Math.min(width - 1, Math.max(0, x)) / width) * columns))
    const j = Math.min(rows - 1, Math.floor((Math.min(height - 1, Math.max(0, y)) / height) * rows))
    return values[j * columns + i]
  }
  const out = new Uint8ClampedArray(4 * width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const h = at(x, y)
      const to = 4 * (y * width + x)
      out[to + 3] = 255
      if (h !== h) {
        // Diagonal lines where nothing will be; a plain tone where it is filled.
        const tone = gapsStay && (x + y) % 8 < 2 ? [176, 92, 60] : gapsStay ? [232, 222, 204] : [176, 168, 142]
        out.set(tone, to)
        continue
      }
      const t = (h - lowest) / span
      const rise = (at(x - 1, y) - at(x, y + 1)) / span
      const light = rise === rise ? Math.max(0.35, Math.min(1.25, 0.85 - rise * 14)) : 0.85
      out.set([(70 + 150 * t) * light, (84 + 120 * t) * light, (52 + 110 * t) * light], to)
    }
  return out
}
