import fc from 'fast-check'
import { csvField } from './csv-handoff.ts'
import { createTextWriter } from './text-writer.ts'

function written(work: (out: ReturnType<typeof createTextWriter>) => void): string {
  const out = createTextWriter()
  work(out)
  return out.done().map((piece) => new TextDecoder().decode(piece)).join('')
}

describe('numbers as text', () => {
  it('are those that the engine gives with nine digits, for every Float32', () => {
    fc.assert(
      fc.property(fc.float({ noNaN: true, noDefaultInfinity: true }), (value) => {
        const text = written((out) => out.number(value))
        const wanted = Number(value.toPrecision(9))
        expect(Math.abs(Number(text) - wanted)).toBeLessThanOrEqual(Math.abs(wanted) * 2e-9)
        expect(Math.fround(Number(text))).toBe(value === 0 ? 0 : value)
        if (Math.abs(value) < 1e15) expect(text).not.toMatch(/\.\d*0$|\.$|^-?0\d/)
      }),
      { seed: 3, numRuns: 5000 },
    )
  })

  it('are right where their size changes', () => {
    const cases = [0, -0, 1, -1, 0.1, 0.25, 9.5, 10, 99.75, 100, 999999, 1e6, 123456.789, 0.001, 0.0009765625, 0.01, 0.099999994, 0.99999994, 1e-20, 16777216, 999999936].map(Math.fround)
    for (const value of cases) expect(Math.fround(Number(written((out) => out.number(value))))).toBe(value === 0 ? 0 : value)
    expect(written((out) => out.number(Math.fround(0.5)))).toBe('0.5')
    expect(written((out) => out.number(-20))).toBe('-20')
  })

  it('keep their order over many pieces, beside hexadecimal and whole ones', () => {
    const text = written((out) => {
      for (let i = 0; i < 700000; i++) {
        out.whole(i)
        out.text('\n')
      }
      out.hex(0xdeadbeef)
      out.hex(15)
    })
    const lines = text.split('\n')
    expect(lines.pop()).toBe('deadbeef0000000f')
    expect(lines.every((line, i) => line === String(i))).toBe(true)
  })
})

describe('fields of a table', () => {
  it('are harmless to spreadsheets, however the formula begins', () => {
    for (const bad of ['=1+1', '+1', '-1', '@x', '\t=1', ' =1', '−1', '＝1', '\r=1']) expect(csvField(bad).replace(/^"/, '')[0]).toBe("'")
    expect(csvField('Sea lavender, "thrift"')).toBe('"Sea lavender, ""thrift"""')
    expect(csvField('Marram')).toBe('Marram')
  })
})
