import type { Meadow, Planting } from '../../core/meadow.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { ACT_WORDS } from '../../document/edits/strokes.ts'
import type { SowValues } from './settings.ts'
import type { UnderBrush } from './under-brush.ts'
import { sumOf } from './under-brush.ts'

/** What a press of the brush would touch, said before it. */
export interface Touches {
  /** The plantings that get a stroke. */
  readonly plantings: readonly Planting[]
  /** The asset that it is limited to, by its id; null for all. */
  readonly only: string | null
  readonly words: string
  /** What else could be touched, where nothing is: the wider choice. */
  readonly wider: Partial<SowValues> | null
}

/** Tells what the brush would touch where it lies; `act` is what it does now, with its modifiers. */
export function touchesOf(meadow: Meadow, open: string | null, values: Pick<SowValues, 'of' | 'asset'>, act: SowValues['act'], under: UnderBrush, ground: string): Touches {
  const one = meadow.plantings.find(({ id }) => id === open) ?? null
  const counts = (planting: string) => sumOf(under.get(planting)?.values() ?? [])
  if (act === 'sow') return { plantings: one ? [one] : [], only: null, words: one ? sowWords(one, counts(one.id)) : 'Open a planting to sow it', wider: null }
  const { done } = ACT_WORDS[act]
  const onGround = meadow.plantings.filter(({ grounds, locked }) => grounds.includes(ground) && !locked)
  const all = sumOf(onGround.map(({ id }) => counts(id)))
  if (values.of === 'open') {
    if (!one) return { plantings: [], only: null, words: 'Open a planting first, or choose all plantings', wider: { of: 'all' } }
    const own = counts(one.id)
    if (own > 0 || all === 0) return { plantings: own > 0 ? [one] : [], only: null, words: own > 0 ? `${many(own)} ${one.name} under the brush, to be ${done}` : 'Nothing stands under the brush', wider: null }
    return { plantings: [], only: null, words: `Nothing here belongs to ${one.name}; ${many(all)} others under the brush`, wider: { of: 'all' } }
  }
  if (values.of === 'all')
    return { plantings: onGround.filter(({ id }) => counts(id) > 0), only: null, words: all > 0 ? `${many(all)} of ${of(onGround.filter(({ id }) => counts(id) > 0))} under the brush, to be ${done}` : 'Nothing stands under the brush', wider: null }
  const asset = meadow.assets.find(({ id }) => id === values.asset)
  if (!asset) return { plantings: [], only: null, words: 'Choose the asset first', wider: { of: 'all' } }
  const having = onGround.filter(({ id }) => (under.get(id)?.get(asset.number) ?? 0) > 0)
  const own = sumOf(having.map(({ id }) => under.get(id)?.get(asset.number) ?? 0))
  const none = all > 0 ? `No ${asset.name} here; ${many(all)} others under the brush` : 'Nothing stands under the brush'
  return { plantings: having, only: asset.id, words: own > 0 ? `${many(own)} ${asset.name} under the brush, to be ${done}` : none, wider: own === 0 && all > 0 ? { of: 'all' } : null }
}

function sowWords({ name, kind }: Planting, count: number): string {
  if (PLANTINGS.get(kind).base === 1 && count > 0) return `${name} grows here by rule; sowing brings back what was cleared`
  return count > 0 ? `${many(count)} ${name} stand under the brush` : `Drag to sow ${name}`
}

function of(plantings: readonly Planting[]): string {
  return plantings.length === 1 ? plantings[0].name : `${plantings.length} plantings`
}

function many(count: number): string {
  return count.toLocaleString('en')
}
