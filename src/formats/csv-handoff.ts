import type { Block } from '../core/columns.ts'
import type { Meadow } from '../core/meadow.ts'
import { assetsByNumber } from '../core/meadow.ts'
import type { HandoffInput } from './handoff.ts'
import { bytesARow, countOf, defineHandoff } from './handoff.ts'
import type { TextWriter } from './text-writer.ts'
import { createTextWriter, encodeText } from './text-writer.ts'

const COLUMNS =
  'planting,asset,id,x,y,z,rotation_x,rotation_y,rotation_z,rotation_w,scale_x,scale_y,scale_z,tint\r\n'
const COMMA = encodeText(',')
const HASH = encodeText(',#')
const END = encodeText('\r\n')

/** RFC 4180: a field with a comma, quote or line end is quoted; spreadsheets take text that begins with = + − @ for a formula, so it is defused. */
export function csvField(text: string): string {
  const safe = /^[=+\-@\t\r\n−＝＋－＠]/.test(text.trimStart()) || /^[\t\r\n]/.test(text) ? `'${text}` : text
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe
}

/** The first two fields of every row of a planting, by asset number. */
function heads({ assets, plantings }: Meadow, id: string): (asset: number) => Uint8Array {
  const planting = csvField(plantings.find((one) => one.id === id)?.name ?? id)
  const byNumber = assetsByNumber(assets)
  const made = new Map<number, Uint8Array>()
  return (asset) => {
    let head = made.get(asset)
    if (!head) {
      head = encodeText(`${planting},${csvField(byNumber.get(asset)?.name ?? String(asset))},`)
      made.set(asset, head)
    }
    return head
  }
}

function writeRow(out: TextWriter, head: (asset: number) => Uint8Array, b: Block, i: number): void {
  out.bytes(head(b.asset[i]))
  out.hex(b.idHigh[i])
  out.hex(b.idLow[i])
  for (let c = 0; c < 3; c++) {
    out.bytes(COMMA)
    out.number(b.position[3 * i + c])
  }
  for (let c = 0; c < 4; c++) {
    out.bytes(COMMA)
    out.number(b.rotation[4 * i + c])
  }
  for (let c = 0; c < 3; c++) {
    out.bytes(COMMA)
    out.number(b.scale[3 * i + c])
  }
  out.bytes(HASH)
  out.hex(b.tint[i])
  out.bytes(END)
}

const rowBytes = (input: Pick<HandoffInput, 'meadow' | 'plantings'>) =>
  bytesARow(input.plantings, (out, id, block, i) => writeRow(out, heads(input.meadow, id), block, i))

export const csvHandoff = defineHandoff({
  kind: 'csv',
  label: 'Table (CSV)',
  help: 'One line an instance: planting, asset, id, place in metres (Y up), turn as a quaternion, size, tint.',
  extension: 'csv',
  mime: 'text/csv',
  params: {},
  estimate: (input) => COLUMNS.length + countOf(input) * rowBytes(input),
  write(input, _values, report) {
    const out = createTextWriter()
    out.text(COLUMNS)
    const total = Math.max(1, countOf(input))
    let done = 0
    for (const { id, blocks } of input.plantings) {
      const head = heads(input.meadow, id)
      for (const b of blocks) {
        for (let i = 0; i < b.count; i++) writeRow(out, head, b, i)
        done += b.count
        report(done / total, `Writing instance ${done.toLocaleString('en')} of ${total.toLocaleString('en')}`)
      }
    }
    return out.done()
  },
})
