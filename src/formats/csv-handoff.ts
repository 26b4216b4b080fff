import { countOf, defineHandoff, digits, textPieces } from './handoff.ts'

const COLUMNS =
  'planting,asset,id,x,y,z,rotation_x,rotation_y,rotation_z,rotation_w,scale_x,scale_y,scale_z,tint\r\n'

/** RFC 4180: a field with a comma, quote or line end is quoted; a leading = + - @ is defused for spreadsheets. */
function field(text: string): string {
  const safe = /^[=+\-@\t]/.test(text) ? `'${text}` : text
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe
}

function hex(value: number): string {
  return value.toString(16).padStart(8, '0')
}

export const csvHandoff = defineHandoff({
  kind: 'csv',
  label: 'Table (CSV)',
  help: 'One line an instance: planting, asset, id, place in metres (Y up), turn as a quaternion, size, tint.',
  extension: 'csv',
  mime: 'text/csv',
  params: {},
  estimate: (instances) => 120 + 150 * instances,
  write(input, _values, report) {
    const { meadow } = input
    const out = textPieces()
    out.add(COLUMNS)
    const total = Math.max(1, countOf(input))
    let done = 0
    for (const { id, blocks } of input.plantings) {
      const planting = field(meadow.plantings.find((p) => p.id === id)?.name ?? id)
      for (const b of blocks) {
        for (let i = 0; i < b.count; i++) {
          const asset = field(meadow.assets[b.asset[i]]?.name ?? String(b.asset[i]))
          let line = `${planting},${asset},${hex(b.idHigh[i])}${hex(b.idLow[i])}`
          for (let c = 0; c < 3; c++) line += ',' + digits(b.position[3 * i + c])
          for (let c = 0; c < 4; c++) line += ',' + digits(b.rotation[4 * i + c])
          for (let c = 0; c < 3; c++) line += ',' + digits(b.scale[3 * i + c])
          out.add(`${line},#${hex(b.tint[i])}\r\n`)
        }
        done += b.count
        report(done / total, `Writing instance ${done.toLocaleString('en')} of ${total.toLocaleString('en')}`)
      }
    }
    return out.done()
  },
})
