import { turnMatrix } from '../grounds/solid.ts'
import { valuesOf } from '../long-list.ts'
import type { Asset, PlacedMesh, Stroke } from '../meadow.ts'
import type { PaintedStroke } from './coverage.ts'
import { POINT } from './coverage.ts'

/** A stroke where it lies in the world: one on a mesh is moved, turned and sized with it. */
export function placedStroke(stroke: Stroke, mesh: PlacedMesh | null, assets: readonly Asset[]): PaintedStroke {
  const { act, soft, strength, width, only } = stroke
  const own = Float64Array.from(stroke.lines.flatMap((line) => [...valuesOf(line)]))
  return {
    act,
    soft,
    strength,
    radius: 0.5 * width * (mesh?.size ?? 1),
    assets: only.length === 0 ? [] : numbersOf(only, assets),
    solid: mesh !== null,
    points: mesh ? inWorld(own, mesh) : own,
  }
}

/** A number that no asset has. */
const NOBODY = -2

/** A stroke for assets that are all gone acts on nothing. */
function numbersOf(only: readonly string[], assets: readonly Asset[]): number[] {
  const found = assets.flatMap(({ id, number }) => (only.includes(id) ? [number] : []))
  return found.length > 0 ? found : [NOBODY]
}

function inWorld(own: Float64Array, { turn, size, position }: PlacedMesh): Float64Array {
  const m = turnMatrix(turn)
  const out = own.slice()
  for (let k = 0; k < own.length; k += POINT)
    for (let r = 0; r < 3; r++) {
      out[k + r] = size * (m[3 * r] * own[k] + m[3 * r + 1] * own[k + 1] + m[3 * r + 2] * own[k + 2]) + position[r]
      out[k + 3 + r] = m[3 * r] * own[k + 3] + m[3 * r + 1] * own[k + 4] + m[3 * r + 2] * own[k + 5]
    }
  return out
}

/** Points of the world in the own frame of a mesh, {@link POINT} numbers each. */
export function inOwnFrame(world: readonly number[], { turn, size, position }: PlacedMesh): number[] {
  const m = turnMatrix(turn)
  const out = [...world]
  for (let k = 0; k < world.length; k += POINT)
    for (let c = 0; c < 3; c++) {
      out[k + c] = (m[c] * (world[k] - position[0]) + m[3 + c] * (world[k + 1] - position[1]) + m[6 + c] * (world[k + 2] - position[2])) / size
      out[k + 3 + c] = m[c] * world[k + 3] + m[3 + c] * world[k + 4] + m[6 + c] * world[k + 5]
    }
  return out
}
