import * as yup from 'yup'
import { LIMITS } from '../core/limits.ts'
import type { ThingKind } from '../core/things/define.ts'
import type { Field } from '../core/things/fields.ts'
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
  lines: ({ most, points, farthest }) =>
    yup
      .array()
      .max(most)
      .required()
      .test(
        'points',
        `\${path} must hold pairs of finite numbers within ${(farthest / 1000).toLocaleString('en')} km, at most ${points.toLocaleString('en')} pairs`,
        (lines: unknown) => isLines(lines, points, farthest),
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

/** Checked by hand: a schema for every number would take seconds for large outlines. */
function isLines(lines: unknown, most: number, farthest: number): boolean {
  if (!Array.isArray(lines)) return false
  let points = 0
  for (const line of lines) {
    if (!Array.isArray(line) || line.length % 2 !== 0) return false
    points += line.length / 2
    if (!line.every((value) => typeof value === 'number' && Math.abs(value) <= farthest)) return false
  }
  return points <= most
}
