import { ProblemError } from '../document/problem.ts'
import type { HeightReader } from './height-grid.ts'
import { checkSides } from './height-grid.ts'

/**
 * Raw 16-bit heights: unsigned, little-endian, row by row from the north, nothing else in the file.
 * The sides come from the name (`dunes_1025x513.r16`), or are those of a square.
 */
export const rawHeights: HeightReader = {
  kind: 'raw',
  label: 'raw 16-bit heights',
  extensions: ['.r16', '.raw'],
  maxBytes: 2 * 4096 * 4096,
  read(bytes, name) {
    if (bytes.length % 2 !== 0) throw new ProblemError(`“${name}” has an odd number of bytes, so it is not 16 bits a sample; export it as unsigned 16-bit raw.`)
    const samples = bytes.length / 2
    const named = /(\d+)\s*[x×]\s*(\d+)(?=\D*$)/i.exec(name)
    const side = Math.round(Math.sqrt(samples))
    const [columns, rows] = named ? [Number(named[1]), Number(named[2])] : [side, side]
    if (columns * rows !== samples)
      throw new ProblemError(
        named
          ? `“${name}” holds ${samples.toLocaleString('en')} samples, not the ${columns} × ${rows} of its name; put the right sides into the name.`
          : `“${name}” holds ${samples.toLocaleString('en')} samples, which is no square; say the sides in its name, such as ground_1025x513.r16.`,
      )
    checkSides(name, columns, rows)
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
    const values = new Float32Array(samples)
    for (let i = 0; i < samples; i++) values[i] = view.getUint16(2 * i, true) / 65535
    return { columns, rows, values, metres: false, spacing: null, form: 'raw 16-bit heights' }
  },
}
