import type { GatheredFit } from '../../document/edits/gather.ts'
import { fitsOf, gatherInOrder } from '../../document/edits/gather.ts'
import type { Chosen } from '../../state/chosen.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { hold, terrainHeight } from './acts.ts'

/** More things than this are not looked through for an order. */
export const MOST_FITTED = 2000

/** Makes a planting in order of what is chosen; returns its id, null when nothing was made. */
export async function gatherAs(session: FieldSession, chosen: Chosen, kind: GatheredFit['kind']): Promise<string | null> {
  const { instances } = await hold(session, chosen)
  const height = terrainHeight(session)
  const fit = fitsOf(instances, height).find((one) => one.kind === kind)
  return fit ? gatherInOrder(session, fit, instances, height) : null
}
