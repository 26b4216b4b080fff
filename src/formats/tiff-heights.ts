import { degreeReference } from '../core/grounds/georeference.ts'
import type { GeoReference } from '../core/meadow.ts'
import { shortened, LIMITS } from '../core/limits.ts'
import { ProblemError } from '../document/problem.ts'
import type { GridSpacing, HeightReader, RawGrid } from './height-grid.ts'
import { checkSides } from './height-grid.ts'
import { readTiffLayout } from './tiff-directory.ts'

/** Codes of the GeoTIFF standard (OGC 19-008): a model in degrees, samples that are points, units of length. */
const GEOGRAPHIC = 2
const POINTS = 2
const OWN_SYSTEM = 32767
const UNITS: Readonly<Record<number, number>> = { 9001: 1, 9002: 0.3048, 9003: 1200 / 3937 }

/** GeoTIFF: the first image's first band, as metres; cells without data by its no-data mark. */
export const tiffHeights: HeightReader = {
  kind: 'tiff',
  label: 'GeoTIFF',
  extensions: ['.tif', '.tiff'],
  maxBytes: 256 * 1024 * 1024,
  async read(bytes, name) {
    const magic = String.fromCharCode(bytes[0], bytes[1])
    if (magic !== 'II' && magic !== 'MM') throw new ProblemError(`“${name}” is not a TIFF; export the heights as GeoTIFF.`)
    const damaged = (cause?: unknown) =>
      new ProblemError(`“${name}” is damaged, cut short, or packed in a way that cannot be read; export it as GeoTIFF without compression, or with LZW or deflate.`, cause)
    if (!readTiffLayout(bytes, (columns, rows) => checkSides(name, columns, rows))) throw damaged()
    // Only this reader needs the library: it is loaded when it is first wanted.
    const { fromArrayBuffer } = await import('geotiff')
    try {
      const image = await (await fromArrayBuffer(bytes.slice().buffer)).getImage()
      return await readImage(image, name)
    } catch (error) {
      throw error instanceof ProblemError ? error : damaged(error)
    }
  },
}

type TiffImage = Awaited<ReturnType<Awaited<ReturnType<(typeof import('geotiff'))['fromArrayBuffer']>>['getImage']>>

async function readImage(image: TiffImage, name: string): Promise<RawGrid> {
  const columns = image.getWidth()
  const rows = image.getHeight()
  checkSides(name, columns, rows)
  const raster = (await image.readRasters({ samples: [0], interleave: true })) as unknown as ArrayLike<number>
  if (raster.length !== columns * rows) throw new RangeError(`${columns * rows} samples wanted, ${raster.length} read`)
  const values = Float32Array.from(raster)
  const without = image.getGDALNoData()
  const mark = without === null ? NaN : Math.fround(without)
  for (let i = 0; i < values.length; i++) if (values[i] === mark) values[i] = NaN
  return { columns, rows, values, metres: true, spacing: spacingOf(image), form: 'GeoTIFF' }
}

/** Where the samples lie, when the file says it in a way that can be. */
function spacingOf(image: TiffImage): GridSpacing | null {
  try {
    const [x, y] = image.getResolution()
    const [stepX, stepY] = [Math.abs(x), Math.abs(y)]
    if (!(stepX > 0 && stepY > 0 && stepX < 1e6 && stepY < 1e6)) return null
    return { stepX, stepY, georeference: referenceOf(image, stepX, stepY) }
  } catch {
    return null
  }
}

function referenceOf(image: TiffImage, stepX: number, stepY: number): GeoReference | null {
  const keys = image.getGeoKeys()
  if (!keys) return null
  const [left, top] = image.getOrigin()
  // Where samples are areas, the origin is the corner of the first; the middle is the same by whole cells.
  const less = keys.GTRasterTypeGeoKey === POINTS ? 1 : 0
  const x = left + (stepX * (image.getWidth() - less)) / 2
  const y = top - (stepY * (image.getHeight() - less)) / 2
  if (!Number.isFinite(x) || !Number.isFinite(y)) return null
  const code = Number(keys.ProjectedCSTypeGeoKey ?? keys.GeographicTypeGeoKey)
  const own = typeof keys.GTCitationGeoKey === 'string' ? shortened(keys.GTCitationGeoKey, LIMITS.word) : ''
  const system = code > 0 && code !== OWN_SYSTEM ? `EPSG:${code}` : own
  if (keys.GTModelTypeGeoKey === GEOGRAPHIC) return Math.abs(y) <= 90 ? degreeReference(x, y, system) : null
  const metres = UNITS[Number(keys.ProjLinearUnitsGeoKey)] ?? 1
  return { system, degrees: false, x, y, metresX: metres, metresY: metres }
}
