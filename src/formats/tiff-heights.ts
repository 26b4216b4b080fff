import { ProblemError } from '../document/problem.ts'
import type { HeightGrid, HeightReader } from './height-grid.ts'
import { checkSides } from './height-grid.ts'

/** Metres a degree of latitude, for grids that are laid out in degrees. */
const DEGREE_METRES = 111_320
const GEOGRAPHIC = 2

/** GeoTIFF: the first image's first band, as metres; cells without data by its no-data mark. */
export const tiffHeights: HeightReader = {
  kind: 'tiff',
  label: 'GeoTIFF',
  extensions: ['.tif', '.tiff'],
  maxBytes: 256 * 1024 * 1024,
  async read(bytes, name) {
    const magic = String.fromCharCode(bytes[0], bytes[1])
    if (magic !== 'II' && magic !== 'MM') throw new ProblemError(`“${name}” is not a TIFF; export the heights as GeoTIFF.`)
    // Only this reader needs the library: it is loaded when it is first wanted.
    const { fromArrayBuffer } = await import('geotiff')
    try {
      const image = await (await fromArrayBuffer(bytes.slice().buffer)).getImage()
      return await readImage(image, name)
    } catch (error) {
      if (error instanceof ProblemError) throw error
      throw new ProblemError(`“${name}” is damaged, cut short, or packed in a way that cannot be read; export it as GeoTIFF without compression, or with LZW or deflate.`, error)
    }
  },
}

type TiffImage = Awaited<ReturnType<Awaited<ReturnType<(typeof import('geotiff'))['fromArrayBuffer']>>['getImage']>>

async function readImage(image: TiffImage, name: string): Promise<HeightGrid> {
  const columns = image.getWidth()
  const rows = image.getHeight()
  checkSides(name, columns, rows)
  const raster = await image.readRasters({ samples: [0], interleave: true })
  const values = Float32Array.from(raster as unknown as ArrayLike<number>)
  const without = image.getGDALNoData()
  let missing = 0
  for (let i = 0; i < values.length; i++)
    if (!Number.isFinite(values[i]) || (without !== null && values[i] === Math.fround(without))) {
      values[i] = NaN
      missing++
    }
  if (missing === values.length) throw new ProblemError(`“${name}” has no data in any cell; export it again.`)
  return { columns, rows, values, missing, metres: true, cell: cellOf(image), form: 'GeoTIFF' }
}

/** Metres from sample to sample, when the file says it. */
function cellOf(image: TiffImage): number | null {
  try {
    const [x] = image.getResolution()
    const size = Math.abs(x)
    if (!(size > 0)) return null
    return image.getGeoKeys()?.GTModelTypeGeoKey === GEOGRAPHIC ? size * DEGREE_METRES : size
  } catch {
    return null
  }
}
