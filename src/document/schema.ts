import * as yup from 'yup'
import { CONDITIONS } from '../core/conditions/index.ts'
import { isCurve } from '../core/drivers/curve.ts'
import { DRIVERS } from '../core/drivers/index.ts'
import { MOST_TRIANGLES } from '../core/ground/mesh-shape.ts'
import { MAX_SAMPLES } from '../core/ground/terrain.ts'
import type { Param, ParamSet, Registry, Span } from '../core/kinds.ts'
import type { Meadow } from '../core/meadow.ts'
import { DRIVER_TARGETS, MEADOW_VERSION } from '../core/meadow.ts'
import { PLANTINGS } from '../core/plantings/index.ts'

/** Validation of the document: every way in passes through here. The kinds' own parameters say the limits. */

const MAX_PLANTINGS = 500
const MAX_ASSETS = 2000
const MAX_OUTLINES = 1000
/** Points of all lines of one outline together. */
export const MAX_OUTLINE_POINTS = 20000
const MAX_WIDTH = 1000
const MAX_USES = 64
const MAX_IMAGES = 100
export const MAX_IMAGE_SIDE = 8192
const MAX_BEACONS = 500
const MAX_MESHES = 200
const MAX_HABITATS = 200

const text = (max: number) => yup.string().strict().defined().max(max)
const real = () => yup.number().strict().required()
const whole = () => real().integer()

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
  ref: () => text(100),
  formula: () => text(1000),
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

const hash = () => yup.string().strict().required().matches(/^[0-9a-f]{64}$/, '${path} is not the name of a blob')
const vector = () => yup.array().of(real()).length(3).required()

/** The `kind` and `params` members of a value whose kind is looked up in a registry. */
function kindMembers(kinds: Registry<{ readonly kind: string; readonly params: ParamSet }>, value: unknown) {
  const kind = (value as { kind?: unknown } | null)?.kind
  return {
    kind: yup
      .string()
      .strict()
      .required()
      .oneOf(kinds.all.map((one) => one.kind)),
    params: typeof kind === 'string' && kinds.has(kind) ? paramsSchema(kinds.get(kind).params) : yup.object().required(),
  }
}

const conditionSchema = yup.lazy((value: unknown) => {
  return yup
    .object({
      id: text(100).required(),
      ...kindMembers(CONDITIONS, value),
      on: yup.boolean().strict().required(),
      invert: yup.boolean().strict().required(),
    })
    .noUnknown()
    .strict()
})

