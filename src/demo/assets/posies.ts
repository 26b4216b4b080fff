import { cos, DEGREE, sin } from '../../core/math/portable.ts'
import type { Asset, Part } from '../../core/meadow.ts'
import { partOf } from '../../core/posy/posy.ts'
import { posyOf } from '../../document/edits/posies.ts'

/** Ready-made posies of the demo's assets; each of their parts comes down to the ground by itself. */

/** A part: which asset, how far east and south of the middle, m, how high, turned so far, degrees, and its size. */
type PartOf = readonly [asset: string, east: number, south: number, up: number, turn: number, size: number]

function part([asset, east, south, up, turn, size]: PartOf): Part {
  return partOf(asset, { place: [east, up, south], turn: [0, sin(0.5 * turn * DEGREE), 0, cos(0.5 * turn * DEGREE)], size: [size, size, size] })
}

const MADE: readonly { readonly id: string; readonly name: string; readonly tags: readonly string[]; readonly parts: readonly PartOf[] }[] = [
  {
    id: 'strand-tangle',
    name: 'Strand tangle',
    tags: ['strandline', 'debris'],
    parts: [['driftwood', 0, 0, -0.03, 20, 0.9], ['driftwood', 0.35, 0.3, 0.02, 105, 0.6], ['wrack', 0.2, 0.22, 0, 40, 1.3], ['wrack', -0.45, 0.1, 0, 190, 1], ['shell', 0.65, -0.18, 0, 75, 1.1], ['shell', -0.3, 0.42, 0, 230, 0.8], ['shingle', -0.15, -0.4, 0, 10, 0.9]],
  },
  {
    id: 'marsh-tussock',
    name: 'Marsh tussock',
    tags: ['marsh', 'flowers'],
    parts: [['saltgrass', 0, 0, 0, 0, 1.5], ['saltgrass', 0.24, 0.14, 0, 120, 1.15], ['saltgrass', -0.2, 0.2, 0, 250, 1.2], ['sea-lavender', 0.1, -0.24, 0, 40, 1.1], ['thrift', -0.28, -0.1, 0, 300, 1], ['thrift', 0.32, -0.1, 0, 80, 0.85]],
  },
  {
    id: 'stone-court',
    name: 'Stones and tussocks',
    tags: ['marsh', 'stones'],
    parts: [['boulder', 0, 0, -0.15, 30, 0.7], ['boulder', 0.95, 0.35, -0.1, 160, 0.4], ['marsh-tussock', -0.75, 0.55, 0, 60, 1], ['marsh-tussock', 0.55, -0.7, 0, 200, 0.85], ['shingle', 0.5, 0.75, 0, 15, 1.1]],
  },
]

/** The ready-made posies of which all parts are there, numbered from `next` on. */
export function makePosies(assets: readonly Asset[], next: number): Asset[] {
  const made: Asset[] = []
  for (const { id, name, tags, parts } of MADE) {
    const all = [...assets, ...made]
    if (!parts.every(([asset]) => all.some((one) => one.id === asset))) continue
    made.push({ ...posyOf(name, parts.map(part), true, all), id, tags: [...tags], licence: 'CC0, made with Wayward Meadow', number: next + made.length })
  }
  return made
}
