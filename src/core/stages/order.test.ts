import fc from 'fast-check'
import { byKeyThenId } from './order.ts'

interface Row {
  readonly key: number
  readonly low: number
  readonly high: number
  readonly group: number
}

/** The order that comparison gives. */
function sortedSlowly(rows: readonly Row[]): number[] {
  return rows
    .map((_, i) => i)
    .sort((a, b) => {
      const [p, q] = [rows[a], rows[b]]
      return p.group - q.group || p.key - q.key || p.high - q.high || p.low - q.low
    })
}

function sorted(rows: readonly Row[]): number[] {
  return Array.from(
    byKeyThenId(
      Uint32Array.from(rows, (_, i) => i),
      Float32Array.from(rows, (row) => row.key),
      { addressLow: Uint32Array.from(rows, (row) => row.low), addressHigh: Uint32Array.from(rows, (row) => row.high) },
      Uint16Array.from(rows, (row) => row.group),
      1 + Math.max(0, ...rows.map((row) => row.group)),
    ),
  )
}

const addresses = fc.uniqueArray(fc.tuple(fc.nat(50), fc.nat(4)), { minLength: 0, maxLength: 300, selector: String })

describe('ordering rows by class, key and id', () => {
  it('equals sorting by comparison, with many equal keys', () => {
    fc.assert(
      fc.property(addresses, fc.infiniteStream(fc.nat(15)), fc.infiniteStream(fc.nat(3)), (pairs, keys, groups) => {
        const rows = pairs.map(([low, high]) => ({
          low,
          high,
          key: keys.next().value / 16,
          group: groups.next().value,
        }))
        expect(sorted(rows)).toEqual(sortedSlowly(rows))
      }),
      { numRuns: 200 },
    )
  })

  it('equals it for keys crowded into one place, and for keys of 1', () => {
    const crowded = Array.from({ length: 3000 }, (_, i) => ({
      low: (i * 7919) % 3000,
      high: 0,
      key: Math.fround(i % 3 === 0 ? 1 : 0.5 + 1e-7 * ((i * 31) % 11)),
      group: i % 2,
    }))
    expect(sorted(crowded)).toEqual(sortedSlowly(crowded))
  })

  it('orders a part of the rows only', () => {
    const key = Float32Array.of(0.9, 0.1, 0.5, 0.3)
    const none = { addressLow: new Uint32Array(4), addressHigh: new Uint32Array(4) }
    expect(Array.from(byKeyThenId(Uint32Array.of(0, 2, 3), key, none, new Uint16Array(4), 1))).toEqual([3, 2, 0])
    expect(Array.from(byKeyThenId(new Uint32Array(0), key, none, new Uint16Array(4), 1))).toEqual([])
  })
})
