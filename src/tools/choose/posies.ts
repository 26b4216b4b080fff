import type { Asset } from '../../core/meadow.ts'
import { assetsByNumber } from '../../core/meadow.ts'
import { gatherPosy, openPosy, takeApart, tooManyParts } from '../../document/edits/posies.ts'
import type { Chosen } from '../../state/chosen.ts'
import { chosenOf, countChosen, NOTHING_CHOSEN, onlyOne } from '../../state/chosen.ts'
import type { FieldSession } from '../../state/field-session.ts'
import type { FieldTool } from '../../state/field-tool.ts'
import { notify } from '../../state/notices.ts'
import { hold, terrainHeight } from './acts.ts'

/** Gathers what is chosen into a posy on the shelf; one of it takes its place, when asked so, and is chosen. Returns its id, null when it was refused. */
export async function gatherChosen(session: FieldSession, tool: FieldTool, name: string, how: { readonly instead: boolean; readonly drapes: boolean }): Promise<string | null> {
  const { chosen } = tool.getState()
  const why = tooManyParts(countChosen(chosen))
  if (why) {
    notify('warning', why)
    return null
  }
  const { instances } = await hold(session, chosen)
  const made = gatherPosy(session, name, instances, terrainHeight(session), how)
  if (made?.placed) tool.setState({ chosen: onlyOne(made.placed) })
  return made?.asset ?? null
}

/** Opens the posy that is chosen, where it stands. */
export async function openChosen(session: FieldSession, tool: FieldTool): Promise<void> {
  const { instances } = await hold(session, tool.getState().chosen)
  const one = instances.find(({ asset }) => isPosy(session, asset))
  const posy = one && assetsByNumber(session.meadow().assets).get(one.asset)
  if (one && posy) show(tool, openPosy(session, posy, one, { planting: one.planting, low: one.low, high: one.high }, terrainHeight(session)))
}

/** Opens a posy of the shelf on the ground at a plan place. */
export function openAt(session: FieldSession, tool: FieldTool, posy: Asset, [x, , z]: readonly number[]): void {
  const height = terrainHeight(session)
  show(tool, openPosy(session, posy, { place: [x, height(x, z), z], turn: [0, 0, 0, 1], size: [1, 1, 1] }, null, height))
}

function show(tool: FieldTool, planting: string | null): void {
  if (planting) tool.setState({ active: 'choose', open: planting, chosen: NOTHING_CHOSEN })
}

/** Takes the posies apart that are chosen: their parts are chosen then, with all else that was. */
export async function takeChosenApart(session: FieldSession, chosen: Chosen): Promise<Chosen | null> {
  const { instances } = await hold(session, chosen)
  const parts = takeApart(session, instances.filter(({ asset }) => isPosy(session, asset)), terrainHeight(session))
  return parts.length > 0 ? chosenOf([...instances.filter(({ asset }) => !isPosy(session, asset)), ...parts]) : null
}

function isPosy(session: FieldSession, number: number): boolean {
  return (assetsByNumber(session.meadow().assets).get(number)?.parts.length ?? 0) > 0
}
