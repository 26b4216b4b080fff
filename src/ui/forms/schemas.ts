import * as yup from 'yup'
import { LIMITS } from '../../core/limits.ts'
import type { PlacedMesh } from '../../core/meadow.ts'
import { ROLES } from '../../document/edits/meshes.ts'
import type { Distance, Gaps } from '../../formats/height-settle.ts'
import type { Placing } from '../../formats/outline-placing.ts'
import type { Repair } from '../../formats/repair.ts'
import { letters, nameText } from './texts.ts'

/** What the sheets ask for, each with the sentence that its field says to what it does not take. */

const tags = letters(LIMITS.tags * (LIMITS.word + 2))
  .test('few', ({ value }: { value: string }) => `${tagsOf(value).length} tags; at most ${LIMITS.tags} are kept.`, (value) => tagsOf(value).length <= LIMITS.tags)
  .test('short', ({ value }: { value: string }) => `“${(tooLong(value) ?? '').slice(0, 20)}…” is longer than ${LIMITS.word} letters; parts go by commas.`, (value) => tooLong(value) === undefined)

/** Tags that were typed with commas between them. */
export function tagsOf(text: string): string[] {
  return text
    .split(',')
    .map((tag) => tag.trim())
    .filter(Boolean)
}

function tooLong(text: string): string | undefined {
  return tagsOf(text).find((tag) => tag.length > LIMITS.word)
}

const repair = yup
  .object({
    up: yup.string<Repair['up']>().oneOf(['x', 'y', 'z']).defined(),
    scale: yup.number().positive().defined(),
    pivot: yup.string<Repair['pivot']>().oneOf(['base', 'middle', 'keep']).defined(),
    flip: yup.boolean().defined(),
    tint: yup.string().matches(/^#[0-9a-f]{6}$/).defined(),
  })
  .nullable()
  .defined()
  // An object without a value would be given one of its fields' defaults.
  .default(null)

const shelved = { category: letters(LIMITS.word), tags, licence: letters(LIMITS.licence) }

/** One model on its way to the shelf, or into the meadow. */
export const modelForm = yup.object({
  name: nameText,
  ...shelved,
  role: yup.string<PlacedMesh['role']>().oneOf(ROLES.map(({ value }) => value)).defined(),
  /** Null: as its file suggests. */
  repair,
})

/** Many models at once. */
export const modelsForm = yup.object({
  names: yup.array().of(yup.object({ name: nameText })).defined(),
  ...shelved,
  /** For all of them; null: each as its file suggests. */
  alike: repair,
})

const height = yup.number().min(-LIMITS.height).max(LIMITS.height).defined()
const side = yup.number().positive().max(LIMITS.place).defined()

/** A height file on its way to be the ground. */
export const groundForm = yup.object({
  distance: yup.string<Distance>().oneOf(['metres', 'feet', 'degrees']).defined(),
  latitude: yup.number().min(-89).max(89).defined(),
  sizeX: side,
  sizeZ: side,
  lowest: height,
  highest: height.when('lowest', ([lowest]: number[], schema) => schema.min(lowest, 'The highest point must not lie below the lowest.')),
  /** Place in the list of units that heights can be in. */
  unit: yup.number().integer().min(0).defined(),
  gaps: yup.string<Gaps>().oneOf(['holes', 'nearest', 'smooth', 'level']).defined(),
  level: height,
  source: letters(LIMITS.source),
})

/** Where outlines belong that could lie in several places. */
export const outlinesForm = yup.object({ placing: yup.string<Placing>().oneOf(['degrees', 'middle', 'reference', 'numbers']).defined() })

export type ModelForm = yup.InferType<typeof modelForm>
export type ModelsForm = yup.InferType<typeof modelsForm>
export type GroundForm = yup.InferType<typeof groundForm>
export type OutlinesForm = yup.InferType<typeof outlinesForm>
