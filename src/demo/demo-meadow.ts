import type { Asset, Beacon, Meadow, Outline, Planting } from '../core/meadow.ts'
import { MEADOW_VERSION } from '../core/meadow.ts'
import { emptyThings, newBeacon, newCondition, newDriver, newOutline, newPlanting, PLANTING_COLOURS } from '../document/new-planting.ts'
import type { Blobs } from '../formats/meadow-file.ts'
import { DEMO_ASSETS } from './assets/index.ts'
import { makeAssets, withPosies } from './assets/shelf.ts'
import { groupsByHand, handsByHand, outlinesByHand, plantingsByHand, strokesByHand } from './by-hand.ts'
import { outlinesInOrder, plantingsInOrder } from './in-order.ts'
import { makeDemoMeshes } from './meshes.ts'
import { SALTINGS, saltingsHeight } from './saltings-terrain.ts'
import type { Starter } from './starters/define.ts'
import { groundOf, makeStarter } from './starters/define.ts'

/** Makes the demo: *Gullhaven Saltings*, a made-up tidal marsh. The same bytes every time. */
export function makeDemo(): Promise<{ meadow: Meadow; blobs: Blobs }> {
  return makeStarter(saltings)
}

/** The demo's own assets with their full forms and stand-ins stored through `keep`. */
export function makeDemoAssets(keep: (bytes: Uint8Array<ArrayBuffer>) => Promise<string>): Promise<Asset[]> {
  return makeAssets(DEMO_ASSETS, keep)
}

export const saltings: Starter = {
  kind: 'saltings',
  name: 'Gullhaven Saltings',
  is: 'A tidal marsh of sixteen hectares: a winding creek, dunes and a shingle spit.',
  shows: 'The whole of it: heights above the water, mixes, drivers, beacons, plants on a wreck, and what a hand sowed, strewed and placed.',
  async make(keep) {
    const assets = withPosies(await makeDemoAssets(keep))
    return {
      version: MEADOW_VERSION,
      id: 'gullhaven-saltings',
      name: 'Gullhaven Saltings',
      ground: await groundOf(keep, 'Saltings', { samples: SALTINGS.columns, size: SALTINGS.size }, saltingsHeight),
      water: { shown: true, level: 0 },
      assets,
      nextAsset: assets.length,
      opened: null,
      plantings: [...largePlantings(), ...plantingsByHand(), ...dryPlantings(), ...wetPlantings(), ...plantingsInOrder()],
      ...emptyThings(),
      outlines: [...demoOutlines(), ...outlinesByHand(), ...outlinesInOrder()],
      strokes: strokesByHand(),
      hands: handsByHand((id) => assets.find((one) => one.id === id)?.number ?? 0),
      groups: groupsByHand(),
      beacons: demoBeacons(),
      meshes: await makeDemoMeshes(keep),
      habitats: [],
      views: [
        { id: 'creek', name: 'Up the creek', position: [34, 3.4, 74], target: [2, 0.1, 30] },
        { id: 'knoll', name: 'From the pine knoll', position: [84, 15.5, -104], target: [6, -2, 20] },
        { id: 'overview', name: 'Over the saltings', position: [-150, 74, 205], target: [8, -6, 6] },
      ],
    }
  },
}

const above = (from: number | null, to: number | null, soft: number) =>
  newCondition('above-water', { above: { from, to }, soft }, `above-${from}-${to}`)
const slope = (to: number) => newCondition('slope', { slope: { from: null, to }, soft: 5 }, `slope-${to}`)
const patches = (size: number, coverage: number, contrast: number, shift: number) =>
  newCondition('patchiness', { size, coverage, contrast, shift }, `patches-${size}`)

/** A trodden track from the shore to the knoll, and a mown piece beside it. */
function demoOutlines(): Outline[] {
  return [
    newOutline({
      id: 'track',
      kind: 'path',
      name: 'Track to the knoll',
      colour: '#e0a33a',
      smooth: true,
      width: 1.8,
      lines: [[38, 122, 58, 110, 88, 72, 106, 66, 116, 52, 110, 14, 98, 2, 94, -42, 83, -64, 82, -88, 86, -96]],
    }),
    newOutline({
      id: 'mowing',
      kind: 'patch',
      name: 'Mown marsh',
      colour: '#d7552f',
      smooth: true,
      lines: [[58, 98, 44, 84, 52, 66, 70, 62, 82, 68, 74, 84]],
    }),
  ]
}

/** The spring in the saltings: what stands near it grows taller and greener. */
function demoBeacons(): Beacon[] {
  return [newBeacon({ id: 'spring', name: 'Spring', colour: '#f2c14e', x: 26, z: 60, reach: 9, falloff: 'round' })]
}

