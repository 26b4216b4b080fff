import { groundsOf } from '../grounds/index.ts'
import { TERRAIN_ID } from '../grounds/ground.ts'
import type { Phrase, ValuesOf } from '../kinds.ts'
import { choice, phrase } from '../kinds.ts'
import { meshGroundsOf } from '../meadow.ts'
import { MOST_MEMBERS } from '../order/frames.ts'
import { countOfPerches, framesOfPerches } from '../order/perch.ts'
import { definePlanting } from './define.ts'
import { patternOf, PATTERN_PARAMS, prepareInOrder, solidsOf } from './pattern.ts'

const { land: _land, dropTo: _dropTo, dropCompass: _dropCompass, dropSteep: _dropSteep, follow: _follow, seat: _seat, ...rest } = PATTERN_PARAMS

const PERCH_PARAMS = {
  at: choice('face', [{ value: 'face', label: 'the centres of faces' }, { value: 'corner', label: 'corners' }, { value: 'edge', label: 'the middles of edges' }], { fold: 'how-many', label: 'At', help: 'Triangles in one plane are one face, pieces that go on straight one edge.' }),
  ...rest,
  liftAlong: choice('ground', rest.liftAlong.options, { fold: 'how-it-stands', label: rest.liftAlong.label, help: rest.liftAlong.help }),
}

/** Things at the face centres, corners or edges of meshes. */
export const perch = definePlanting({
  kind: 'perch',
  label: 'Perched',
  help: 'Stands at the centres of faces, the corners or the middles of edges of meshes, square to them.',
  params: PERCH_PARAMS,
  ...patternOf<ValuesOf<typeof PERCH_PARAMS>>(),
  lineReach: null,
  based: false,
  meshesOnly: true,
  howMany: (): Phrase => phrase`perched at ${{ param: 'at' }}`,
  apart: () => 0.05,
  bars: (planting, _values, _surroundings, { ground }) => (ground === TERRAIN_ID ? 'It perches on meshes only.' : planting.grounds.includes(ground) ? 'It stands at its own places only.' : 'This mesh is none of its grounds.'),
  needs: ({ grounds }) => (meshGroundsOf({ grounds }).length === 0 ? 'It perches on nothing yet: choose a mesh under “Where”, or bring one in and say that it is a ground.' : null),
  problem: () => null,
  atFirst: () => ({}),
  prepare(planting, values, context, options) {
    const solids = solidsOf(planting, context)
    const [too] = solids.filter((solid, k) => countOfPerches(solid, values.at, (share) => options.progress?.((k + share) / solids.length, `Looking for places on “${solid.placed.name}”`)) > MOST_MEMBERS)
    const sets = too ? [] : solids.map((solid) => ({ ground: groundsOf([solid.placed.id], context)[0], frames: framesOfPerches(solid, values.at) }))
    const prepared = prepareInOrder(`perch ${values.at} 1`, planting, { ...values, land: 0, dropTo: 'down', dropCompass: 0, dropSteep: 0, follow: 0, seat: 'centre' }, context, options, sets)
    return { ...prepared, refusal: too ? `“${too.placed.name}” has ${countOfPerches(too, values.at).toLocaleString('en')} places to perch on, and at most ${MOST_MEMBERS.toLocaleString('en')} can stand in one pattern; spread over it instead, or bring in a simpler mesh.` : null }
  },
})
