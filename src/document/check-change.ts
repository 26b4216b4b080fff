import { ValidationError } from 'yup'
import type { Meadow } from '../core/meadow.ts'
import { nestingProblem } from '../core/posy/posy.ts'
import { LIST_WORDS, listsOf, MEMBERS, NAME, NEXT_ASSET, numbersHold } from './schema.ts'

/**
 * Checks what an edit has made by the schema that opening goes by, looking only at what is no longer the
 * same object. Returns one sentence when it cannot be kept, null when all is well.
 */
export function checkChange(before: Meadow, next: Meadow): string | null {
  if (next === before) return null
  for (const [name, words] of LIST_WORDS) {
    const [was, list] = [listsOf(before)[name], listsOf(next)[name]]
    if (list === was) continue
    if (list.length > words.most)
      return `A meadow holds at most ${words.most.toLocaleString('en')} ${words.many}, and there would be ${list.length.toLocaleString('en')}; nothing was changed.`
    const known = new Set(was)
    const ids = new Set<string>()
    for (const entry of list) {
      if (ids.has(entry.id)) return `Two of the ${words.many} would have one name inside; nothing was changed.`
      ids.add(entry.id)
      const problem = known.has(entry) ? null : problemOf(words.schema, entry)
      if (problem) return `The ${words.one} “${shortName(entry.name)}” cannot be so: ${problem}; nothing was changed.`
    }
  }
  for (const [name, schema] of Object.entries(MEMBERS)) {
    const key = name as keyof typeof MEMBERS
    const problem = next[key] === before[key] ? null : problemOf(schema, next[key])
    if (problem) return `The ${name} cannot be so: ${problem}; nothing was changed.`
  }
  if (next.nextAsset !== before.nextAsset && problemOf(NEXT_ASSET, next.nextAsset)) return 'This meadow has had as many assets as it can; go on in a copy of it; nothing was changed.'
  if ((next.assets !== before.assets || next.nextAsset !== before.nextAsset) && !numbersHold(next.assets, next.nextAsset)) return 'Two assets would have one number; nothing was changed.'
  const nesting = next.assets === before.assets ? null : nestingProblem(next.assets)
  if (nesting) return `It cannot be so: ${nesting}; nothing was changed.`
  const problem = next.name === before.name ? null : problemOf(NAME, next.name)
  return problem && `The meadow cannot be called so: ${problem}; nothing was changed.`
}

function problemOf(schema: { validateSync(value: unknown, options: object): unknown }, value: unknown): string | null {
  try {
    schema.validateSync(value, { strict: true, abortEarly: true })
    return null
  } catch (error) {
    if (error instanceof ValidationError) return error.message
    throw error
  }
}

function shortName(name: unknown): string {
  const text = String(name)
  return text.length > 60 ? `${text.slice(0, 60)}…` : text
}
