import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import type { Stand } from '../../core/hand/frames.ts'
import { groundFrame } from '../../core/hand/frames.ts'
import type { Asset } from '../../core/meadow.ts'
import type { Seen } from '../../core/plantings/ask.ts'
import type { MemberId } from '../../core/things/members.ts'
import { addSingles } from '../../document/edits/hands.ts'
import { addPeg } from '../../document/edits/pegs.ts'
import { addRun } from '../../document/edits/runs.ts'
import { newGesture } from '../../document/history.ts'
import type { FieldSession } from '../../state/field-session.ts'
import { notify } from '../../state/notices.ts'
import { terrainHeight } from '../choose/acts.ts'
import type { Desk } from '../define.ts'
import { openOf } from '../define.ts'

/** A thing that is about to be placed, and on which ground. */
export interface Meant {
  readonly stand: Stand
  readonly ground: string
}

/** Places things in the open planting, as one step; says why where it cannot. A row keeps its numbers, so that it can be spaced out anew. */
export function putThings(desk: Pick<Desk, 'session' | 'state'>, asset: Asset | undefined, things: readonly Meant[], row: boolean): void {
  const { session } = desk
  const open = openOf(desk)
  if (!asset || things.length === 0) return notify('word', 'There is no ground there; point at the ground.')
  if (!open) return notify('word', 'The planting was closed or removed; open one by a click on its name.')
  if (!open.visible) return notify('word', `“${open.name}” is hidden, so that nothing of it would be seen; show it first.`)
  const name = `Place ${things.length === 1 ? asset.name : `${things.length.toLocaleString('en')} ${asset.name}`}`
  const gesture = newGesture()
  const ids = addSingles(session, name, things.map(({ stand, ground }) => ({ ...stand, planting: open.id, ground, asset: asset.number })), terrainHeight(session), gesture)
  if (row && ids.length > 1) keepRow(session, name, things, ids.map((id) => ({ planting: open.id, ...id })), gesture)
}

/** Keeps the numbers of a row that was placed, so that it can be spaced out anew. */
function keepRow(session: FieldSession, name: string, things: readonly Meant[], ids: readonly MemberId[], gesture: string): void {
  const { ground } = things[0]
  const frame = groundFrame(ground, session.meadow().meshes, terrainHeight(session))
  if (!frame) return
  const [from, to] = [things[0], things[things.length - 1]].map(({ stand }) => frame.placeToOwn(stand.place))
  // On the terrain each keeps its own height.
  const end: [number, number, number] = [to[0], ground === TERRAIN_ID ? from[1] : to[1], to[2]]
  const spacing = Math.hypot(end[0] - from[0], end[1] - from[1], end[2] - from[2]) / (things.length - 1)
  if (spacing > 0) addRun(session, name, { kind: 'line', ground, from: [from[0], from[1], from[2]], to: end, spacing, arc: 360, path: '', ids }, gesture)
}

/** Sets a peg where something is seen. */
export function setPeg(session: FieldSession, seen: Seen | null): void {
  const frame = seen && groundFrame(seen.ground, session.meadow().meshes, terrainHeight(session))
  if (!seen || !frame) return notify('word', 'There is no ground there; point at the ground.')
  addPeg(session, seen.ground, frame, [seen.place.x, seen.place.y, seen.place.z])
}