const clearOfTheHut = newCondition('obstacle', { mesh: 'hut', margin: 0.35, tall: 0.7, soft: 0.3 }, 'hut')
const shorterByTheTrack = (id: string) =>
  newDriver('path', 'size', { id: `track-${id}`, params: { path: 'track' }, over: { from: 0.4, to: 3.6 }, curve: [0, 0, 0.25, 0.44, 0.5, 0.75, 0.75, 0.94, 1, 1], low: 0.35, high: 1 })
const fromTheSpring = (id: string, target: 'size' | 'tint', low: number | string, high: number | string) =>
  newDriver('beacon', target, { id: `spring-${target}-${id}`, params: { beacon: 'spring' }, low, high })
const offTheTrack = (metres: number) =>
  newCondition('path', { path: 'track', away: { from: metres, to: null }, soft: 0.9 }, `track-${metres}`)
const offTheWalk = newCondition('path', { path: 'boardwalk', away: { from: 0, to: null }, soft: 0.4 }, 'boardwalk-0')
const outsideTheMowing = newCondition('patch', { patch: 'mowing', side: 'outside', soft: 1.5 }, 'mowing')

const colour = (i: number) => PLANTING_COLOURS[i % PLANTING_COLOURS.length]

/** The first to claim their room: what is large. */
function largePlantings(): Planting[] {
  return [
    newPlanting({
      id: 'pines',
      name: 'Pines on the knoll',
      colour: colour(0),
      seed: 4,
      mix: [{ asset: 'wind-pine', share: 1 }],
      habitat: [above(4.2, null, 0.6), slope(30), patches(46, 0.5, 0.8, 3), offTheTrack(1.5)],
      params: {
        spacing: 6,
        size: { from: 0.65, to: 1.25 },
        turn: { from: -35, to: 35 },
        lean: { from: 0, to: 5 },
        follow: 0,
      },
    }),
    newPlanting({
      id: 'boulders',
      name: 'Boulders and driftwood',
      colour: colour(6),
      seed: 12,
      mix: [
        { asset: 'boulder', share: 2 },
        { asset: 'driftwood', share: 3 },
      ],
      habitat: [above(0.2, 2.2, 0.4), patches(30, 0.3, 0.9, 1)],
      params: {
        spacing: 5.5,
        placing: 'random',
        size: { from: 0.5, to: 1.5 },
        sizeSpread: 'middle',
        follow: 0.8,
        lift: { from: -0.12, to: 0 },
      },
    }),
    newPlanting({
      id: 'shrubs',
      name: 'Thorn shrubs',
      colour: colour(1),
      seed: 5,
      mix: [{ asset: 'thorn-shrub', share: 1 }],
      habitat: [above(2, 9, 0.5), slope(28), patches(26, 0.35, 0.9, 2), offTheTrack(0.6)],
      params: { spacing: 1.9, size: { from: 0.6, to: 1.5 }, follow: 0.4, lean: { from: 0, to: 8 } },
    }),
  ]
}

/** What grows on the dry ground, and by the strand. */
function dryPlantings(): Planting[] {
  return [
    newPlanting({
      id: 'tangles',
      name: 'Tangles on the strand',
      colour: colour(1),
      seed: 51,
      mix: [{ asset: 'strand-tangle', share: 1 }],
      habitat: [above(0.25, 1.1, 0.2), patches(24, 0.4, 0.8, 11), offTheTrack(0.5), offTheWalk, clearOfTheHut],
      params: { spacing: 7, placing: 'random', size: { from: 0.7, to: 1.3 }, follow: 0.3, lean: { from: 0, to: 0 } },
    }),
    newPlanting({
      id: 'tussocks',
      name: 'Stones and tussocks',
      colour: colour(2),
      seed: 52,
      mix: [
        { asset: 'stone-court', share: 1 },
        { asset: 'marsh-tussock', share: 4 },
      ],
      habitat: [above(0.6, 1.6, 0.2), patches(20, 0.35, 0.8, 12), offTheTrack(0.5), offTheWalk, clearOfTheHut],
      params: { spacing: 3.2, size: { from: 0.8, to: 1.3 }, follow: 0.2, lean: { from: 0, to: 3 } },
    }),
    newPlanting({
      id: 'strandline',
      name: 'Shingle and shells',
      colour: colour(5),
      seed: 6,
      mix: [
        { asset: 'shingle', share: 5 },
        { asset: 'shell', share: 1 },
      ],
      habitat: [above(1.1, 3.4, 0.3), patches(34, 0.42, 0.7, 5)],
      params: { spacing: 0.7, size: { from: 0.7, to: 1.4 }, follow: 1, lean: { from: 0, to: 0 } },
    }),
    newPlanting({
      id: 'lavender',
      name: 'Sea lavender and thrift',
      colour: colour(2),
      seed: 7,
      mix: [
        { asset: 'sea-lavender', share: 3 },
        { asset: 'thrift', share: 2 },
      ],
      habitat: [above(0.5, 1.4, 0.15), slope(18), patches(9, 0.46, 0.75, 4), offTheTrack(0), offTheWalk, clearOfTheHut],
      drivers: [fromTheSpring('lavender', 'size', 1, 1.55)],
      params: { spacing: 0.62, size: { from: 0.7, to: 1.3 }, lean: { from: 0, to: 8 }, follow: 0.5, ownKind: 0.55, grove: 7 },
    }),
  ]
}

