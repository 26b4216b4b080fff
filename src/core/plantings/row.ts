import type { ParamValue, Phrase, ValuesOf } from '../kinds.ts'
import { angle, choice, flag, length, number, phrase } from '../kinds.ts'
import type { Frames } from '../order/frames.ts'
import { framesOf } from '../order/frames.ts'
import type { Direction } from '../order/row.ts'
import { framesOfRow, outgrown } from '../order/row.ts'
import type { Step } from '../order/step.ts'
import { runOfSteps, stepOfRun } from '../order/step.ts'
import { definePlanting } from './define.ts'
import { onBase, patternOf, PATTERN_PARAMS, prepareInOrder, tooMany } from './pattern.ts'

const fold = 'how-many'
const far = { fold, min: -1000, max: 1000, step: 0.05 } as const

/** The settings of one direction of a row; `words` name what it counts, `shown` when it is there. */
function directionParams<const N extends '1' | '2' | '3'>(n: N, words: string, count: number, east: number, shown: readonly string[]) {
  const shownWhen = { shownWhen: { param: 'directions', is: shown } }
  const at = `${words}: `
  return {
    [`count${n}`]: number('count', count, { fold, label: words, help: 'How many there are.', min: 1, max: 400000, step: 1, ...shownWhen }),
    [`east${n}`]: length(east, { ...far, label: `${at}to the east`, help: 'How far to the east of its base each is moved on.', ...shownWhen }),
    [`south${n}`]: length(0, { ...far, label: `${at}to the south`, help: 'How far to the south of its base each is moved on.', ...shownWhen }),
    [`up${n}`]: length(0, { ...far, label: `${at}up`, help: 'How far up each is moved on.', ...shownWhen }),
    [`turn${n}`]: angle(0, { fold, label: `${at}turned`, help: 'How far each is turned on, and with it the way to the next.', min: -36000, max: 36000, step: 1, ...shownWhen }),
    [`about${n}`]: choice('up', [{ value: 'up', label: 'about up' }, { value: 'east', label: 'about its east' }, { value: 'south', label: 'about its south' }], { fold, label: `${at}about`, help: 'The axis that each is turned about.', ...shownWhen }),
    [`factor${n}`]: number('factor', 1, { fold, label: `${at}sized`, help: 'Factor on the size of the one before.', min: 0.01, max: 100, step: 0.01, ...shownWhen }),
  } as Record<`count${N}` | `east${N}` | `south${N}` | `up${N}` | `turn${N}` | `factor${N}`, ReturnType<typeof number>> & Record<`about${N}`, ReturnType<typeof choice<'up' | 'east' | 'south'>>>
}

const ROW_PARAMS = {
  directions: choice('1', [{ value: '1', label: 'one direction' }, { value: '2', label: 'two directions' }, { value: '3', label: 'three directions' }], { fold, label: 'In', help: 'A row, rows beside each other, or a box of rows.' }),
  given: choice('step', [{ value: 'step', label: 'from each to the next' }, { value: 'run', label: 'from the first to the last' }, { value: 'fit', label: 'from each to the next, as many as fit' }], { fold, label: 'Numbers are', help: 'Whether the numbers below are those of a step, or of the whole run; and whether a length says how many there are.' }),
  fit1: length(12, { fold, label: 'Length to fill', help: 'As many as fit into it, the first at its beginning.', max: 100000, step: 0.5, shownWhen: { param: 'given', is: ['fit'] } }),
  centred: flag(false, { fold, label: 'Its middle on its base', help: 'All of it stands about its base, not from there on.' }),
  ...directionParams('1', 'Members', 9, 1, ['1', '2', '3']),
  ...directionParams('2', 'Rows', 3, 0, ['2', '3']),
  ...directionParams('3', 'Layers', 2, 0, ['3']),
  ...PATTERN_PARAMS,
}

export type RowValues = ValuesOf<typeof ROW_PARAMS>

/** How a direction is set. */
function stepOf(p: RowValues, n: 1 | 2 | 3): Step {
  return { move: [p[`east${n}`], p[`up${n}`], p[`south${n}`]], axis: p[`about${n}`], degrees: p[`turn${n}`], factor: p[`factor${n}`] }
}

/** How many there are in a direction: of the first, as many as fit where a length is given. */
function countOf(p: RowValues, n: 1 | 2 | 3): number {
  if (n > 1 || p.given !== 'fit') return Math.round(p[`count${n}`])
  const { move: [x, y, z] } = stepOf(p, 1)
  const apart = Math.sqrt(x * x + y * y + z * z)
  // A hair over a whole number of them is rounding.
  return apart > 0 ? Math.floor(p.fit1 / apart + 1e-9) + 1 : 1
}

/** The directions of a row, by steps; null where a whole run goes round in whole circles, so that no step leads there. */
export function directionsOf(p: RowValues): Direction[] | null {
  const found = ([1, 2, 3] as const).slice(0, Number(p.directions)).map((n) => {
    const count = countOf(p, n)
    const own = stepOf(p, n)
    const step = p.given === 'run' ? stepOfRun(own, count - 1) : own
    return step && { count, step }
  })
  return found.every((one) => one !== null) ? found : null
}

const NAMES = { 1: 'Members', 2: 'Rows', 3: 'Layers' } as const

