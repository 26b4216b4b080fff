import type { Vector } from '../../core/hand/frames.ts'
import { ofAxes } from '../../core/math/quaternion.ts'
import type { Seen } from '../../core/plantings/ask.ts'
import type { Becomes, InstanceAt } from '../../document/edits/hands.ts'
import type { Chosen } from '../../state/chosen.ts'
import { instanceAt } from '../../state/chosen.ts'
import type { Picking } from '../../state/field-tool.ts'
import { notify } from '../../state/notices.ts'
import type { Desk, Pointer } from '../define.ts'
import { changeHeld, hold, middleOf } from './acts.ts'
import { groundsSeen } from '../eyes.ts'
import { thingUnder } from './under.ts'

/** What can be taken over from one thing. */
export const TAKEN = { turn: 'turn', size: 'size', height: 'height', east: 'place east', south: 'place south' } as const
export type Taken = keyof typeof TAKEN

export const PICKING_WORDS: Readonly<Record<Picking['what'], string>> = {
  match: 'Click the thing that they are to be like; Esc lets it be',
  centre: 'Click the thing or the face that their middle is to come to; Esc lets it be',
  turn: 'Click the thing or the face that they are to be turned like; Esc lets it be',
}

/** What was picked: another thing, or the face of a mesh. */
export type Model = { readonly thing: InstanceAt } | { readonly face: Seen }

/** Finds what a click picks, and does what it was picked for to what is chosen. */
export async function pickFor(desk: Desk, at: Pointer, { what, take }: Picking, chosen: Chosen): Promise<void> {
  const { session } = desk
  const model = await modelUnder(desk, at)
  if (!model) return notify('word', 'There is no other thing and no face there; click one.')
  if (what === 'match' && !('thing' in model)) return notify('word', 'A face has no size and no place to take over; click a thing.')
  const held = await hold(session, chosen)
  const become = { match: matched(model, take), centre: centred(held.instances, model), turn: turnedLike(model) }[what]
  changeHeld(session, held, { match: 'Match', centre: 'Centre', turn: 'Turn like another' }[what], become)
}

async function modelUnder(desk: Desk, at: Pointer): Promise<Model | null> {
  const found = thingUnder(desk, at)
  if (found) return { thing: instanceAt(found) }
  const [seen] = await desk.session.see([desk.view.sight(at.x, at.y)], groundsSeen(desk.session.meadow()), { kinds: [], within: 0, face: true })
  return seen?.on?.kind === 'face' ? { face: seen } : null
}

/** Takes chosen attributes of one thing over to others. */
export function matched(model: Model, take: readonly string[]): (at: InstanceAt) => Becomes {
  if (!('thing' in model)) return () => ({})
  const { thing } = model
  const takes = (one: Taken) => take.includes(one)
  return ({ place }) => ({
    ...(takes('turn') && { turn: thing.turn }),
    ...(takes('size') && { size: thing.size }),
    place: [takes('east') ? thing.place[0] : place[0], takes('height') ? thing.place[1] : place[1], takes('south') ? thing.place[2] : place[2]],
  })
}

/** Brings the common middle of things to a thing, or to the centre of a face. */
export function centred(instances: readonly InstanceAt[], model: Model): (at: InstanceAt) => Becomes {
  const to: Vector = 'thing' in model ? model.thing.place : [model.face.place.x, model.face.place.y, model.face.place.z]
  const from = middleOf(instances)
  return ({ place }) => ({ place: [place[0] + to[0] - from[0], place[1] + to[1] - from[1], place[2] + to[2] - from[2]] })
}

/** Turns each as another thing is turned, or square onto a face with its own east along the longest edge of that. */
export function turnedLike(model: Model): (at: InstanceAt) => Becomes {
  if ('thing' in model) return () => ({ turn: model.thing.turn })
  const { place: { normal }, on } = model.face
  const turn = normal && on?.direction ? ofAxes(on.direction, normal) : null
  return () => (turn ? { turn } : {})
}
