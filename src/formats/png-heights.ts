import { decode } from 'fast-png'
import { ProblemError } from '../document/problem.ts'
import type { HeightReader } from './height-grid.ts'
import { checkSides } from './height-grid.ts'

const SIGNATURE = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]

/** 8- and 16-bit PNG, grey or colour (colour takes the red channel); black is the lowest ground. */
export const pngHeights: HeightReader = {
  kind: 'png',
  label: 'PNG height picture',
  extensions: ['.png'],
  maxBytes: 256 * 1024 * 1024,
  read(bytes, name) {
    if (!SIGNATURE.every((byte, i) => bytes[i] === byte))
      throw new ProblemError(`“${name}” is not a PNG picture; save the heights as an 8- or 16-bit PNG.`)
    if (bytes.length < 33) throw new ProblemError(`“${name}” ends too early; it was not saved or copied whole.`)
    // The header is read first, so that an absurd size is refused before any memory is taken.
    const header = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
    checkSides(name, header.getUint32(16), header.getUint32(20))
    const image = (() => {
      try {
        return decode(bytes, { checkCrc: true })
      } catch (error) {
        throw new ProblemError(
          `“${name}” is damaged or cut short and cannot be read as PNG; save or copy it again.`,
          error,
        )
      }
    })()
    const { width, height, channels, data, palette } = image
    if (palette)
      throw new ProblemError(`“${name}” uses a colour palette; save the heights as a greyscale PNG instead.`)
    if (image.depth < 8)
      throw new ProblemError(`“${name}” has only ${image.depth} bits a sample; save it with 8 or 16 bits.`)
    const most = image.depth === 16 ? 65535 : 255
    const values = new Float32Array(width * height)
    for (let i = 0; i < values.length; i++) values[i] = data[i * channels] / most
    return {
      columns: width,
      rows: height,
      values,
      missing: 0,
      metres: false,
      cell: null,
      form: `${image.depth}-bit PNG`,
    }
  },
}
