import { TERRAIN_ID } from '../core/grounds/ground.ts'
import { cos, DEGREE, sin } from '../core/math/portable.ts'
import type { Outline, PatternBase, Planting } from '../core/meadow.ts'
import { newCondition, newOutline, newPlanting, PLANTING_COLOURS } from '../document/new-planting.ts'
import { saltingsHeight } from './saltings-terrain.ts'

/** What stands in order in the demo: a boardwalk with rails, a quay wall with steps, a groyne, a fish trap, barnacles on planks, lanterns, haycocks. */

export function outlinesInOrder(): Outline[] {
  return [newOutline({ id: 'boardwalk', kind: 'path', name: 'Boardwalk', colour: '#2f8fc4', smooth: true, width: 1.6, lines: [[47, 80, 40, 72, 37, 62, 32, 52, 29, 40, 25, 30, 22.5, 22.5]] })]
}

/** A base on the terrain at a height over the mean tide, turned so far about up, degrees with the clock. */
function baseOn(x: number, height: number, z: number, degrees = 0): PatternBase {
  const half = -0.5 * degrees * DEGREE
  return { host: TERRAIN_ID, place: [x, Math.round(1000 * (height - saltingsHeight(x, z))) / 1000, z], turn: [0, sin(half), 0, cos(half)], size: 1 }
}

const colour = (k: number) => PLANTING_COLOURS[k % PLANTING_COLOURS.length]
const wooden = { follow: 0, room: 0, yields: false }
/** Straight from end to end of its path, over the creek. */
const bridge = { ...wooden, land: 0 }

function boardwalk(): Planting[] {
  const along = ['boardwalk']
  return [
    newPlanting({ id: 'planks', kind: 'trail', name: 'Planks of the boardwalk', colour: colour(1), seed: 41, mix: [{ asset: 'plank', share: 1 }], along, params: { ...bridge, spacing: 0.24, facing: 'ahead', leftOut: 0.02, turn: { from: -2, to: 2 }, wide: { from: 0.95, to: 1.06 }, lift: { from: 0.12, to: 0.15 } } }),
    newPlanting({ id: 'walk-posts', kind: 'trail', name: 'Posts of the boardwalk', colour: colour(1), seed: 42, mix: [{ asset: 'stake', share: 1 }], along, params: { ...bridge, spacing: 2.4, sides: 'both', off: 0.78, size: { from: 0.92, to: 1 }, lean: { from: 0, to: 3 }, lift: { from: -1.18, to: -1.1 } } }),
    newPlanting({ id: 'walk-rails', kind: 'trail', name: 'Rails of the boardwalk', colour: colour(1), seed: 43, mix: [{ asset: 'rail', share: 1 }], along, params: { ...bridge, spacing: 2.4, sides: 'both', off: 0.78, between: 'stretched', facing: 'right', lift: { from: 0.84, to: 0.84 } } }),
  ]
}

function quay(): Planting[] {
  return [
    newPlanting({ id: 'quay', kind: 'row', name: 'Quay wall', colour: colour(6), seed: 44, mix: [{ asset: 'wall-block', share: 1 }], base: baseOn(17.5, -0.88, 24.4), params: { ...wooden, land: 0, directions: '2', count1: 11, east1: 0, south1: 1.03, count2: 3, east2: 0.06, south2: 0, up2: 0.42, turn: { from: -0.6, to: 0.6 }, tall: { from: 0.97, to: 1.03 } } }),
    newPlanting({ id: 'quay-steps', kind: 'row', name: 'Steps of the quay', colour: colour(6), seed: 45, mix: [{ asset: 'stone-step', share: 1 }], base: baseOn(16.9, -0.8, 23), params: { ...wooden, land: 0, count1: 7, east1: 0.34, up1: 0.17, turn: { from: -1, to: 1 } } }),
  ]
}

function byTheWater(): Planting[] {
  return [
    newPlanting({ id: 'groyne', kind: 'row', name: 'Groyne', colour: colour(3), seed: 46, mix: [{ asset: 'post', share: 1 }], base: baseOn(16.5, 0.5, 61, 8), params: { ...wooden, count1: 9, east1: -1.15, turn: { from: 0, to: 360 }, size: { from: 0.95, to: 1.2 }, lean: { from: 0, to: 5 }, lift: { from: -0.4, to: -0.2 } } }),
    newPlanting({ id: 'fish-trap', kind: 'ring', name: 'Fish trap', colour: colour(3), seed: 47, mix: [{ asset: 'stake', share: 1 }], base: baseOn(8, -1.62, 33.5), params: { ...wooden, land: 0, count: 46, radius: 3, start: 118, arc: 316, size: { from: 0.94, to: 1.06 }, lean: { from: 0, to: 4 }, leftOut: 0.03 } }),
    newPlanting({ id: 'plank-barnacles', kind: 'perch', name: 'Barnacles on planks', colour: colour(5), seed: 48, mix: [{ asset: 'barnacles', share: 1 }], grounds: ['hull'], habitat: [newCondition('above-water', { above: { from: -1, to: 1.2 }, soft: 0.4 }, 'wet-planks')], params: { at: 'face', leftOut: 0.55, size: { from: 0.9, to: 1.7 }, turn: { from: 0, to: 360 }, eastBy: { from: -0.05, to: 0.05 } } }),
    newPlanting({ id: 'lanterns', kind: 'row', name: 'Lanterns on the hut', colour: colour(7), seed: 49, mix: [{ asset: 'lantern', share: 1 }], base: { host: 'hut', place: [-2.74, 2.1, -2.14], turn: [0, 0, 0, 1], size: 1 }, params: { ...wooden, land: 0, directions: '2', count1: 2, east1: 5.48, count2: 2, south2: 4.28 } }),
  ]
}

/** Hay in rows where it was mown. */
function haycocks(): Planting {
  const shift = { from: -0.5, to: 0.5 }
  return newPlanting({ id: 'haycocks', kind: 'bed', name: 'Haycocks on the mown marsh', colour: colour(4), seed: 50, mix: [{ asset: 'haycock', share: 1 }], along: ['mowing'], params: { every: 5.5, rowsApart: 6.5, staggered: 0.5, runs: 25, inset: 2.5, turn: { from: 0, to: 360 }, size: { from: 0.85, to: 1.15 }, lean: { from: 0, to: 4 }, follow: 0.3, eastBy: shift, southBy: shift, yields: false } })
}

/** They stand where they are put, whatever grows there: they come last. */
export function plantingsInOrder(): Planting[] {
  return [...boardwalk(), ...quay(), ...byTheWater(), haycocks()]
}
