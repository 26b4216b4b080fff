import { TERRAIN_ID } from '../../core/grounds/ground.ts'
import { groundFrame } from '../../core/hand/frames.ts'
import { lengthOf } from '../../core/long-list.ts'
import { placedStroke } from '../../core/fields/placed-stroke.ts'
import { POINT } from '../../core/fields/coverage.ts'
import { moveStroke } from '../../document/edits/strokes.ts'
import { newGesture } from '../../document/history.ts'
import { dragEdits } from '../../state/own-task.ts'
import type { Desk } from '../define.ts'
import { createEyes } from '../eyes.ts'
import type { GripKind } from './define.ts'

/** What a stroke as a whole is named by, where else a point of it is. */
export const WHOLE_STROKE = 'whole'

/** The chosen stroke is moved over its ground, or one point of it. */
export const strokeGrip: GripKind = {
  kind: 'stroke',
  take(desk, [id, named]) {
    const { session } = desk
    const meadow = session.meadow()
    const stroke = meadow.strokes.find((one) => one.id === id)
    if (!stroke || meadow.plantings.find((one) => one.id === stroke.planting)?.locked) return null
    const gesture = newGesture()
    const eyes = createEyes(desk)
    const point = named === WHOLE_STROKE ? null : Number(named)
    return {
      drag(at) {
        eyes.look(at, [stroke.ground], (seen) => {
          if (!seen) return
          const { x, y, z } = seen.place
          dragEdits.ask(() => moveBy(desk, id, point, [x, y, z], gesture))
        })
      },
      release: () => dragEdits.flush(),
    }
  },
}

/** Number of the point in the middle of a stroke. */
export function middleOf(lines: Parameters<typeof placedStroke>[0]['lines']): number {
  const [line] = lines
  return Math.floor(lengthOf(line) / POINT / 2)
}

/** Where a point of a stroke lies in the world. */
function placeOf({ session }: Pick<Desk, 'session'>, id: string, point: number): readonly [number, number, number] | null {
  const { strokes, meshes, assets } = session.meadow()
  const stroke = strokes.find((one) => one.id === id)
  if (!stroke) return null
  const mesh = stroke.ground === TERRAIN_ID ? null : (meshes.find((one) => one.id === stroke.ground) ?? null)
  const { points } = placedStroke(stroke, mesh, assets)
  return [points[POINT * point], points[POINT * point + 1], points[POINT * point + 2]]
}

/** Moves a stroke, or one point of it, so that its point (the middle one of a whole) lies at a place of the world. */
export function moveBy(desk: Pick<Desk, 'session'>, id: string, point: number | null, to: readonly [number, number, number], gesture?: string): void {
  const { strokes, meshes } = desk.session.meadow()
  const stroke = strokes.find((one) => one.id === id)
  if (!stroke) return
  const at = placeOf(desk, id, point ?? middleOf(stroke.lines))
  if (!at) return
  // Of a mesh that is gone its points are all there is.
  const frame = groundFrame(stroke.ground, meshes, () => 0)
  const [a, b] = [at, to].map((place) => frame?.placeToOwn(place) ?? place)
  moveStroke(desk.session, id, point, [b[0] - a[0], b[1] - a[1], b[2] - a[2]], gesture)
}
