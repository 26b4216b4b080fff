import type * as yup from 'yup'
import { object as yupObject } from 'yup'
import { defaultsOf } from '../core/kinds.ts'
import { CONDITIONS } from '../core/fields/conditions/index.ts'
import { DRIVERS } from '../core/fields/drivers/index.ts'
import type { Meadow } from '../core/meadow.ts'
import { MEADOW_VERSION } from '../core/meadow.ts'
import { nestingProblem } from '../core/posy/posy.ts'
import { PLANTINGS } from '../core/plantings/index.ts'
import { LIMITS, shortened } from '../core/limits.ts'
import { LIST_WORDS, MEMBERS, NEXT_ASSET, numbersHold } from './schema.ts'

type Plain = Record<string, unknown>

/** What could be kept of a damaged document; its ground is null where that could not. */
export interface Salvaged {
  readonly meadow: Omit<Meadow, 'ground'> & { ground: Meadow['ground'] | null }
  /** What was left out or changed, in words, one entry each. */
  readonly leftOut: readonly string[]
}

/**
 * Keeps what is sound of a damaged document of the current version: lists lose the entries that cannot be
 * mended, values out of range go to the end of it, the rest is as it was. `id` is the name it is stored under.
 */
export function salvage(value: Plain, id: string): Salvaged {
  const leftOut: string[] = []
  const plain = { ...value, ...withNumbers(value, leftOut) }
  const lists = Object.fromEntries([...LIST_WORDS.keys()].map((name) => [name, soundEntries(name, (plain as Plain)[name], leftOut)])) as unknown as Omit<Meadow, 'version' | 'id' | 'name' | 'nextAsset' | 'opened' | 'ground' | 'water'>
  const ground = sound(MEMBERS.ground, value.ground)
  if (!ground) leftOut.push('its ground (a level one stands in)')
  else if (ground !== value.ground) leftOut.push('parts of what is said of its ground')
  const water = sound(MEMBERS.water, value.water) as Meadow['water'] | null
  if (!water) leftOut.push('its water')
  else if (water !== value.water) leftOut.push('parts of its water')
  for (const key of Object.keys(value)) if (!(key in MEMBERS) && key !== 'version' && key !== 'id' && key !== 'name' && key !== 'nextAsset' && !LIST_WORDS.has(key)) leftOut.push(`“${key.slice(0, 40)}”, which no meadow has`)
  const opened = value.opened === null ? null : (sound(MEMBERS.opened, value.opened) as Meadow['opened'])
  if (opened !== value.opened) leftOut.push('that a posy was open')
  if (nestingProblem(lists.assets)) {
    // Which of the parts is one too many cannot be told: posies of posies lose those.
    const made = new Set(lists.assets.flatMap(({ id, parts }) => (parts.length > 0 ? [id] : [])))
    lists.assets = lists.assets.map((asset) => ({ ...asset, parts: asset.parts.filter((part) => !made.has(part.asset)) })).filter(({ parts, blob }) => parts.length > 0 || blob !== '')
    leftOut.push('posies that were made of themselves, or too deep in each other')
  }
  const name = typeof value.name === 'string' ? shortened(value.name, LIMITS.name) : ''
  if (name !== value.name) leftOut.push('part of its name')
  return {
    meadow: {
      ...lists,
      version: MEADOW_VERSION,
      id,
      name: name || 'Unnamed meadow',
      nextAsset: plain.nextAsset,
      opened,
      ground: ground as Meadow['ground'] | null,
      water: water ?? { shown: false, level: 0 },
    },
    leftOut,
  }
}

/** Assets with a number each, and the next one; where they do not hold they are given anew, as nothing else of a document names them. */
function withNumbers({ assets, nextAsset }: Plain, leftOut: string[]): { readonly assets: unknown; readonly nextAsset: number } {
  if (!Array.isArray(assets)) return { assets, nextAsset: 0 }
  const entries = (assets as unknown[]).map((one) => (typeof one === 'object' && one !== null ? (one as Plain) : {}))
  const next = sound(NEXT_ASSET_OBJECT, { nextAsset })?.nextAsset
  if (typeof next === 'number' && next === nextAsset && numbersHold(entries as { number: unknown }[], next) && entries.every(({ number }) => Number.isInteger(number) && (number as number) >= 0)) return { assets, nextAsset: next }
  leftOut.push('the numbers of its assets')
  return { assets: entries.map((one, number) => ({ ...one, number })), nextAsset: entries.length }
}

