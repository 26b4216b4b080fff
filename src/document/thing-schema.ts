import * as yup from 'yup'
import { LIMITS } from '../core/limits.ts'
import type { ThingKind } from '../core/things/define.ts'
import type { Field } from '../core/things/fields.ts'
import { isPiece } from './pieces.ts'
import { colour, hash, real, text, vector, whole } from './schema-parts.ts'

/** The schema of each type of field. */
const FIELD_SCHEMAS: { [T in Field['type']]: (field: Extract<Field, { type: T }>) => yup.Schema } = {
  text: ({ max }) => text(max),
  flag: () => yup.boolean().strict().required(),
  number: ({ min, max }) => real().min(min).max(max),
  size: ({ max }) => real().moreThan(0).max(max),
  whole: ({ min, max }) => whole().min(min).max(max),
  'one-of': ({ options }) => yup.string().strict().required().oneOf([...options]),
  colour,
  blob: hash,
  vector,
  ids: ({ most }) => yup.array().of(text(LIMITS.word).required()).max(most).required(),
  lines: ({ most, points, farthest, numbers = 2, mayMiss }) =>
    (mayMiss ? yup.array().max(most).optional().default(undefined) : yup.array().max(most).required())
      .test(
        'points',
        `\${path} must hold ${numbers === 2 ? 'pairs' : numbers === 1 ? 'lists' : `groups of ${numbers}`} of finite numbers within ${(farthest / 1000).toLocaleString('en')} km, at most ${points.toLocaleString('en')} of them`,
        (lines: unknown) => (mayMiss && lines === undefined) || isLines(lines, points, farthest, numbers),
      ),
}

/** The schema of a kind of thing. */
export function thingSchema({ fields, taken = [] }: ThingKind): yup.Schema {
  const members = Object.entries(fields as Readonly<Record<string, Field>>).map(([key, field]) => [key, (FIELD_SCHEMAS[field.type] as (one: Field) => yup.Schema)(field)])
  return yup
    .object({ id: text(LIMITS.word).required().notOneOf([...taken], '${path} is taken'), name: text(LIMITS.name), ...(Object.fromEntries(members) as Record<string, yup.Schema>) })
    .noUnknown()
    .strict()
}

/** The numbers of a list that may be in pieces; none when it is no list. */
function partsOf(list: unknown): ArrayLike<unknown>[] {
  if (Array.isArray(list)) return [list]
  const { pieces, ...rest } = (typeof list === 'object' && list !== null ? list : {}) as { readonly pieces?: unknown }
  if (!Array.isArray(pieces) || Object.keys(rest).length > 0) return []
  const parts = (pieces as unknown[]).map((piece) => (isPiece(piece) ? piece.values : null))
  return parts.every((part) => part !== null) ? parts : []
}

/** Pieces whose numbers lie within a distance: they never change, so each is looked through once. */
const seen = new WeakMap<object, number>()

function holdsWithin(part: ArrayLike<unknown>, farthest: number): boolean {
  if ((seen.get(part) ?? Infinity) <= farthest) return true
  for (let i = 0; i < part.length; i++) {
    const value = part[i]
    if (typeof value !== 'number' || !(Math.abs(value) <= farthest)) return false
  }
  if (ArrayBuffer.isView(part)) seen.set(part, farthest)
  return true
}

/** Checked by hand: a schema for every number would take seconds for large outlines. */
function isLines(lines: unknown, most: number, farthest: number, numbers: number): boolean {
  if (!Array.isArray(lines)) return false
  let points = 0
  for (const line of lines) {
    const parts = partsOf(line)
    const length = parts.reduce((sum, part) => sum + part.length, 0)
    if (parts.length === 0 || length % numbers !== 0) return false
    points += length / numbers
    if (!parts.every((part) => holdsWithin(part, farthest))) return false
  }
  return points <= most
}
