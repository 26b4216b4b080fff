import type { ParamValue } from '../../core/kinds.ts'
import type { Asset, Planting } from '../../core/meadow.ts'
import { nameOfMix } from '../../document/mix-name.ts'
import { newCondition, newId, newPlanting, PLANTING_COLOURS } from '../../document/new-planting.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { notify } from '../../state/notices.ts'

/** The named edits of plantings. */

/** Makes a named edit of one planting. */
export function changePlanting(session: FieldSession, id: string, name: string, recipe: (planting: Planting) => void, gesture?: string): void {
  session.edit(
    name,
    (meadow) => {
      const planting = meadow.plantings.find((one) => one.id === id)
      if (planting) recipe(planting)
    },
    gesture,
  )
}

export function setParam(session: FieldSession, id: string, label: string, param: string, value: ParamValue, gesture?: string): void {
  changePlanting(session, id, `Change ${label.toLowerCase()}`, (planting) => void (planting.params[param] = value), gesture)
}

export function setConditionParam(
  session: FieldSession,
  id: string,
  condition: string,
  label: string,
  param: string,
  value: ParamValue,
  gesture?: string,
): void {
  changePlanting(
    session,
    id,
    `Change ${label.toLowerCase()}`,
    (planting) => {
      const use = planting.habitat.find((one) => one.id === condition)
      if (use) use.params[param] = value
    },
    gesture,
  )
}

export function setSwitch(session: FieldSession, id: string, what: 'visible' | 'locked', value: boolean): void {
  const name = what === 'visible' ? (value ? 'Show' : 'Hide') : value ? 'Lock' : 'Unlock'
  changePlanting(session, id, `${name} the planting`, (planting) => void (planting[what] = value))
}

export function renamePlanting(session: FieldSession, id: string, name: string): void {
  changePlanting(session, id, 'Rename the planting', (planting) => void (planting.name = name))
}

export function throwAgain(session: FieldSession, id: string): void {
  const seed = crypto.getRandomValues(new Uint32Array(1))[0]
  changePlanting(session, id, 'Throw again', (planting) => void (planting.seed = seed))
}

export function removeCondition(session: FieldSession, id: string, condition: string): void {
  changePlanting(
    session,
    id,
    'Remove a condition',
    (planting) => void (planting.habitat = planting.habitat.filter((use) => use.id !== condition)),
  )
}

export function switchCondition(session: FieldSession, id: string, condition: string, on: boolean): void {
  changePlanting(session, id, on ? 'Switch a condition on' : 'Switch a condition off', (planting) => {
    const use = planting.habitat.find((one) => one.id === condition)
    if (use) use.on = on
  })
}

/** Changes what a planting is of; its name follows its assets as long as nobody has given it another. */
export function setMix(session: FieldSession, id: string, name: string, mix: Planting['mix'], gesture?: string): void {
  const { assets } = session.store.getState().history.meadow
  changePlanting(
    session,
    id,
    name,
    (planting) => {
      if (planting.name === nameOfMix(planting.mix, assets)) planting.name = nameOfMix(mix, assets)
      planting.mix = mix
    },
    gesture,
  )
}

/** Adds a spread of one asset, below all others; returns its id. */
export function addPlanting(session: FieldSession, assetId?: string, grounds: string[] = []): string {
  const { meadow } = session.store.getState().history
  const asset = meadow.assets.find((one) => one.id === assetId) ?? meadow.assets[0]
  const id = newId()
  const mix = asset ? [{ asset: asset.id, share: 1 }] : []
  session.edit('Add a planting', (draft) => {
    draft.plantings.push(
      newPlanting({
        id,
        name: nameOfMix(mix, meadow.assets),
        colour: PLANTING_COLOURS[draft.plantings.length % PLANTING_COLOURS.length],
        seed: crypto.getRandomValues(new Uint32Array(1))[0],
        mix,
        grounds,
        // Nothing grows through what is to be kept clear of.
        habitat: draft.meshes.filter(({ role }) => role === 'obstacle').map(({ id: mesh }) => newCondition('obstacle', { mesh })),
        params: { spacing: asset ? firstSpacing(asset, draft.ground) : FALLBACK_SPACING },
      }),
    )
  })
  return id
}

const FALLBACK_SPACING = 2
/** Instances that a new planting may have at first. */
const FIRST_MOST = 60000

/** A first spacing that leaves each its room and does not flood a large ground, m. */
export function firstSpacing(asset: Pick<Asset, 'room'>, { sizeX, sizeZ }: { readonly sizeX: number; readonly sizeZ: number }): number {
  const wanted = Math.max(0.3, Math.round(asset.room * 30) / 10)
  const least = Math.sqrt((0.63 * sizeX * sizeZ) / FIRST_MOST)
  return least <= wanted ? wanted : Number(least.toPrecision(2))
}

export function duplicatePlanting(session: FieldSession, id: string): string {
  const copyId = newId()
  session.edit('Duplicate the planting', (meadow) => {
    const at = meadow.plantings.findIndex((one) => one.id === id)
    if (at < 0) return
    const copy = structuredClone({ ...session.store.getState().history.meadow.plantings[at] })
    meadow.plantings.splice(at + 1, 0, {
      ...copy,
      id: copyId,
      name: `${copy.name} copy`,
      seed: (copy.seed + 1) >>> 0,
      locked: false,
      habitat: copy.habitat.map((use) => ({ ...use, id: newId() })),
      drivers: copy.drivers.map((use) => ({ ...use, id: newId() })),
    })
  })
  return copyId
}

export function removePlanting(session: FieldSession, id: string): void {
  const planting = session.store.getState().history.meadow.plantings.find((one) => one.id === id)
  if (!planting) return
  session.edit('Remove the planting', (meadow) => {
    meadow.plantings = meadow.plantings.filter((one) => one.id !== id)
  })
  notify('word', `“${planting.name}” is removed.`, { label: 'Bring it back', run: session.undo })
}

/** Moves a planting to a place in the order of claim. */
export function movePlanting(session: FieldSession, id: string, to: number): void {
  session.edit('Change the order', (meadow) => {
    const from = meadow.plantings.findIndex((one) => one.id === id)
    const place = Math.max(0, Math.min(meadow.plantings.length - 1, to))
    if (from < 0 || from === place) return
    meadow.plantings.splice(place, 0, ...meadow.plantings.splice(from, 1))
  })
}
