import { NONE, UNTOUCHED } from '../core/hand/layout.ts'
import { cos, DEGREE, sin } from '../core/math/portable.ts'
import type { Group, HandWork, Outline, Planting, Stroke } from '../core/meadow.ts'
import { newOutline, newPlanting, PLANTING_COLOURS } from '../document/new-planting.ts'
import { creekX, saltingsHeight } from './saltings-terrain.ts'

/** What a hand did in the demo: a sown drift of thrift, shells strewn along the creek, stones by the hut, a few touch-ups. */

/** Where a height is reached first on the way east from the middle of the creek: x at a given z. */
function bankAt(z: number, height: number): number {
  let x = creekX(z)
  while (saltingsHeight(x, z) < height) x += 0.05
  return Math.round(x * 100) / 100
}

/** The line that the tide leaves on the creek's eastern bank. */
const TIDE_LINE = Array.from({ length: 9 }, (_, k) => 20 + 3 * k).flatMap((z) => [bankAt(z, 0.5), z])

export function outlinesByHand(): Outline[] {
  return [newOutline({ id: 'tide-line', kind: 'path', name: 'Tide line', colour: '#2f8fc4', smooth: true, width: 0, lines: [TIDE_LINE] })]
}

export function plantingsByHand(): Planting[] {
  return [
    newPlanting({
      id: 'stones',
      kind: 'sown',
      name: 'Stones by the hut',
      colour: PLANTING_COLOURS[6],
      seed: 31,
      mix: [{ asset: 'boulder', share: 1 }],
      params: { spacing: 2, follow: 0.4 },
    }),
    newPlanting({
      id: 'shells',
      kind: 'strewn',
      name: 'Shells along the tide line',
      colour: PLANTING_COLOURS[4],
      seed: 32,
      mix: [
        { asset: 'shell', share: 3 },
        { asset: 'shingle', share: 2 },
      ],
      along: ['tide-line'],
      params: { every: 0.12, toSides: 0.8, size: { from: 0.6, to: 1.2 }, follow: 1, lean: { from: 0, to: 12 } },
    }),
    newPlanting({
      id: 'drift',
      kind: 'sown',
      name: 'A drift of thrift',
      colour: PLANTING_COLOURS[4],
      seed: 33,
      mix: [
        { asset: 'thrift', share: 4 },
        { asset: 'sea-lavender', share: 1 },
      ],
      params: { spacing: 0.3, size: { from: 0.8, to: 1.35 }, follow: 0.6, lean: { from: 0, to: 10 } },
    }),
  ]
}

/** A pass of the brush over the marsh: x z of each point. */
function pass(id: string, act: Stroke['act'], width: number, strength: number, way: readonly number[]): Stroke {
  const points = Array.from({ length: way.length / 2 }, (_, k) => [way[2 * k], Math.round(1e4 * saltingsHeight(way[2 * k], way[2 * k + 1])) / 1e4, way[2 * k + 1], 0, 1, 0, 1]).flat()
  return { id, name: '', planting: 'drift', act, ground: 'terrain', width, soft: 0.6, strength, only: [], lines: [points] }
}

export function strokesByHand(): Stroke[] {
  return [
    pass('drift-1', 'sow', 4.4, 0.95, [33.5, 66, 31, 62, 29.5, 58, 30.5, 53, 33, 48]),
    pass('drift-2', 'sow', 2.8, 0.8, [31, 59, 27, 57.5, 23.5, 58.5]),
    pass('drift-3', 'clear', 0.9, 1, [34, 58, 31, 57, 27.5, 60]),
  ]
}

/** Stones around the foot of the hut: round from its door, degrees; how far off, m; turn, degrees; size; sunk, m. */
const STONES: readonly (readonly [round: number, away: number, turn: number, size: number, sunk: number])[] = [
  [20, 4.2, 14, 0.62, 0.12],
  [38, 4.6, 200, 0.38, 0.06],
  [52, 4.1, 95, 0.5, 0.1],
  [74, 4.5, 310, 0.72, 0.16],
  [88, 4.0, 30, 0.34, 0.05],
  [112, 4.4, 150, 0.55, 0.1],
  [131, 4.7, 260, 0.42, 0.08],
]
const HUT = [17, 13] as const

/** Numbers of a stone as a single: see `core/hand/layout.ts`. */
function stone(k: number, asset: number): number[] {
  const [round, away, turn, size, sunk] = STONES[k]
  const [x, z] = [HUT[0] + away * cos(round * DEGREE), HUT[1] + away * sin(round * DEGREE)].map((value) => Math.round(1000 * value) / 1000)
  return [k + 1, 0x57e, 0, asset, 0xffffffff, x, -sunk, z, 0, sin(turn * DEGREE / 2), 0, cos(turn * DEGREE / 2), size, size, size]
}

/** A touch-up of an instance that stands at a place: what is changed of it, from {@link UNTOUCHED} on. */
function touch(id: readonly [low: number, high: number], asset: number, home: readonly [number, number, number], change: Partial<Record<'out' | 'east' | 'turn' | 'size' | 'swap', number>>): number[] {
  const { out = 0, east = 0, turn = 0, size = 1, swap = NONE } = change
  return [...id, 0, asset, ...home, out, east, 0, 0, 0, sin(turn * DEGREE / 2), 0, cos(turn * DEGREE / 2), size, size, size, swap, UNTOUCHED[12]]
}

/** Numbers of assets by their ids. */
export function handsByHand(numberOf: (id: string) => number): HandWork[] {
  const [pine, boulder, driftwood] = ['wind-pine', 'boulder', 'driftwood'].map(numberOf)
  return [
    { id: 'stones', name: '', grounds: ['terrain'], singles: [STONES.flatMap((_, k) => stone(k, boulder))], touched: [[]] },
    {
      id: 'pines',
      name: '',
      grounds: ['terrain'],
      singles: [[]],
      touched: [
        [
          ...touch([2495431818, 3288268143], pine, [85.3522, 5.5393, -77.2918], { turn: 70, size: 1.2 }),
          ...touch([715489853, 428426933], pine, [91.2975, 5.7997, -98.5105], { out: 1 }),
          ...touch([50995694, 1650619891], pine, [105.2662, 5.6808, -74.0574], { east: 1.8 }),
        ],
      ],
    },
    {
      id: 'boulders',
      name: '',
      grounds: ['terrain'],
      singles: [[]],
      touched: [[...touch([214530593, 726615162], boulder, [59.3929, 0.7219, 46.1324], { swap: driftwood }), ...touch([366605610, 2361523990], boulder, [64.2715, 0.6433, 2.4178], { size: 0.8, turn: 40 })]],
    },
  ]
}

/** The stones by the hut move as one. */
export function groupsByHand(): Group[] {
  const members = STONES.flatMap((_, k) => [0, k + 1, 0x57e])
  return [{ id: 'hut-stones', name: 'Stones by the hut', plantings: ['stones'], members: [members], groups: [] }]
}
