import * as yup from 'yup'
import { CONDITIONS } from '../core/fields/conditions/index.ts'
import { isCurve } from '../core/fields/drivers/curve.ts'
import { DRIVERS } from '../core/fields/drivers/index.ts'
import { MAX_SAMPLES } from '../core/grounds/terrain.ts'
import type { Param, ParamSet, Registry, Span } from '../core/kinds.ts'
import type { Meadow } from '../core/meadow.ts'
import { DRIVER_TARGETS, MEADOW_VERSION } from '../core/meadow.ts'
import { nestingProblem } from '../core/posy/posy.ts'
import { PLANTINGS } from '../core/plantings/index.ts'
import { LIMITS } from '../core/limits.ts'
import { THINGS } from '../core/things/index.ts'
import { colour, elevation, hash, place, real, text, unitTurn, vector, whole } from './schema-parts.ts'
import { thingSchema } from './thing-schema.ts'

/** Validation of the document: every way in passes through here. The kinds' own parameters say the limits. */

function spanSchema(param: Extract<Param, { type: 'span' }>): yup.Schema<Span> {
  const end = () => {
    const bounded = yup.number().strict().min(param.min).max(param.max).defined()
    return param.open ? bounded.nullable() : bounded
  }
  return yup
    .object({ from: end(), to: end() })
    .noUnknown()
    .strict()
    .required() as unknown as yup.Schema<Span>
}

const PARAM_SCHEMAS: { [T in Param['type']]: (param: Extract<Param, { type: T }>) => yup.Schema } = {
  number: (param) => real().min(param.min).max(param.max),
  span: spanSchema,
  choice: (param) => yup.string().strict().required().oneOf(param.options.map((option) => option.value)),
  flag: () => yup.boolean().strict().required(),
  seed: () => whole().min(0).max(4294967295),
  ref: () => text(LIMITS.word),
  formula: () => text(LIMITS.formula),
}

/** The schema of one parameter. */
export function paramSchema(param: Param): yup.Schema {
  return (PARAM_SCHEMAS[param.type] as (p: Param) => yup.Schema)(param)
}

/** The schema of a whole parameter set; unknown names are refused. */
export function paramsSchema(params: ParamSet): yup.Schema {
  return yup
    .object(Object.fromEntries(Object.entries(params).map(([key, param]) => [key, paramSchema(param)])))
    .noUnknown()
    .strict()
    .required()
}


type Kinds = Registry<{ readonly kind: string; readonly params: ParamSet }>

/** The `kind` and `params` members of a value of a kind; of none where it is not known. */
function kindMembers(kinds: Kinds, kind: string | null) {
  return {
    kind: yup
      .string()
      .strict()
      .required()
      .oneOf(kinds.all.map((one) => one.kind)),
    params: kind !== null ? paramsSchema(kinds.get(kind).params) : yup.object().required(),
  }
}

/** A schema that depends on the kind of the value, made once for each; `variant` tells apart values of one kind that differ in more. */
function byKind(kinds: Kinds, make: (members: ReturnType<typeof kindMembers>, variant: boolean) => yup.Schema, variant: (value: unknown) => boolean = () => false): yup.Schema {
  const made = new Map<string, yup.Schema>()
  return yup.lazy((value: unknown) => {
    const named = (value as { kind?: unknown } | null)?.kind
    const kind = typeof named === 'string' && kinds.has(named) ? named : null
    const key = `${variant(value)}/${kind ?? ''}`
    let schema = made.get(key)
    if (!schema) {
      schema = make(kindMembers(kinds, kind), variant(value))
      made.set(key, schema)
    }
    return schema
  }) as unknown as yup.Schema
}

const conditionSchema = byKind(CONDITIONS, (members) =>
  yup
    .object({
      id: text(LIMITS.word).required(),
      ...members,
      on: yup.boolean().strict().required(),
      invert: yup.boolean().strict().required(),
    })
    .noUnknown()
    .strict(),
)

const combine = () => yup.string().strict().required().oneOf(['all', 'any'])
const habitat = () => yup.array().of(conditionSchema).max(LIMITS.uses).required()

const driverSchema = byKind(
  DRIVERS,
  (members, tints) => {
    const end = () => (tints ? colour() : real().min(-1000).max(1000))
    return yup
      .object({
        id: text(LIMITS.word).required(),
        ...members,
        on: yup.boolean().strict().required(),
        target: yup.string().strict().required().oneOf(DRIVER_TARGETS),
        over: yup.object({ from: place(), to: place() }).noUnknown().strict().required(),
        curve: yup
          .array()
          .of(real())
          .required()
          .test('curve', '${path} is no curve from x = 0 to x = 1', (points) => Array.isArray(points) && isCurve(points as number[])),
        low: end(),
        high: end(),
      })
      .noUnknown()
      .strict()
  },
  (value) => (value as { target?: unknown } | null)?.target === 'tint',
)

