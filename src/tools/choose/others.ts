import { assetsByNumber } from '../../core/meadow.ts'
import { turned } from '../../core/math/quaternion.ts'
import { indexOf } from '../../core/outlines/outline.ts'
import type { InstanceAt } from '../../document/edits/hands.ts'
import type { Chosen } from '../../state/chosen.ts'
import { chosenOf, chooseWhere, standing, without } from '../../state/chosen.ts'
import type { FieldSession } from '../../state/field-session.ts'

/** Other choices made of what is chosen. */

/** Only those of one asset. */
export function onlyOfAsset(session: FieldSession, chosen: Chosen, asset: number): Chosen {
  return chooseWhere(session.instances, session.meadow(), ({ planting, block, row }) => block.asset[row] === asset && (chosen.get(planting)?.has(block.idLow[row], block.idHigh[row]) ?? false))
}

/** Everything that stands within a patch, of whichever planting; of what is chosen alone where anything is. */
export function withinPatch(session: FieldSession, chosen: Chosen, patch: string): Chosen {
  const outline = session.meadow().outlines.find(({ id }) => id === patch)
  if (!outline) return chosen
  const index = indexOf(outline)
  const [x, z, away] = [new Float64Array(1), new Float64Array(1), new Float64Array(1)]
  const any = [...chosen.values()].some(({ size }) => size > 0)
  return chooseWhere(session.instances, session.meadow(), ({ planting, block, row }) => {
    if (any && !chosen.get(planting)?.has(block.idLow[row], block.idHigh[row])) return false
    x[0] = block.position[3 * row]
    z[0] = block.position[3 * row + 2]
    index.distances(x, z, 1, true, Infinity, away)
    return away[0] < 0
  })
}

/** Those of them that stand where the conditions of a planting hold by half at least: one of its conditions, or all. */
export async function whereHolds(session: FieldSession, chosen: Chosen, planting: string, use: string | null): Promise<Chosen> {
  const byGround = new Map<string, InstanceAt[]>()
  for (const one of standing(session.instances, chosen)) {
    const own = byGround.get(one.ground)
    if (own) own.push(one)
    else byGround.set(one.ground, [one])
  }
  const kept: InstanceAt[] = []
  for (const [ground, own] of byGround) {
    const places = Float64Array.from(own.flatMap(({ place, turn }) => [...place, ...turned(turn, [0, 1, 0])]))
    const weights = await session.holds(planting, use, ground, places)
    own.forEach((one, k) => weights && weights[k] >= HALF && kept.push(one))
  }
  return chosenOf(kept)
}

/** A weight that counts as holding, of 255. */
const HALF = 128

/** Together with all of the same plantings within a distance of any of them, m; below 0 without those that are so near to one that is not chosen. */
export function grownBy(session: FieldSession, chosen: Chosen, metres: number): Chosen {
  const of = ({ planting, low, high }: { planting: string; low: number; high: number }) => chosen.get(planting)?.has(low, high) ?? false
  const own = standing(session.instances, chosen).map(({ place }) => place)
  if (metres >= 0) {
    const near = nearAny(own, metres)
    return chooseWhere(session.instances, session.meadow(), ({ planting, block, row }) => chosen.has(planting) && (of({ planting, low: block.idLow[row], high: block.idHigh[row] }) || near(block.position, 3 * row)))
  }
  const rest = standing(session.instances, without(chooseWhere(session.instances, session.meadow(), ({ planting }) => chosen.has(planting)), chosen)).map(({ place }) => place)
  const near = nearAny(rest, -metres)
  return chooseWhere(session.instances, session.meadow(), ({ planting, block, row }) => of({ planting, low: block.idLow[row], high: block.idHigh[row] }) && !near(block.position, 3 * row))
}

/** Tells whether a place lies within a distance of any of others, by cells of that size. */
function nearAny(places: readonly (readonly [number, number, number])[], metres: number): (at: ArrayLike<number>, from: number) => boolean {
  const side = Math.max(metres, 1e-6)
  const cells = new Map<string, (readonly [number, number, number])[]>()
  for (const place of places) {
    const name = `${Math.floor(place[0] / side)} ${Math.floor(place[2] / side)}`
    const cell = cells.get(name)
    if (cell) cell.push(place)
    else cells.set(name, [place])
  }
  return (at, from) => {
    const [i, j] = [Math.floor(at[from] / side), Math.floor(at[from + 2] / side)]
    for (let a = -1; a <= 1; a++)
      for (let b = -1; b <= 1; b++)
        for (const [x, y, z] of cells.get(`${i + a} ${j + b}`) ?? []) if ((at[from] - x) ** 2 + (at[from + 1] - y) ** 2 + (at[from + 2] - z) ** 2 <= metres * metres) return true
    return false
  }
}

/** Counts of the sorts among what is chosen, by the names of their categories. */
export function sortsOf(session: FieldSession, byAsset: ReadonlyMap<number, number>): Map<string, number> {
  const assets = assetsByNumber(session.meadow().assets)
  const found = new Map<string, number>()
  for (const [number, many] of byAsset) {
    const category = assets.get(number)?.category ?? ''
    if (category) found.set(category, (found.get(category) ?? 0) + many)
  }
  return found
}

/** Only those whose assets are of a sort. */
export function onlyOfSort(session: FieldSession, chosen: Chosen, category: string): Chosen {
  const assets = assetsByNumber(session.meadow().assets)
  return chooseWhere(session.instances, session.meadow(), ({ planting, block, row }) => assets.get(block.asset[row])?.category === category && (chosen.get(planting)?.has(block.idLow[row], block.idHigh[row]) ?? false))
}
