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
  const node = (i: number, j: number) => values[Math.min(rows - 1, Math.max(0, j)) * columns + Math.min(columns - 1, Math.max(0, i))]
  const [perX, perY] = [(columns - 1) / width, (rows - 1) / height]
  // Blended between samples where the picture is finer than they are.
  const at = (x: number, y: number) => {
    const [u, v] = [Math.min(columns - 1, Math.max(0, x * perX)), Math.min(rows - 1, Math.max(0, y * perY))]
    const [i, j] = [Math.floor(u), Math.floor(v)]
    const low = node(i, j) + (node(i + 1, j) - node(i, j)) * (u - i)
    const high = node(i, j + 1) + (node(i + 1, j + 1) - node(i, j + 1)) * (u - i)
    return low + (high - low) * (v - j)
  }
  // Light falls over two samples or two pixels, whichever are farther apart.
  const step = Math.max(1, 1 / perX, 1 / perY)
  const steep = (14 * span) / step
  const out = new Uint8ClampedArray(4 * width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const h = at(x, y)
      const to = 4 * (y * width + x)
      out[to + 3] = 255
      if (h !== h) {
        // Diagonal lines where nothing will be; a plain tone where it is filled.
        out.set(!gapsStay ? [176, 168, 142] : (x + y) % 8 < 2 ? [176, 92, 60] : [232, 222, 204], to)
        continue
      }
      const t = (h - lowest) / span
      const rise = (at(x - step, y) - at(x, y + step)) / span
      const light = rise === rise ? Math.max(0.35, Math.min(1.25, 0.85 - (rise * steep) / span)) : 0.85
      out.set([(70 + 150 * t) * light, (84 + 120 * t) * light, (52 + 110 * t) * light], to)
    }
  return out
}
