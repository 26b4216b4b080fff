import type { Condition } from './fields/conditions/define.ts'
import type { Driver } from './fields/drivers/define.ts'
import type { Param, ParamSet, Phrase, Unit } from './kinds.ts'
import { defaultsOf } from './kinds.ts'

/** Documentation of kinds, written from their own descriptions. */

const UNITS: Readonly<Record<Unit, string>> = {
  m: 'm',
  deg: '°',
  share: '%',
  count: '',
  'per-m2': 'per m²',
  parts: 'parts',
  factor: '×',
  index: '',
}

/** The reference of all conditions and drivers, as Markdown. */
export function conditionsDoc(conditions: readonly Condition[], drivers: readonly Driver[]): string {
  return [
    '# Conditions and drivers',
    '',
    'Written from the kinds themselves by `npm run docs`; a test keeps it so.',
    '',
    '## Conditions',
    '',
    'A condition weighs every place from 0 (nothing grows) to 1. All that are switched on multiply, or the best of them counts; each can be taken the other way round, shown on the ground as a tint, and asked about with the probe.',
    ...conditions.flatMap(({ label, kind, help, params, sentence }) => [
      '',
      `### ${label}`,
      '',
      `\`${kind}\` — ${help} Reads: “${phraseDoc(sentence(defaultsOf(params)), params)}”.`,
      '',
      ...paramsDoc(params),
    ]),
    '',
    '## Drivers',
    '',
    'A driver lets a field over the ground change density, size, height, girth, turn, lift, lean or tint: between a first and a second value of the field, along a curve, from one amount to another.',
    ...drivers.flatMap(({ label, kind, help, unit, over, params, words }) => [
      '',
      `### By ${label.toLowerCase()}`,
      '',
      `\`${kind}\` — ${help} Reads: “by ${phraseDoc(words(defaultsOf(params)), params)}”. At first from ${quantity(over.from, unit)} to ${quantity(over.to, unit)}.`,
      ...(Object.keys(params).length > 0 ? ['', ...paramsDoc(params)] : []),
    ]),
    '',
  ].join('\n')
}

/** A phrase with the names of its parameters in italics. */
function phraseDoc(phrase: Phrase, params: ParamSet): string {
  return phrase.map((piece) => (typeof piece === 'string' ? piece : piece.text ?? `*${params[piece.param].label.toLowerCase()}*`)).join('')
}

function paramsDoc(params: ParamSet): string[] {
  return [
    '| | at first | may be | |',
    '|---|---|---|---|',
    ...Object.values(params).map((param) => `| ${param.label} | ${firstValue(param)} | ${mayBe(param)} | ${param.help} |`),
  ]
}

function quantity(value: number, unit: Unit): string {
  const shown = unit === 'share' ? value * 100 : value
  const text = Number(shown.toPrecision(6)).toLocaleString('en').replace('-', '−')
  return [text, UNITS[unit]].filter(Boolean).join(unit === 'deg' ? '' : ' ')
}

function firstValue(param: Param): string {
  if (param.type === 'number') return quantity(param.default, param.unit)
  if (param.type === 'choice') return param.options.find(({ value }) => value === param.default)?.label ?? ''
  if (param.type === 'flag') return param.default ? 'yes' : 'no'
  if (param.type === 'formula') return `\`${param.default}\``
  if (param.type === 'span') {
    const { from, to } = param.default
    return `${from === null ? 'any' : quantity(from, param.unit)} – ${to === null ? 'any' : quantity(to, param.unit)}`
  }
  return param.type === 'ref' ? `the first ${param.to}` : 'thrown'
}

function mayBe(param: Param): string {
  if (param.type === 'number' || param.type === 'span') return `${quantity(param.min, param.unit)} – ${quantity(param.max, param.unit)}${param.type === 'span' && param.open ? ', either end open' : ''}`
  if (param.type === 'choice') return param.options.map(({ label }) => label).join(', ')
  if (param.type === 'flag') return 'yes, no'
  return param.type === 'ref' ? `a ${param.to} of the meadow` : param.type === 'formula' ? 'any formula' : 'any whole number'
}
