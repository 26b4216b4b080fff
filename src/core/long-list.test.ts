import { createHash } from 'node:crypto'
import fc from 'fast-check'
import { hashValue } from './content-hash.ts'
import type { NumberList } from './long-list.ts'
import { bytesToPiece, isLong, lengthOf, listOf, LONG, pieceBytes, spliced, valuesOf } from './long-list.ts'

const counted = (length: number) => Array.from({ length }, (_, i) => i / 7 - 40)
const same = (a: readonly number[], b: readonly number[]) => a.length === b.length && a.every((value, i) => value === b[i])
const piecesOf = (list: NumberList) => (isLong(list) ? list.pieces : [])

describe('a list of numbers', () => {
  it('is a plain array as long as it is short, and in pieces beyond', () => {
    expect(listOf(counted(LONG))).toEqual(counted(LONG))
    const long = listOf(counted(LONG + 1))
    expect(isLong(long)).toBe(true)
    expect(lengthOf(long)).toBe(LONG + 1)
    expect(valuesOf(long)).toEqual(counted(LONG + 1))
    expect(valuesOf(long)).toBe(valuesOf(long))
  })

  it('is spliced as an array is, whatever is done to it one after the other', () => {
    const step = fc.record({ at: fc.nat(1 << 20).map((n) => n / (1 << 20)), remove: fc.oneof(fc.constant(0), fc.nat(3), fc.nat(2500)), insert: fc.oneof(fc.array(fc.double({ noNaN: true }), { maxLength: 3 }), fc.nat(3000).map(counted)) })
    let small = 0
    fc.assert(
      fc.property(fc.nat(6000), fc.array(step, { minLength: 1, maxLength: 12 }), (length, steps) => {
        let list = listOf(counted(length))
        let plain = counted(length)
        for (const { at, remove, insert } of steps) {
          const from = Math.floor(at * plain.length)
          const out = Math.min(remove, plain.length - from)
          list = spliced(list, from, out, insert)
          plain = plain.toSpliced(from, out, ...insert).map((value) => value + 0)
          expect(same(valuesOf(list), plain)).toBe(true)
          expect(lengthOf(list)).toBe(plain.length)
          const pieces = piecesOf(list)
          if (plain.length > LONG) expect(pieces.length).toBeGreaterThan(0)
          // Each has its memory alone: what is sent of one drags no other along.
          expect(pieces.filter(({ length: own, values }) => own !== values.length || own > 1024 || values.buffer.byteLength !== 8 * own)).toEqual([])
          small += pieces.filter(({ length: own }) => own < 128).length
        }
      }),
      { numRuns: 150, seed: 20261126 },
    )
    expect(small).toBe(0)
  })

  it('keeps every piece that an edit does not touch, so that a thousand edits cost a thousand pieces', () => {
    let list = listOf(counted(40000))
    let fresh = 0
    for (let k = 0; k < 1000; k++) {
      const before = new Set(piecesOf(list))
      const at = 2 * ((k * 7919) % 19000)
      list = k % 3 === 0 ? spliced(list, at, 2) : k % 3 === 1 ? spliced(list, at, 0, [k, -k]) : spliced(list, at, 2, [k, k])
      const made = piecesOf(list).filter((piece) => !before.has(piece)).length
      expect(made).toBeLessThanOrEqual(4)
      fresh += made
    }
    expect(fresh).toBeLessThan(1100)
  })

  it('names its pieces by their bytes, as another reckoner does, and takes them back from those', () => {
    for (const piece of piecesOf(listOf(counted(3000)))) {
      const bytes = Buffer.alloc(8 * piece.length)
      piece.values.forEach((value, i) => bytes.writeDoubleLE(value, 8 * i))
      expect(Buffer.from(pieceBytes(piece)).equals(bytes)).toBe(true)
      expect(piece.name).toBe(createHash('sha256').update(bytes).digest('hex'))
      // From the middle of a file, at any offset.
      const around = new Uint8Array(3 + bytes.length)
      around.set(bytes, 3)
      expect(bytesToPiece(around.subarray(3))).toEqual(piece.values)
    }
    expect(bytesToPiece(new Uint8Array(9))).toBeNull()
  })

  it('has a name as content that tells every number', () => {
    const list = listOf(counted(3000))
    expect(hashValue(list)).toBe(hashValue(listOf(counted(3000))))
    expect(hashValue(spliced(list, 1500, 1, [1e-9 + counted(3000)[1500]]))).not.toBe(hashValue(list))
    expect(hashValue(spliced(list, 1500, 1, [counted(3000)[1500]]))).toBe(hashValue(list))
  })

  it('refuses to be spliced outside of itself', () => {
    for (const list of [listOf([1, 2]), listOf(counted(2000))])
      for (const [at, remove] of [[-1, 0], [NaN, 0], [0, 2001], [2001, 0]] as const) expect(() => spliced(list, at, remove)).toThrow(RangeError)
  })
})
