import * as yup from 'yup'
import { LIMITS } from '../core/limits.ts'

/** Pieces that the schemas of all parts of the document are made of. */

export const text = (max: number) => yup.string().strict().defined().max(max)
export const real = () => yup.number().strict().required().test('finite', '${path} is no finite number', (value) => value === undefined || Number.isFinite(value))
export const whole = () => real().integer()
export const place = () => real().min(-LIMITS.place).max(LIMITS.place)
export const elevation = () => real().min(-LIMITS.height).max(LIMITS.height)
export const hash = () => yup.string().strict().required().matches(/^[0-9a-f]{64}$/, '${path} is not the name of a blob')
export const vector = () => yup.array().of(real()).length(3).required()
/** A quaternion of length 1, as near as single numbers tell. */
export const unitTurn = () =>
  yup
    .array()
    .of(real())
    .length(4)
    .required()
    .test('unit', '${path} is no turn', (turn) => Array.isArray(turn) && Math.abs(Math.hypot(...(turn as number[])) - 1) < 1e-3)
export const colour = () => yup.string().strict().required().matches(/^#[0-9a-f]{6}$/, '${path} is no colour #rrggbb')
