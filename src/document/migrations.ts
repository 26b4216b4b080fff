import { MEADOW_VERSION } from '../core/meadow.ts'
import type { Checked } from './schema.ts'
import { checkMeadow } from './schema.ts'

/**
 * Steps from one version of the document to the next: entry n turns version n into n + 1. A step
 * works on plain JSON and never imports today's types. Version 1 is the first.
 */
const STEPS: readonly ((old: Record<string, unknown>) => Record<string, unknown>)[] = [
  // Patches and paths came with version 2.
  (old) => ({ ...old, outlines: [] }),
]

/** Brings a parsed document up to the current version, then checks it. */
export function readMeadow(value: unknown): Checked {
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    return { problem: 'it does not hold a meadow' }
  let current = value as Record<string, unknown>
  const version = current.version
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1)
    return { problem: 'it does not say which version of the format it is' }
  if (version > MEADOW_VERSION)
    return {
      problem: `it was saved by a newer Wayward Meadow (format ${version}, this one reads up to ${MEADOW_VERSION}); update this one and open it again`,
    }
  for (let v = version; v < MEADOW_VERSION; v++) current = { ...STEPS[v - 1](current), version: v + 1 }
  return checkMeadow(current)
}
