import { CONDITIONS } from '../../core/fields/conditions/index.ts'
import { angle, defaultsOf, phrase, registry } from '../../core/kinds.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { paramsSchema } from '../../document/schema.ts'
import { phraseText } from './live-phrase.tsx'
import { readQuantity, showQuantity, takeQuantity, unbroken } from './quantity.ts'

describe('typed quantities', () => {
  const good: [string, Parameters<typeof readQuantity>[1], number][] = [
    ['150cm', 'm', 1.5],
    ['4 ft', 'm', 1.2192],
    ['2*0.85', 'm', 1.7],
    ['1 m + 20 cm', 'm', 1.2],
    ['(1+2)/4', 'm', 0.75],
    ['-3', 'm', -3],
    ['−3', 'm', -3],
    ['30 %', 'share', 0.3],
    ['30', 'share', 0.3],
    ['18°', 'deg', 18],
    ['0.5turn', 'deg', 180],
    ['1,500', 'count', 1500],
    ['2k', 'count', 2000],
    ['100/ha', 'per-m2', 0.01],
    ['1e-2', 'm', 0.01],
    ['120%', 'factor', 1.2],
  ]
  for (const [text, unit, value] of good) it(`reads ${text}`, () => expect(readQuantity(text, unit)).toBeCloseTo(value, 12))

  for (const text of ['', 'abc', '1 +', '1//2', '1/0', 'alert(1)', '((((1', '5 parsec', '1 2 m m', '('.repeat(50) + '1'])
    it(`refuses “${text.slice(0, 12)}”`, () => expect(readQuantity(text, 'm')).toBeNull())

  it.each<[string, Parameters<typeof readQuantity>[1], number | null]>([
    // A comma as the decimal point, blanks of any sort, thousands in groups.
    ['1,5 m', 'm', 1.5],
    ['0,05', 'm', 0.05],
    ['−2,25 m', 'm', -2.25],
    ['1 500', 'm', 1500],
    ['12\u202f000\u00a0m', 'm', 12000],
    ['1,234,567', 'm', 1234567],
    ['1,234.5', 'm', 1234.5],
    ['60,000', 'count', 60000],
    ['  3   m ', 'm', 3],
    ['60 %', 'parts', 60],
    // What could be read in two ways is not read.
    ['1,500', 'm', null],
    ['1,5,5', 'm', null],
    ['1 2', 'm', null],
    ['1 50', 'm', null],
    ['1,2345.6', 'm', null],
  ])('reads “%s” as people paste it', (text, unit, value) => {
    if (value === null) expect(readQuantity(text, unit)).toBeNull()
    else expect(readQuantity(text, unit)).toBeCloseTo(value, 12)
  })

  it('says of everything that it does not take what and why', () => {
    const within = { min: 0.01, max: 100 }
    const why = (text: string, unit: Parameters<typeof readQuantity>[1], bounds = within) => {
      const taken = takeQuantity(text, unit, bounds)
      return 'problem' in taken ? taken.problem : taken.value
    }
    expect(why('1.5', 'factor')).toBe(1.5)
    expect(why('abc', 'factor')).toBe('“abc” is no number; a factor is wanted, such as 1.5 or 150 %.')
    expect(why('150cm', 'factor')).toBe('“150cm” is a length; a factor is wanted, such as 1.5 or 150 %.')
    expect(why('30°', 'm')).toContain('“30°” is an angle; a length is wanted')
    expect(why('40 %', 'm')).toContain('“40 %” is a share; a length is wanted')
    expect(why('-5', 'm')).toBe('“-5” is below the least, 0.01 m.')
    expect(why('1e9', 'm')).toBe('“1e9” is above the most, 100 m.')
    expect(why('  ', 'm')).toContain('Empty; a length is wanted')
    expect(why('2.5', 'count')).toBe('“2.5” is no whole number.')
    expect(why('1,500 m', 'm', { min: 0, max: 9999 })).toBe('“1,500 m” may be a thousand or a decimal; write it without the comma.')
    expect(why('a'.repeat(400), 'm')).toHaveLength('“” is no number; a length is wanted, such as 1.5 m, 150 cm or 5 ft.'.length + 24)
    expect(why('4294967295', 'count', { min: 0, max: 4294967295 })).toBe(4294967295)
  })

  it('shows what it reads', () => {
    for (const [value, unit] of [[0.8, 'm'], [0.3, 'share'], [18, 'deg'], [1234567, 'count'], [-2.5, 'm']] as const)
      expect(readQuantity(showQuantity(value, unit), unit)).toBeCloseTo(value, 9)
  })
})

