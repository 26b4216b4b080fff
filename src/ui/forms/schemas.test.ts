import { ValidationError } from 'yup'
import { LIMITS } from '../../core/limits.ts'
import { groundForm, modelForm, modelsForm, tagsOf } from './schemas.ts'
import { nameProblem } from './texts.ts'

/** What a form says, by field. */
function told(schema: { validateSync(value: unknown, options: { abortEarly: boolean }): unknown }, value: unknown): Record<string, string> {
  try {
    schema.validateSync(value, { abortEarly: false })
    return {}
  } catch (error) {
    return Object.fromEntries((error as ValidationError).inner.map(({ path, message }) => [path, message]))
  }
}

const model = { name: 'Post', category: 'Brought in', tags: '', licence: '', role: 'ground', repair: null }
const ground = { distance: 'metres', latitude: 45, sizeX: 100, sizeZ: 50, lowest: 0, highest: 10, unit: 0, gaps: 'holes', level: 0, source: '' }

test('what is sound is taken as it is, without the blanks around it', () => {
  expect(modelForm.validateSync({ ...model, name: '  Post ', licence: ' own ' })).toEqual({ ...model, licence: 'own' })
  expect(modelForm.validateSync({ ...model, repair: { up: 'z', scale: 0.01, pivot: 'keep', flip: true, tint: '#8090a0' } }).repair).toEqual({ up: 'z', scale: 0.01, pivot: 'keep', flip: true, tint: '#8090a0' })
  expect(groundForm.validateSync(ground)).toEqual(ground)
  expect(modelsForm.validateSync({ names: [{ name: 'A' }, { name: 'B' }], category: '', tags: '', licence: '', alike: null })).toMatchObject({ alike: null, names: [{ name: 'A' }, { name: 'B' }] })
})

test('what is not taken is said of its field, in a sentence', () => {
  expect(told(modelForm, { ...model, name: ' \t ' })).toEqual({ name: 'Empty; a name is wanted.' })
  expect(told(modelForm, { ...model, name: 'x'.repeat(LIMITS.name), licence: 'y'.repeat(LIMITS.licence + 1) })).toEqual({ licence: '501 letters; at most 500 are kept, so shorten it.' })
  expect(told(modelsForm, { names: [{ name: 'A' }, { name: '' }], category: 'x'.repeat(LIMITS.word + 1), tags: '', licence: '', alike: null })).toEqual({
    'names[1].name': 'Empty; a name is wanted.',
    category: '101 letters; at most 100 are kept, so shorten it.',
  })
  expect(told(groundForm, { ...ground, lowest: 11 })).toEqual({ highest: 'The highest point must not lie below the lowest.' })
  expect(told(groundForm, { ...ground, lowest: 10 })).toEqual({})
})

test('tags: as many and as long as the document keeps, blanks between commas aside', () => {
  expect(tagsOf(' wet , ,old stone,')).toEqual(['wet', 'old stone'])
  const many = (count: number, long: number) => Array.from({ length: count }, (_, i) => String(i).padEnd(long, 'x')).join(' , ')
  expect(told(modelForm, { ...model, tags: many(LIMITS.tags, LIMITS.word - 3) })).toEqual({})
  expect(told(modelForm, { ...model, tags: many(LIMITS.tags + 1, 3) })).toEqual({ tags: '51 tags; at most 50 are kept.' })
  expect(told(modelForm, { ...model, tags: many(1, LIMITS.word) })).toEqual({})
  expect(told(modelForm, { ...model, tags: `wet, ${many(1, LIMITS.word + 1)}` }).tags).toMatch(/is longer than 100 letters/)
})

test('a name is refused empty or too long, and else not', () => {
  expect(nameProblem('')).toMatch(/^Empty/)
  expect(nameProblem('x'.repeat(LIMITS.name + 1))).toMatch(/^201 letters/)
  expect(nameProblem(' Pines ')).toBeNull()
})