const anything = yup.mixed()

const riddenSchema = yup
  .object({
    thing: yup.string().oneOf(['peg', 'instance']).required(),
    id: text(LIMITS.word).required(),
    low: whole().min(0).max(4294967295),
    high: whole().min(0).max(4294967295),
    place: vector(),
    turn: unitTurn(),
    size: real().moreThan(0),
  })
  .noUnknown()
  .strict()
  .optional()
  .default(undefined)

const baseSchema = yup
  .object({ host: text(LIMITS.word).required(), place: vector(), turn: unitTurn(), size: real().moreThan(0).max(LIMITS.meshSize), rides: riddenSchema })
  .noUnknown()
  .strict()
  .nullable()
  .defined()
  .default(undefined)

const plantingSchema = byKind(PLANTINGS, (members) =>
  yup
    .object({
      id: text(LIMITS.word).required(),
      ...members,
      name: text(LIMITS.name),
      colour: colour(),
      visible: yup.boolean().strict().required(),
      locked: yup.boolean().strict().required(),
      freeWhileHidden: yup.boolean().strict().required(),
      seed: whole().min(0).max(4294967295),
      mix: yup
        .array()
        .of(
          yup
            .object({ asset: text(LIMITS.word).required(), share: real().min(0).max(LIMITS.share), where: yup.lazy((where: unknown) => (where === undefined ? anything : conditionSchema)), elsewhere: yup.number().strict().min(0).max(1) })
            .noUnknown()
            .strict(),
        )
        .max(LIMITS.mix)
        .required(),
      habitat: habitat(),
      combine: combine(),
      drivers: yup.array().of(driverSchema).max(LIMITS.uses).required(),
      grounds: yup
        .array()
        .of(text(LIMITS.word).required())
        .max(LIMITS.grounds)
        .required()
        .test('twice', '${path} names a ground twice', (grounds) => new Set(grounds).size === (grounds?.length ?? 0)),
      along: yup
        .array()
        .of(text(LIMITS.word).required())
        .max(LIMITS.outlines)
        .required()
        .test('twice', '${path} names a path twice', (along) => new Set(along).size === (along?.length ?? 0)),
      base: baseSchema,
    })
    .noUnknown()
    .strict(),
)

const partSchema = yup
  .object({ asset: text(LIMITS.word).required(), place: vector(), turn: unitTurn(), size: vector(), tint: whole().min(0).max(4294967295) })
  .noUnknown()
  .strict()

const assetSchema = yup
  .object({
    id: text(LIMITS.word).required(),
    number: whole().min(0).max(LIMITS.assetNumbers - 1),
    name: text(LIMITS.name),
    category: text(LIMITS.word),
    tags: yup.array().of(text(LIMITS.word)).max(LIMITS.tags).required(),
    licence: text(LIMITS.licence),
    parts: yup.array().of(partSchema).max(LIMITS.parts).required(),
    drapes: yup.boolean().strict().required(),
    blob: yup.lazy((blob: unknown) => (blob === '' ? text(0) : hash())) as unknown as yup.Schema,
    standIns: yup.array().of(hash()).max(4).required(),
    size: vector(),
    base: yup.array().of(real()).max(24).required(),
    room: real().min(0).max(LIMITS.room),
    triangles: yup.array().of(whole().min(0)).max(5).required(),
  })
  .noUnknown()
  .strict()
  .test('made', '${path} has no model and no parts, or both', (asset: unknown) => {
    const { blob, parts } = (asset ?? {}) as { blob?: unknown; parts?: unknown }
    return (blob === '') === (Array.isArray(parts) && parts.length > 0)
  })

const openedSchema = yup
  .object({
    asset: text(LIMITS.word).required(),
    planting: text(LIMITS.word).required(),
    place: vector(),
    turn: unitTurn(),
    size: real().moreThan(0),
    instead: yup.object({ planting: text(LIMITS.word).required(), low: whole().min(0).max(4294967295), high: whole().min(0).max(4294967295) }).noUnknown().strict().nullable().defined().default(undefined),
  })
  .noUnknown()
  .strict()
  .nullable()
  .defined()
  .default(undefined)

/** Coordinates of any system in use are below this. */
const COORDINATE = 1e9

const georeferenceSchema = yup
  .object({
    system: text(LIMITS.word),
    degrees: yup.boolean().strict().required(),
    x: real().min(-COORDINATE).max(COORDINATE),
    y: real().min(-COORDINATE).max(COORDINATE),
    metresX: real().moreThan(0).max(LIMITS.place),
    metresY: real().moreThan(0).max(LIMITS.place),
  })
  .noUnknown()
  .strict()
  .nullable()
  .defined()
  .default(undefined)

