import { ProblemError } from '../document/problem.ts'
import type { HeightReader } from './height-grid.ts'
import { checkSides } from './height-grid.ts'
import { decodePng, isPng } from './png.ts'

/** 8- and 16-bit PNG, grey or colour (colour takes the red channel); black is the lowest ground. */
export const pngHeights: HeightReader = {
  kind: 'png',
  label: 'PNG height picture',
  extensions: ['.png'],
  maxBytes: 256 * 1024 * 1024,
  read(bytes, name, tell) {
    if (!isPng(bytes)) throw new ProblemError(`“${name}” is not a PNG picture; save the heights as an 8- or 16-bit PNG.`)
    const { width, height, channels, data, palette, depth } = decodePng(bytes, name, (columns, rows) => checkSides(name, columns, rows), tell)
    if (palette)
      throw new ProblemError(`“${name}” uses a colour palette; save the heights as a greyscale PNG instead.`)
    if (depth < 8) throw new ProblemError(`“${name}” has only ${depth} bits a sample; save it with 8 or 16 bits.`)
    const most = depth === 16 ? 65535 : 255
    tell(0.9)
    const values = new Float32Array(width * height)
    for (let i = 0; i < values.length; i++) values[i] = data[i * channels] / most
    return { columns: width, rows: height, values, metres: false, spacing: null, form: `${depth}-bit PNG` }
  },
}
