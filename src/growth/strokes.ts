import { hashString, hashWords } from '../core/content-hash.ts'
import { placedStroke } from '../core/fields/placed-stroke.ts'
import type { PaintedStroke } from '../core/fields/coverage.ts'
import { boxOf, POINT } from '../core/fields/coverage.ts'
import { namedBy } from '../core/grow.ts'
import { TERRAIN_ID } from '../core/grounds/ground.ts'
import type { Rect } from '../core/grounds/terrain.ts'
import type { Asset, Meadow, PlacedMesh, Planting, Stroke } from '../core/meadow.ts'
import { PLANTINGS } from '../core/plantings/index.ts'
import { planCells } from './plan-cells.ts'

/** Strokes as growing asks for them: those of a planting that can reach into a rectangle, and a name of them. */
export interface StrokesOf {
  /** Names all of them by content and order. */
  readonly name: string
  /** About how much ground those that sow cover, m²; more where they overlap. */
  readonly sown: number
  /** Those that can reach into a rectangle widened by `by`, in their order. */
  near(rect: Rect, by: number): { readonly strokes: readonly PaintedStroke[]; readonly name: string }
  /** Whether anything is sown in a rectangle. */
  sowsIn(rect: Rect): boolean
}

/** The strokes that a planting's growing looks at, with the plantings that they belong to. */
export type Painted = readonly { readonly planting: string; readonly strokes: StrokesOf | undefined }[]

/** What is painted that a planting looks at: its own strokes where it has any or grows by them alone, and those that its conditions name. */
export function paintedFor(meadow: Meadow, planting: Planting): Painted {
  const all = strokesByPlanting(meadow)
  const named = namedBy(planting).flatMap(({ to, id }) => (to === 'painted' ? [id] : []))
  const own = all.has(planting.id) || PLANTINGS.get(planting.kind).base < 1 || named.length > 0
  return [...new Set([...(own ? [planting.id] : []), ...named])].map((id) => ({ planting: id, strokes: all.get(id) }))
}

/** Which tiles a planting can have anything in, as far as its strokes tell. */
export function bears(planting: Planting, painted: Painted): (rect: Rect) => boolean {
  if (PLANTINGS.get(planting.kind).base > 0) return () => true
  const own = painted.find((one) => one.planting === planting.id)?.strokes
  return (rect) => own?.sowsIn(rect) ?? false
}

/** About which share of its grounds a planting can cover, as far as its strokes tell, 0…1; `plots` are what it covers of them in plan. */
export function shareCovered(planting: Planting, painted: Painted, plots: readonly { readonly bounds: Rect }[]): number {
  if (PLANTINGS.get(planting.kind).base > 0) return 1
  const whole = plots.reduce((sum, { bounds: { x0, z0, x1, z1 } }) => sum + (x1 - x0) * (z1 - z0), 0)
  const sown = painted.find((one) => one.planting === planting.id)?.strokes?.sown ?? 0
  return whole > 0 ? Math.min(1, sown / whole) : 0
}

/** A stroke where it lies, with what it reaches and a name of all that it does. */
interface Known {
  readonly mesh: PlacedMesh | null
  readonly assets: readonly Asset[]
  readonly placed: PaintedStroke
  readonly box: Rect
  readonly name: string
}

const known = new WeakMap<Stroke, Known>()

/** Null for a stroke on a mesh that is gone. */
function knownOf(stroke: Stroke, { meshes, assets }: Meadow): Known | null {
  const mesh = stroke.ground === TERRAIN_ID ? null : (meshes.find(({ id }) => id === stroke.ground) ?? null)
  if (!mesh && stroke.ground !== TERRAIN_ID) return null
  const found = known.get(stroke)
  if (found?.mesh === mesh && (stroke.only.length === 0 || found.assets === assets)) return found
  const placed = placedStroke(stroke, mesh, assets)
  const { act, radius, soft, strength, points } = placed
  const name = `${hashWords(new Uint32Array(points.buffer, points.byteOffset, 2 * points.length))} ${act} ${radius} ${soft} ${strength} ${placed.assets.join()}`
  const made = { mesh, assets, placed, box: boxOf(placed), name: hashString(name) }
  known.set(stroke, made)
  return made
}

const grouped = new WeakMap<readonly Stroke[], { readonly meshes: readonly PlacedMesh[]; readonly assets: readonly Asset[]; readonly groups: ReadonlyMap<string, StrokesOf> }>()

function strokesByPlanting(meadow: Meadow): ReadonlyMap<string, StrokesOf> {
  const { strokes, meshes, assets } = meadow
  const found = grouped.get(strokes)
  if (found?.meshes === meshes && found.assets === assets) return found.groups
  const lists = new Map<string, Known[]>()
  for (const stroke of strokes) {
    const one = knownOf(stroke, meadow)
    if (!one) continue
    const list = lists.get(stroke.planting)
    if (list) list.push(one)
    else lists.set(stroke.planting, [one])
  }
  const groups = new Map([...lists].map(([planting, list]) => [planting, groupOf(list)]))
  grouped.set(strokes, { meshes, assets, groups })
  return groups
}

function groupOf(list: readonly Known[]): StrokesOf {
  const cells = planCells(list.map(({ box }) => box))
  const inReach = (rect: Rect, by: number): Known[] => cells.near(rect, by).map((k) => list[k])
  return {
    name: hashString(list.map(({ name }) => name).join(' ')),
    sown: list.reduce((sum, { placed }) => sum + (placed.act === 'sow' ? areaOf(placed) : 0), 0),
    near(rect, by) {
      const found = inReach(rect, by)
      return { strokes: found.map(({ placed }) => placed), name: found.map(({ name }) => name).join(' ') }
    },
    sowsIn: (rect) => inReach(rect, 0).some(({ placed }) => placed.act === 'sow'),
  }
}

/** What a stroke covers, m², as if it crossed itself nowhere. */
function areaOf({ points, radius }: PaintedStroke): number {
  let long = 0
  for (let k = POINT; k < points.length; k += POINT) long += Math.sqrt((points[k] - points[k - POINT]) ** 2 + (points[k + 1] - points[k - POINT + 1]) ** 2 + (points[k + 2] - points[k - POINT + 2]) ** 2)
  return 2 * radius * long + Math.PI * radius * radius
}
