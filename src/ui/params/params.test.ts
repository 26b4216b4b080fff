import { CONDITIONS } from '../../core/fields/conditions/index.ts'
import { angle, defaultsOf, phrase, registry } from '../../core/kinds.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { paramsSchema } from '../../document/schema.ts'
import { normalShares, withShare } from '../field/shares.ts'
import { readQuantity, showQuantity, unbroken } from './quantity.ts'

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

  it('shows what it reads', () => {
    for (const [value, unit] of [[0.8, 'm'], [0.3, 'share'], [18, 'deg'], [1234567, 'count'], [-2.5, 'm']] as const)
      expect(readQuantity(showQuantity(value, unit), unit)).toBeCloseTo(value, 9)
  })
})

describe('shares of a mix', () => {
  const mix = [
    { asset: 'a', share: 3 },
    { asset: 'b', share: 1 },
    { asset: 'c', share: 4 },
  ]
  it('always add up, and keep the proportions of the others', () => {
    for (const share of [0, 0.1, 0.6, 1]) {
      const changed = withShare(mix, 1, share)
      expect(changed.reduce((sum, entry) => sum + entry.share, 0)).toBeCloseTo(1, 12)
      expect(changed[1].share).toBe(share)
      if (share < 1) expect(changed[0].share / changed[2].share).toBeCloseTo(3 / 4, 12)
    }
    expect(normalShares([{ asset: 'a', share: 0 }, { asset: 'b', share: 0 }])).toEqual([0.5, 0.5])
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

describe('texts with quantities', () => {
  it('keep numbers and their units together, and nothing else', () => {
    expect(unbroken('clear by 0.35 m, over 46 % of 2 km')).toBe('clear by 0.35\u00a0m, over 46\u00a0% of 2\u00a0km')
    expect(unbroken('of 3 metres, 5 more')).toBe('of 3 metres, 5 more')
  })
})
