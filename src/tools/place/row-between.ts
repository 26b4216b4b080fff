import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { Place } from '../../core/grounds/ground.ts'
import type { Stand, Vector } from '../../core/hand/frames.ts'
import { groundFrame } from '../../core/hand/frames.ts'
import type { Seen } from '../../core/plantings/ask.ts'
import type { MemberId } from '../../core/things/members.ts'
import { addRun } from '../../document/edits/runs.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { terrainHeight } from '../choose/acts.ts'

/** The direction that a ground faces at a place: of the terrain up where it is not told. */
export function normalOf({ normal }: Pick<Place, 'normal'>): Vector {
  return normal ?? [0, 1, 0]
}

/** So many places on the straight way between two, at both ends too, equally far apart; on the terrain they lie on it. */
export function rowBetween(from: Seen, to: Seen, count: number, heightAt: (x: number, z: number) => number): Seen[] {
  const many = Math.max(2, Math.round(count))
  const onTerrain = from.ground === TERRAIN_ID
  return Array.from({ length: many }, (_, k) => {
    const t = k / (many - 1)
    const mix = (a: number, b: number) => a + (b - a) * t
    const [x, y, z] = [mix(from.place.x, to.place.x), mix(from.place.y, to.place.y), mix(from.place.z, to.place.z)]
    return { ground: from.ground, place: { x, y: onTerrain ? heightAt(x, z) : y, z, normal: from.place.normal } }
  })
}

/** Keeps the numbers of a row that was placed, so that it can be spaced out anew. */
export function keepRow(session: FieldSession, name: string, things: readonly { readonly stand: Stand; readonly ground: string }[], ids: readonly MemberId[], gesture: string): void {
  const { ground } = things[0]
  const frame = groundFrame(ground, session.meadow().meshes, terrainHeight(session))
  if (!frame) return
  const [from, to] = [things[0], things[things.length - 1]].map(({ stand }) => frame.placeToOwn(stand.place))
  // On the terrain each keeps its own height.
  const end: [number, number, number] = [to[0], ground === TERRAIN_ID ? from[1] : to[1], to[2]]
  const spacing = Math.hypot(end[0] - from[0], end[1] - from[1], end[2] - from[2]) / (things.length - 1)
  if (spacing > 0) addRun(session, name, { kind: 'line', ground, from: [from[0], from[1], from[2]], to: end, spacing, arc: 360, path: '', ids }, gesture)
}
