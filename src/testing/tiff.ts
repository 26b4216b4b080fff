/** A GeoTIFF written out by hand: one strip of 32-bit floats, a pixel scale of 20 and a no-data mark of −9999. */
export function makeTiff(columns: number, rows: number, values: readonly number[]): Uint8Array<ArrayBuffer> {
  const tags: [tag: number, type: number, count: number, value: number][] = []
  const strip = 8
  const scale = strip + 4 * values.length
  const mark = scale + 24
  const directory = mark + 6
  tags.push([256, 3, 1, columns], [257, 3, 1, rows], [258, 3, 1, 32], [259, 3, 1, 1], [262, 3, 1, 1], [273, 4, 1, strip], [277, 3, 1, 1])
  tags.push([278, 3, 1, rows], [279, 4, 1, 4 * values.length], [339, 3, 1, 3], [33550, 12, 3, scale], [42113, 2, 6, mark])
  const out = new DataView(new ArrayBuffer(directory + 2 + 12 * tags.length + 4))
  out.setUint16(0, 0x4949, true)
  out.setUint16(2, 42, true)
  out.setUint32(4, directory, true)
  values.forEach((value, i) => out.setFloat32(strip + 4 * i, value, true))
  ;[20, 20, 0].forEach((value, i) => out.setFloat64(scale + 8 * i, value, true))
  ;[...'-9999'].forEach((letter, i) => out.setUint8(mark + i, letter.charCodeAt(0)))
  out.setUint16(directory, tags.length, true)
  tags.forEach(([tag, type, count, value], i) => {
    const at = directory + 2 + 12 * i
    out.setUint16(at, tag, true)
    out.setUint16(at + 2, type, true)
    out.setUint32(at + 4, count, true)
    if (type === 3) out.setUint16(at + 8, value, true)
    else out.setUint32(at + 8, value, true)
  })
  return new Uint8Array(out.buffer)
}
