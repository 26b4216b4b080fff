import { TERRAIN_ID } from '../grounds/ground.ts'
import { heightAt } from '../grounds/terrain.ts'
import { groundFrame } from '../hand/frames.ts'
import { turnPlace, turnTurn } from '../math/quaternion.ts'
import type { Quaternion } from '../math/quaternion.ts'
import type { PatternBase } from '../meadow.ts'
import type { Surroundings } from '../surroundings.ts'
import { thingOf } from '../things/define.ts'
import { MESH } from '../things/mesh.ts'
import type { Frames } from './frames.ts'

/** Where a base stands in the world: its place, m, its turn, and how much larger its host has become. Null when the host is gone. */
export function baseInWorld({ host, place, turn, size }: PatternBase, { terrain, things }: Pick<Surroundings, 'terrain' | 'things'>): { readonly place: readonly [number, number, number]; readonly turn: Quaternion; readonly size: number } | null {
  const mesh = host === TERRAIN_ID ? undefined : thingOf(things, MESH, host)
  const frame = groundFrame(host, mesh ? [mesh.placed] : [], (x, z) => heightAt(terrain, x, z))
  return frame && { place: frame.placeToWorld(place), turn: frame.turnToWorld(turn), size: frame.size / size }
}

/** Puts frames of a pattern onto its base: they are those of the world then. Where what it stands on has become larger they stand farther apart, and are not larger themselves. */
export function putOnBase(frames: Frames, base: NonNullable<ReturnType<typeof baseInWorld>>): void {
  const { place, turn, count } = frames
  const { size } = base
  for (let k = 0; k < count; k++) {
    turnPlace(base.turn, 0, place[3 * k] * size, place[3 * k + 1] * size, place[3 * k + 2] * size, place, 3 * k)
    for (let c = 0; c < 3; c++) place[3 * k + c] += base.place[c]
    turnTurn(base.turn, 0, turn, 4 * k, turn, 4 * k)
  }
}