const combine = () => yup.string().strict().required().oneOf(['all', 'any'])
const habitat = () => yup.array().of(conditionSchema).max(MAX_USES).required()
const colour = () => yup.string().strict().required().matches(/^#[0-9a-f]{6}$/, '${path} is no colour #rrggbb')

const driverSchema = yup.lazy((value: unknown) => {
  const tints = (value as { target?: unknown } | null)?.target === 'tint'
  const end = () => (tints ? colour() : real().min(-1000).max(1000))
  return yup
    .object({
      id: text(100).required(),
      ...kindMembers(DRIVERS, value),
      on: yup.boolean().strict().required(),
      target: yup.string().strict().required().oneOf(DRIVER_TARGETS),
      over: yup.object({ from: real().min(-1e6).max(1e6), to: real().min(-1e6).max(1e6) }).noUnknown().strict().required(),
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
})

const plantingSchema = yup.lazy((value: unknown) => {
  return yup
    .object({
      id: text(100).required(),
      ...kindMembers(PLANTINGS, value),
      name: text(200),
      colour: colour(),
      visible: yup.boolean().strict().required(),
      locked: yup.boolean().strict().required(),
      seed: whole().min(0).max(4294967295),
      mix: yup
        .array()
        .of(
          yup
            .object({ asset: text(100).required(), share: real().min(0).max(1e6), where: yup.lazy((where: unknown) => (where === undefined ? yup.mixed() : conditionSchema.resolve({ value: where }))) })
            .noUnknown()
            .strict(),
        )
        .max(64)
        .required(),
      habitat: habitat(),
      combine: combine(),
      drivers: yup.array().of(driverSchema).max(MAX_USES).required(),
      grounds: yup.array().of(text(100).required()).max(32).required(),
    })
    .noUnknown()
    .strict()
})

const assetSchema = yup
  .object({
    id: text(100).required(),
    name: text(200),
    category: text(100),
    tags: yup.array().of(text(100)).max(50).required(),
    licence: text(500),
    blob: hash(),
    standIns: yup.array().of(hash()).max(4).required(),
    size: vector(),
    base: yup.array().of(real()).max(24).required(),
    room: real().min(0).max(10000),
    triangles: yup.array().of(whole().min(0)).max(5).required(),
  })
  .noUnknown()
  .strict()

const groundSchema = yup
  .object({
    kind: yup.string().strict().required().oneOf(['terrain']),
    name: text(200),
    blob: hash(),
    columns: whole().min(2).max(MAX_SAMPLES),
    rows: whole().min(2).max(MAX_SAMPLES),
    sizeX: real().moreThan(0).max(1e6),
    sizeZ: real().moreThan(0).max(1e6),
    lowest: real(),
    highest: real(),
    source: text(500),
  })
  .noUnknown()
  .strict()
  .required()

const outlineSchema = yup
  .object({
    id: text(100).required(),
    kind: yup.string().strict().required().oneOf(['patch', 'path']),
    name: text(200),
    colour: colour(),
    visible: yup.boolean().strict().required(),
    locked: yup.boolean().strict().required(),
    smooth: yup.boolean().strict().required(),
    closed: yup.boolean().strict().required(),
    width: real().min(0).max(MAX_WIDTH),
    lines: yup
      .array()
      .max(1000)
      .required()
      .test('points', '${path} must hold pairs of finite numbers within 1,000 km, at most 20,000 pairs', (lines: unknown) => isLines(lines)),
  })
  .noUnknown()
  .strict()

/** Checked by hand: a schema for every number would take seconds for large outlines. */
function isLines(lines: unknown): boolean {
  if (!Array.isArray(lines)) return false
  let points = 0
  for (const line of lines) {
    if (!Array.isArray(line) || line.length % 2 !== 0) return false
    points += line.length / 2
    if (!line.every((value) => typeof value === 'number' && Math.abs(value) <= 1e6)) return false
  }
  return points <= MAX_OUTLINE_POINTS
}

const imageSchema = yup
  .object({
    id: text(100).required(),
    name: text(200),
    blob: hash(),
    columns: whole().min(1).max(MAX_IMAGE_SIDE),
    rows: whole().min(1).max(MAX_IMAGE_SIDE),
    x: real().min(-1e6).max(1e6),
    z: real().min(-1e6).max(1e6),
    sizeX: real().moreThan(0).max(1e6),
    sizeZ: real().moreThan(0).max(1e6),
    turn: real().min(-360).max(360),
  })
  .noUnknown()
  .strict()

const beaconSchema = yup
  .object({
    id: text(100).required(),
    name: text(200),
    colour: colour(),
    visible: yup.boolean().strict().required(),
    locked: yup.boolean().strict().required(),
    x: real().min(-1e6).max(1e6),
    z: real().min(-1e6).max(1e6),
    above: real().min(-1e4).max(1e4),
    reach: real().min(0.01).max(1e5),
    strength: real().min(0).max(1),
    falloff: yup.string().strict().required().oneOf(['straight', 'steep', 'round']),
  })
  .noUnknown()
  .strict()

const meshSchema = yup
  .object({
    id: text(100).required(),
    name: text(200),
    role: yup.string().strict().required().oneOf(['ground', 'obstacle', 'scenery']),
    blob: hash(),
    shape: hash(),
    triangles: whole().min(1).max(MOST_TRIANGLES),
    visible: yup.boolean().strict().required(),
    locked: yup.boolean().strict().required(),
    position: vector(),
    turn: vector(),
    size: real().moreThan(0).max(1e4),
  })
  .noUnknown()
  .strict()

const habitatSchema = yup
  .object({ id: text(100).required(), name: text(200), combine: combine(), uses: habitat() })
  .noUnknown()
  .strict()

const meadowSchema = yup
  .object({
    version: yup.number().required().oneOf([MEADOW_VERSION]),
    id: text(100).required(),
    name: text(200),
    ground: groundSchema,
    water: yup
      .object({ shown: yup.boolean().strict().required(), level: real().min(-12000).max(12000) })
      .noUnknown()
      .strict()
      .required(),
    assets: yup.array().of(assetSchema).max(MAX_ASSETS).required(),
    plantings: yup.array().of(plantingSchema).max(MAX_PLANTINGS).required(),
    outlines: yup.array().of(outlineSchema).max(MAX_OUTLINES).required(),
    images: yup.array().of(imageSchema).max(MAX_IMAGES).required(),
    beacons: yup.array().of(beaconSchema).max(MAX_BEACONS).required(),
    meshes: yup.array().of(meshSchema).max(MAX_MESHES).required(),
    habitats: yup.array().of(habitatSchema).max(MAX_HABITATS).required(),
    views: yup
      .array()
      .of(
        yup
          .object({ id: text(100).required(), name: text(200), position: vector(), target: vector() })
          .noUnknown()
          .strict(),
      )
      .max(200)
      .required(),
  })
  .noUnknown()
  .strict()

/** The document, or one sentence that says what in it is wrong. */
export type Checked = { readonly meadow: Meadow } | { readonly problem: string }

/** Checks a value of the current version from an untrusted source. */
export function checkMeadow(value: unknown): Checked {
  try {
    const meadow = meadowSchema.validateSync(value, { strict: true, abortEarly: true }) as Meadow
    const doubled = [meadow.assets, meadow.plantings, meadow.outlines, meadow.images, meadow.beacons, meadow.meshes, meadow.habitats, meadow.views]
      .map((list: readonly { id: string }[]) => firstDouble(list.map((entry) => entry.id)))
      .find((id) => id !== undefined)
    if (doubled) return { problem: `the name "${doubled}" is given to two things in it` }
    return { meadow }
  } catch (error) {
    if (error instanceof yup.ValidationError) return { problem: error.message }
    throw error
  }
}

function firstDouble(ids: readonly string[]): string | undefined {
  const seen = new Set<string>()
  return ids.find((id) => seen.size === seen.add(id).size)
}