/** The settings that give the same members, told the other way. Null where they cannot be told so. */
export function toldAs(p: RowValues, given: RowValues['given']): Record<string, ParamValue> | null {
  if (given === p.given) return {}
  // What fits a length is told by steps; a count then stands for the length, or the other way round.
  const { move: [x, y, z] } = stepOf(p, 1)
  if (p.given === 'fit') return { ...(toldAs({ ...p, count1: countOf(p, 1), given: 'step' }, given) ?? {}), count1: countOf(p, 1), given }
  if (given === 'fit' && p.given === 'step') return { given, fit1: (Math.round(p.count1) - 1) * Math.sqrt(x * x + y * y + z * z) }
  if (given === 'fit') {
    const steps = toldAs(p, 'step')
    return steps && { ...steps, ...toldAs({ ...p, ...steps } as RowValues, 'fit') }
  }
  const changed: Record<string, ParamValue> = { given }
  for (const n of [1, 2, 3] as const) {
    const steps = Math.max(1, Math.round(p[`count${n}`]) - 1)
    const other = given === 'run' ? runOfSteps(stepOf(p, n), steps) : stepOfRun(stepOf(p, n), steps)
    if (!other) return null
    Object.assign(changed, { [`east${n}`]: other.move[0], [`up${n}`]: other.move[1], [`south${n}`]: other.move[2], [`turn${n}`]: other.degrees, [`factor${n}`]: other.factor })
  }
  return changed
}

/** Members below and above these factors are none any more. */
const SIZES = { least: 1e-4, most: 1e4 }

function problemOf(p: RowValues): string | null {
  const shown = ([1, 2, 3] as const).slice(0, Number(p.directions))
  const many = tooMany(shown.reduce<number>((all, n) => all * countOf(p, n), 1))
  if (many) return many
  const directions = directionsOf(p)
  if (!directions) return 'The whole run goes round in whole circles, so that the steps in between cannot be told; give the numbers from each to the next.'
  for (const [k, { count, step }] of directions.entries()) {
    const name = NAMES[shown[k]]
    const at = outgrown(step.factor, count, SIZES.least, SIZES.most)
    if (at !== null) return `${name}: sized by ${Number(step.factor.toPrecision(3))} again and again, number ${at + 1} would be ${step.factor < 1 ? 'nothing any more' : 'larger than anything'}; choose a factor nearer to 1 or a lower count.`
    if (count > 1 && step.move.every((one) => one === 0) && step.degrees === 0 && step.factor === 1) return `${name}: all ${count.toLocaleString('en')} would stand in the same place; say how far each is moved on.`
  }
  return null
}

/** The frames of a row as it is set. */
function rowOf(p: RowValues): Frames {
  const frames = framesOfRow(directionsOf(p) ?? [])
  if (!p.centred) return frames
  const { place, count } = frames
  for (let c = 0; c < 3; c++) {
    let [low, high] = [Infinity, -Infinity]
    for (let k = 0; k < count; k++) {
      low = Math.min(low, place[3 * k + c])
      high = Math.max(high, place[3 * k + c])
    }
    for (let k = 0; k < count; k++) place[3 * k + c] -= (low + high) / 2
  }
  return frames
}

/** How members of the first direction are moved on, turned and sized. */
function firstStepWords(p: RowValues): Phrase {
  const { east1, south1, up1, turn1, factor1 } = p
  const level = Math.abs(east1) >= Math.abs(south1) ? ({ param: 'east1', turned: east1 < 0 } as const) : ({ param: 'south1', turned: south1 < 0 } as const)
  const goes = east1 !== 0 || south1 !== 0
  const slanting = east1 !== 0 && south1 !== 0
  const all = p.given === 'run'
  const moved = slanting ? { ...level, text: `${Number(Math.sqrt(east1 * east1 + south1 * south1).toPrecision(3))} m` } : level
  return [
    ...(goes ? (all ? phrase` over ${moved}` : phrase`, one every ${moved}`) : []),
    ...(up1 === 0 ? [] : [all ? ', in all ' : ', each ', { param: 'up1', turned: up1 < 0 }, up1 < 0 ? ' lower' : ' higher']),
    ...(turn1 === 0 ? [] : phrase`, turned on ${{ param: 'turn1' }}`),
    ...(factor1 === 1 ? [] : phrase`, sized ${{ param: 'factor1' }} times the one before`),
  ]
}

/** Things in a row, in rows, or in a box of rows, each a step from the one before. */
export const row = definePlanting({
  kind: 'row',
  label: 'Row',
  help: 'Stands in one, two or three directions, each a step from the one before: moved, turned, sized.',
  params: ROW_PARAMS,
  ...patternOf<RowValues>(),
  lineReach: null,
  based: true,
  howMany: (p): Phrase => {
    const first = p.given === 'fit' ? phrase`${{ param: 'fit1' }} long` : phrase`${{ param: 'count1' }} in a row`
    const many = [phrase``, first, phrase`${{ param: 'count2' }} rows of ${{ param: 'count1' }}`, phrase`${{ param: 'count3' }} layers of ${{ param: 'count2' }} rows of ${{ param: 'count1' }}`]
    const rows = p.given === 'fit' ? [phrase``, first, phrase`${{ param: 'count2' }} rows, ${{ param: 'fit1' }} long`, phrase`${{ param: 'count3' }} layers of ${{ param: 'count2' }} rows, ${{ param: 'fit1' }} long`] : many
    return [...rows[Number(p.directions)], ...firstStepWords(p)]
  },
  apart: ({ east1, south1, up1 }) => Math.max(0.05, Math.sqrt(east1 * east1 + south1 * south1 + up1 * up1)),
  needs: () => null,
  problem: (values) => problemOf(values),
  // Told the other way, the members stay; where that cannot be told, the numbers stay, and the card says why.
  alongWith: (values, param, value) => (param === 'given' ? (toldAs(values, value as RowValues['given']) ?? {}) : {}),
  atFirst: (spacing) => ({ east1: spacing, south2: -spacing, up3: spacing }),
  prepare: (planting, values, context, options) =>
    prepareInOrder('row 1', planting, values, context, options, [{ frames: onBase(planting, () => (problemOf(values) ? framesOf(0) : rowOf(values)), context) }]),
})
