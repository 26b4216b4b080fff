import { LIMITS } from '../core/limits.ts'
import { ProblemError } from '../document/problem.ts'
import { decodePng, isPng } from './png.ts'

/** A picture as 8-bit R G B A, row by row from the top. */
export interface ReadImage {
  readonly columns: number
  readonly rows: number
  readonly pixels: Uint8Array<ArrayBuffer>
}

const MAX_BYTES = 128 * 1024 * 1024

/** Reads a PNG or JPEG by its content. Throws ProblemError. */
export async function readImage(bytes: Uint8Array<ArrayBuffer>, name: string): Promise<ReadImage> {
  if (bytes.length === 0) throw new ProblemError(`“${name}” is empty (0 bytes); copy it again.`)
  if (bytes.length > MAX_BYTES) throw new ProblemError(`“${name}” is larger than ${MAX_BYTES / 1048576} MB, the most that an image can have.`)
  if (isPng(bytes)) return readPng(bytes, name)
  if (bytes[0] === 0xff && bytes[1] === 0xd8) return readJpeg(bytes, name)
  throw new ProblemError(`“${name}” is neither a PNG nor a JPEG picture; save it as one of these.`)
}

function checkSides(columns: number, rows: number, name: string): void {
  if (columns < 1 || rows < 1 || columns > LIMITS.imageSide || rows > LIMITS.imageSide)
    throw new ProblemError(`“${name}” has ${columns} × ${rows} pixels; at most ${LIMITS.imageSide} × ${LIMITS.imageSide} can be laid over the ground, so scale it down first.`)
}

function readPng(bytes: Uint8Array<ArrayBuffer>, name: string): ReadImage {
  const { width, height, channels, data, depth, palette } = decodePng(bytes, name, (columns, rows) => checkSides(columns, rows, name))
  const pixels = new Uint8Array(4 * width * height)
  const shift = depth === 16 ? 8 : 0
  for (let i = 0; i < width * height; i++) {
    if (palette) {
      const [r, g, b, a = 255] = palette[data[i]] ?? [0, 0, 0]
      pixels.set([r, g, b, a], 4 * i)
      continue
    }
    const grey = channels < 3
    for (let c = 0; c < 3; c++) pixels[4 * i + c] = data[i * channels + (grey ? 0 : c)] >> shift
    pixels[4 * i + 3] = channels === 2 || channels === 4 ? data[i * channels + channels - 1] >> shift : 255
  }
  return { columns: width, rows: height, pixels }
}

/** The browser's own decoder reads JPEG, with colours as they are stored. */
async function readJpeg(bytes: Uint8Array<ArrayBuffer>, name: string): Promise<ReadImage> {
  if (typeof createImageBitmap !== 'function' || typeof OffscreenCanvas !== 'function')
    throw new ProblemError(`“${name}” is a JPEG, which is read in the browser only; save it as PNG.`)
  const bitmap = await createImageBitmap(new Blob([bytes], { type: 'image/jpeg' }), { colorSpaceConversion: 'none', premultiplyAlpha: 'none' }).catch((error: unknown) => {
    throw new ProblemError(`“${name}” is damaged or cut short and cannot be read as JPEG; save or copy it again.`, error)
  })
  checkSides(bitmap.width, bitmap.height, name)
  const pen = new OffscreenCanvas(bitmap.width, bitmap.height).getContext('2d')
  if (!pen) throw new ProblemError(`“${name}” cannot be read, as the browser gives no canvas; reload the page and try again.`)
  pen.drawImage(bitmap, 0, 0)
  const { data } = pen.getImageData(0, 0, bitmap.width, bitmap.height)
  return { columns: bitmap.width, rows: bitmap.height, pixels: new Uint8Array(data.buffer as ArrayBuffer) }
}
