import type { ConditionUse, Planting, Share } from '../../core/meadow.ts'
import { newCondition } from '../new-planting.ts'
import type { ParamValue } from '../../core/kinds.ts'
import { nameOfMix } from '../mix-name.ts'
import type { Editor } from './editor.ts'
import { changePlanting } from './plantings.ts'

/**
 * The named edits of mixes. Shares are proportions: what is given to one of a mix stays as it was given, whatever
 * the others have; what part of the whole that is follows.
 */

type Mix = readonly Share[]

/** How much of a share counts elsewhere than where it prefers to be, at first. */
const FIRST_ELSEWHERE = 0.1

/** What the shares of a mix add up to. */
function totalOf(mix: Mix): number {
  return mix.reduce((sum, { share }) => sum + share, 0)
}

/** The parts of the whole that the shares of a mix come to: they add up to 1; equal ones where all shares are 0. */
export function partsOf(mix: Mix): number[] {
  const total = totalOf(mix)
  return mix.map(({ share }) => (total > 0 ? share / total : 1 / mix.length))
}

/** Changes what a planting is of; its name follows its assets as long as nobody has given it another. */
function setMix(editor: Editor, id: string, name: string, change: (mix: Mix) => Share[], gesture?: string): void {
  const { assets } = editor.meadow()
  changePlanting(
    editor,
    id,
    name,
    (planting) => {
      const mix = change(planting.mix)
      if (planting.name === nameOfMix(planting.mix, assets)) planting.name = nameOfMix(mix, assets)
      planting.mix = mix
    },
    gesture,
  )
}

/** Gives one of a mix so many parts, and leaves the others theirs. */
export function setShare(editor: Editor, id: string, at: number, share: number, gesture?: string): void {
  setMix(editor, id, 'Change the shares', (mix) => mix.map((entry, i) => (i === at ? { ...entry, share } : entry)), gesture)
}

/**
 * Moves the border between one of a mix and the next to a part of the whole, 0…1: what one gives the other gets.
 * Parts are rounded to a hundredth of a per cent, as nobody sees more.
 */
export function moveBorder(editor: Editor, id: string, after: number, to: number, gesture?: string): void {
  setMix(
    editor,
    id,
    'Change the shares',
    (mix) => {
      const parts = partsOf(mix)
      const total = totalOf(mix) || mix.length
      const before = parts.slice(0, after).reduce((sum, part) => sum + part, 0)
      const both = parts[after] + parts[after + 1]
      const own = Math.min(both, Math.max(0, to - before))
      const tidy = (part: number) => Number((part * total).toPrecision(4))
      return mix.map((entry, i) => (i === after ? { ...entry, share: tidy(own) } : i === after + 1 ? { ...entry, share: tidy(both - own) } : entry))
    },
    gesture,
  )
}

/** Adds an asset with as many parts as one of the others has in the middle. */
export function addToMix(editor: Editor, id: string, asset: string): void {
  setMix(editor, id, 'Add to the mix', (mix) => {
    const total = totalOf(mix)
    return [...mix, { asset, share: total > 0 ? Number((total / mix.length).toPrecision(3)) : 1 }]
  })
}

export function takeOutOfMix(editor: Editor, id: string, at: number): void {
  setMix(editor, id, 'Take out of the mix', (mix) => mix.filter((_, i) => i !== at))
}

/** Lets one of a mix prefer to be where a condition of this kind holds; anywhere alike without one. */
export function setPreference(editor: Editor, id: string, at: number, kind: string | null, params: Record<string, ParamValue> = {}): void {
  changePreference(editor, id, at, 'Change where one of the mix prefers to be', ({ asset, share, elsewhere = FIRST_ELSEWHERE }) =>
    kind === null ? { asset, share } : { asset, share, where: newCondition(kind, params), elsewhere },
  )
}

/** Changes a value of the condition that one of a mix prefers. */
export function setPreferenceParam(editor: Editor, id: string, at: number, label: string, param: string, value: ParamValue, gesture?: string): void {
  const changed = (where: ConditionUse): ConditionUse => ({ ...where, params: { ...where.params, [param]: value } })
  changePreference(editor, id, at, `Change ${label.toLowerCase()}`, (entry) => (entry.where ? { ...entry, where: changed(entry.where) } : entry), gesture)
}

/** Changes how much of a share counts where its condition refuses, 0…1. */
export function setElsewhere(editor: Editor, id: string, at: number, elsewhere: number, gesture?: string): void {
  changePreference(editor, id, at, 'Change how much grows elsewhere', (entry) => (entry.where ? { ...entry, elsewhere } : entry), gesture)
}

function changePreference(editor: Editor, id: string, at: number, name: string, change: (entry: Planting['mix'][number]) => Share, gesture?: string): void {
  setMix(editor, id, name, (mix) => mix.map((entry, i) => (i === at ? change(entry) : entry)), gesture)
}