const NEXT_ASSET_OBJECT = yupObject({ nextAsset: NEXT_ASSET })

function soundEntries(name: string, list: unknown, leftOut: string[]): unknown[] {
  const words = LIST_WORDS.get(name)
  if (!words) return []
  if (!Array.isArray(list)) {
    leftOut.push(`all its ${words.many}`)
    return []
  }
  const kept: unknown[] = []
  const seen = new Set<unknown>()
  let lost = 0
  let changed = 0
  for (const entry of list) {
    const mended = sound(words.schema, entry)
    if (mended === null || seen.has(mended.id) || kept.length >= words.most) {
      lost++
      continue
    }
    seen.add(mended.id)
    if (mended !== entry) changed++
    kept.push(mended)
  }
  if (lost > 0) leftOut.push(lost === 1 ? `one of its ${words.many}` : `${lost.toLocaleString('en')} of its ${words.many}`)
  if (changed > 0) leftOut.push(`parts of ${changed === 1 ? 'one' : changed.toLocaleString('en')} of its ${words.many}`)
  return kept
}

/** More faults than this in one thing are not worth mending. */
const MOST_FAULTS = 200

/** The value itself when it is sound, a mended copy when it can be mended, or null. */
function sound(schema: yup.Schema, value: unknown): Plain | null {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return null
  let current = value as Plain
  for (let round = 0; round < MOST_FAULTS; round++) {
    const fault = firstFault(schema, current)
    if (!fault) return current
    if (current === value) current = structuredClone(current)
    if (!mend(current, fault)) return null
  }
  return null
}

function firstFault(schema: yup.Schema, value: unknown): yup.ValidationError | null {
  try {
    schema.validateSync(value, { strict: true, abortEarly: true })
    return null
  } catch (error) {
    return error as yup.ValidationError
  }
}

/** Changes what a fault names so that it is none; false when it cannot. */
function mend(root: Plain, { path = '', type, params }: yup.ValidationError): boolean {
  const steps = [...path.matchAll(/[^.[\]"]+/g)].map(([step]) => step)
  if (type === 'noUnknown') {
    const owner = steps.length > 0 ? (at(root, steps) as Plain) : root
    const unknown = String(params?.unknown ?? '').split(', ')
    let some = false
    for (const key of unknown) if (key in owner) some = delete owner[key] || some
    return some
  }
  // The innermost list entry that the fault lies in goes as a whole, but for values that can be put right.
  const owner = at(root, steps.slice(0, -1))
  const last = steps.at(-1)
  if (last === undefined || typeof owner !== 'object' || owner === null) return false
  const holder = owner as Plain
  const value = holder[last]
  if (typeof value === 'string' && type === 'max') return set(holder, last, shortened(value, Number(params?.max)))
  if (typeof value === 'number' && Number.isFinite(value) && (type === 'max' || type === 'min')) return set(holder, last, Number(params?.[type]))
  if (Array.isArray(value) && type === 'max') return set(holder, last, value.slice(0, Number(params?.max)))
  if (steps.at(-2) === 'params' || steps.at(-3) === 'params') return toDefault(root, steps.slice(0, steps.indexOf('params') + 2))
  for (let k = steps.length - 1; k > 0; k--) {
    const list = at(root, steps.slice(0, k))
    if (Array.isArray(list) && /^\d+$/.test(steps[k])) return list.splice(Number(steps[k]), 1).length === 1
  }
  return false
}

function set(holder: Plain, key: string, value: unknown): boolean {
  const changed = holder[key] !== value
  holder[key] = value
  return changed
}

/** Gives a parameter of a kind its default; `steps` lead to it through its owner's `params`. */
function toDefault(root: Plain, steps: readonly string[]): boolean {
  const owner = at(root, steps.slice(0, -2)) as { kind?: unknown; params?: Plain } | undefined
  const kind = owner?.kind
  const key = steps.at(-1)
  if (typeof kind !== 'string' || !owner?.params || key === undefined) return false
  const known = [PLANTINGS, CONDITIONS, DRIVERS].find((registry) => registry.has(kind))?.get(kind).params
  if (!known || !(key in known)) return delete owner.params[key]
  return set(owner.params, key, (defaultsOf(known) as Plain)[key])
}

function at(root: unknown, steps: readonly string[]): unknown {
  return steps.reduce((value, step) => (typeof value === 'object' && value !== null ? (value as Plain)[step] : undefined), root)
}