/** What grows by the water, and what covers all the rest and the hull. */
function wetPlantings(): Planting[] {
  return [
    newPlanting({
      id: 'samphire',
      name: 'Samphire on the mud',
      colour: colour(4),
      seed: 8,
      mix: [{ asset: 'samphire', share: 1 }],
      habitat: [above(0.05, 0.65, 0.15), patches(7, 0.5, 0.6, 6), offTheWalk, clearOfTheHut],
      params: { spacing: 0.5, size: { from: 0.7, to: 1.4 }, follow: 0.6 },
    }),
    newPlanting({
      id: 'reeds',
      name: 'Reeds by the creek',
      colour: colour(2),
      seed: 15,
      mix: [{ asset: 'reed', share: 1 }],
      habitat: [newCondition('from-water', { away: { from: -1.6, to: 2.2 }, soft: 0.8 }, 'creek-side'), above(-0.6, 0.6, 0.2), clearOfTheHut],
      params: { by: 'density', density: 0.9, placing: 'natural', arrangement: 0.72, clump: 5, looseness: 0.25, size: { from: 0.75, to: 1.35 }, lean: { from: 0, to: 6 }, follow: 0, room: 0.5 },
    }),
    newPlanting({
      id: 'cordgrass',
      name: 'Cordgrass along the creek',
      colour: colour(3),
      seed: 9,
      mix: [{ asset: 'cordgrass', share: 1 }],
      habitat: [above(-0.35, 0.5, 0.2), patches(12, 0.72, 0.5, 7), offTheWalk, clearOfTheHut],
      params: { spacing: 0.55, size: { from: 0.7, to: 1.3 }, lean: { from: 0, to: 7 }, follow: 0.15, room: 0.6 },
    }),
    newPlanting({
      id: 'marram',
      name: 'Marram on the dunes',
      colour: colour(7),
      seed: 10,
      mix: [{ asset: 'marram', share: 1 }],
      habitat: [above(1.5, null, 0.5), slope(38), patches(11, 0.78, 0.35, 8), offTheTrack(0)],
      params: {
        spacing: 0.8,
        size: { from: 0.65, to: 1.3 },
        lean: { from: 4, to: 16 },
        leanTo: 'wind',
        wind: 80,
        follow: 0.25,
        room: 0.7,
      },
    }),
    newPlanting({
      id: 'saltgrass',
      name: 'Saltmarsh grass',
      colour: colour(0),
      seed: 11,
      mix: [{ asset: 'saltgrass', share: 1 }],
      habitat: [above(0.35, 2.2, 0.2), slope(30), patches(16, 0.85, 0.4, 9), offTheTrack(0), offTheWalk, outsideTheMowing, clearOfTheHut],
      drivers: [shorterByTheTrack('saltgrass'), fromTheSpring('saltgrass', 'size', 1, 1.5), fromTheSpring('saltgrass', 'tint', '#ffffff', '#c9f09a')],
      params: { spacing: 0.6, size: { from: 0.7, to: 1.5 }, lean: { from: 0, to: 9 }, follow: 0.6, room: 0.5 },
    }),
    newPlanting({
      id: 'barnacles',
      name: 'Barnacles on the hull',
      colour: colour(5),
      seed: 21,
      mix: [{ asset: 'barnacles', share: 1 }],
      grounds: ['hull'],
      habitat: [above(-1, 1.5, 0.6), patches(1.2, 0.75, 0.5, 2)],
      params: { spacing: 0.11, fill: 'all-over', follow: 1, lean: { from: 0, to: 0 }, size: { from: 0.7, to: 1.5 }, room: 0 },
    }),
    newPlanting({
      id: 'wrack',
      name: 'Wrack on the hull',
      colour: colour(3),
      seed: 22,
      mix: [{ asset: 'wrack', share: 1 }],
      grounds: ['hull'],
      habitat: [above(-1, 1.1, 0.5), patches(1.6, 0.6, 0.7, 5)],
      params: { spacing: 0.16, fill: 'all-over', placing: 'random', follow: 0.85, lean: { from: 0, to: 12 }, size: { from: 0.8, to: 1.7 }, room: 0 },
    }),
  ]
}