describe('kinds', () => {
  it('refuse a name listed twice, and say what there is for a name that is not', () => {
    expect(() => registry('thing', [{ kind: 'a' }, { kind: 'a' }])).toThrow('"a" is listed twice')
    expect(() => registry('thing', [{ kind: 'b' }, { kind: 'a' }]).get('c')).toThrow('there are a, b')
  })

  it('have defaults that their own schemas take, and phrases that name their own parameters', () => {
    for (const kind of [...CONDITIONS.all, ...PLANTINGS.all]) {
      const values = defaultsOf(kind.params)
      expect(() => paramsSchema(kind.params).validateSync(values, { strict: true })).not.toThrow()
      const phrases = 'sentence' in kind ? [kind.sentence(values)] : [kind.howMany(values), kind.howItStands(values)]
      for (const piece of phrases.flat()) if (typeof piece !== 'string') expect(Object.keys(kind.params)).toContain(piece.param)
    }
  })

  it('refuse values beyond their limits', () => {
    const schema = paramsSchema({ tilt: angle(5, { label: 'Tilt', help: '', max: 80 }) })
    for (const tilt of [-1, 81, NaN, Infinity, '5', null]) expect(() => schema.validateSync({ tilt }, { strict: true })).toThrow('tilt')
  })

  it('weave words and values into phrases', () => {
    expect(phrase`every ${{ param: 'spacing' }} or so`).toEqual(['every ', { param: 'spacing' }, ' or so'])
  })
})

describe('sentences', () => {
  const text = (kind: string, params: Record<string, unknown>) => {
    const condition = CONDITIONS.get(kind)
    const values = { ...defaultsOf(condition.params), ...params } as never
    return phraseText(condition.sentence(values), condition.params, values)
  }
  it.each([
    [{ from: 3, to: null }, 'more than 3 m above the water'],
    [{ from: null, to: 2 }, 'less than 2 m above the water'],
    [{ from: 0.3, to: 1.2 }, '0.3–1.2 m above the water'],
    [{ from: null, to: -3.48 }, 'more than 3.48 m under the water'],
    [{ from: -3, to: -1 }, '1–3 m under the water'],
    [{ from: -2, to: 0 }, '0–2 m under the water'],
    [{ from: -1, to: 2 }, 'from 1 m under to 2 m above the water'],
    [{ from: -1, to: null }, 'from 1 m under the water up'],
    [{ from: null, to: null }, 'above or under the water'],
  ])('say heights at the water as one says them: %j', (above, words) => expect(text('above-water', { above })).toBe(words))

  it('say how near and how far, and what thins out all the way', () => {
    expect(text('planting', { manner: 'near', distance: 4 })).toBe('within 4 m of the planting')
    expect(text('planting', { manner: 'away', distance: 4 })).toBe('more than 4 m from the planting')
    expect(text('path', {})).toBe('within 3 m of the path')
    expect(text('path', { away: { from: 0, to: 3 }, thins: 'straight' })).toBe('0–3 m from the path, thinning out all the way')
  })
})

describe('texts with quantities', () => {
  it('keep numbers and their units together, and nothing else', () => {
    expect(unbroken('clear by 0.35 m, over 46 % of 2 km')).toBe('clear by 0.35\u00a0m, over 46\u00a0% of 2\u00a0km')
    expect(unbroken('of 3 metres, 5 more')).toBe('of 3 metres, 5 more')
  })
})