const groundSchema = yup
  .object({
    kind: yup.string().strict().required().oneOf(['terrain']),
    name: text(LIMITS.name),
    blob: hash(),
    columns: whole().min(2).max(MAX_SAMPLES),
    rows: whole().min(2).max(MAX_SAMPLES),
    sizeX: real().moreThan(0).max(LIMITS.place),
    sizeZ: real().moreThan(0).max(LIMITS.place),
    lowest: elevation(),
    highest: elevation(),
    source: text(LIMITS.source),
    georeference: georeferenceSchema,
  })
  .noUnknown()
  .strict()
  .required()

const habitatSchema = yup
  .object({ id: text(LIMITS.word).required(), name: text(LIMITS.name), combine: combine(), uses: habitat() })
  .noUnknown()
  .strict()

const waterSchema = yup
  .object({ shown: yup.boolean().strict().required(), level: elevation() })
  .noUnknown()
  .strict()
  .required()

/** The name of a meadow. */
export const NAME: yup.Schema = text(LIMITS.name)

/** The number that the next asset gets. */
export const NEXT_ASSET: yup.Schema = whole().min(0).max(LIMITS.assetNumbers)

/** What a meadow has one of. */
export const MEMBERS = { ground: groundSchema as yup.Schema, water: waterSchema as yup.Schema, opened: openedSchema as unknown as yup.Schema }

/** How many there may be of something that a meadow has a list of, what each must be, and its words. */
interface ListWords {
  readonly one: string
  readonly many: string
  readonly most: number
  readonly schema: yup.Schema
}

/** What a meadow has lists of, in the order in which they are checked. */
export const LIST_WORDS: ReadonlyMap<string, ListWords> = new Map<string, ListWords>([
  ['assets', { one: 'asset', many: 'assets', most: LIMITS.assets, schema: assetSchema }],
  ['plantings', { one: 'planting', many: 'plantings', most: LIMITS.plantings, schema: plantingSchema }],
  ...THINGS.all.map((kind): [string, ListWords] => [kind.list, { ...kind, schema: thingSchema(kind) }]),
  ['habitats', { one: 'kept habitat', many: 'kept habitats', most: LIMITS.habitats, schema: habitatSchema }],
])

/** One of a list, as far as all of them are alike. */
export interface Listed {
  readonly id: string
  readonly name: string
}

/** The lists of a meadow by their names. */
export function listsOf(meadow: Meadow): Readonly<Record<string, readonly Listed[]>> {
  return meadow as unknown as Readonly<Record<string, readonly Listed[]>>
}

const meadowSchema = yup
  .object({
    version: yup.number().required().oneOf([MEADOW_VERSION]),
    id: text(LIMITS.word).required(),
    name: NAME,
    nextAsset: NEXT_ASSET,
    ...MEMBERS,
    ...Object.fromEntries([...LIST_WORDS].map(([name, { schema, most }]) => [name, yup.array().of(schema).max(most).required()])),
  })
  .noUnknown()
  .strict()

/** The document, or one sentence that says what in it is wrong. */
export type Checked = { readonly meadow: Meadow } | { readonly problem: string }

/** Checks a value of the current version from an untrusted source. */
export function checkMeadow(value: unknown): Checked {
  try {
    const meadow = meadowSchema.validateSync(value, { strict: true, abortEarly: true }) as Meadow
    const doubled = [...LIST_WORDS.keys()].map((name) => firstDouble(listsOf(meadow)[name].map(({ id }) => id))).find((id) => id !== undefined)
    if (doubled) return { problem: `the name "${doubled}" is given to two things in it` }
    const nesting = nestingProblem(meadow.assets)
    if (nesting) return { problem: nesting }
    if (!numbersHold(meadow.assets, meadow.nextAsset)) return { problem: 'two assets in it have one number, or the next one would' }
    return { meadow }
  } catch (error) {
    if (error instanceof yup.ValidationError) return { problem: error.message }
    throw error
  }
}

/** Whether each asset has a number of its own, and the next one will. */
export function numbersHold(assets: readonly { readonly number: unknown }[], nextAsset: unknown): boolean {
  const numbers = new Set(assets.map(({ number }) => number))
  return numbers.size === assets.length && [...numbers].every((number) => typeof number === 'number' && typeof nextAsset === 'number' && number < nextAsset)
}

function firstDouble(ids: readonly string[]): string | undefined {
  const seen = new Set<string>()
  return ids.find((id) => seen.size === seen.add(id).size)
}
