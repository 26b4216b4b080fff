import type { GroundFrame } from '../../core/hand/frames.ts'
import { groundFrame } from '../../core/hand/frames.ts'
import { T, TOUCH, UNTOUCHED } from '../../core/hand/layout.ts'
import { makeDemo } from '../../demo/demo-meadow.ts'
import { imageOf, meshOf } from '../../testing/fields.ts'
import { valuesOf } from '../../core/long-list.ts'
import type { Group, Meadow } from '../../core/meadow.ts'
import { partOf } from '../../core/posy/posy.ts'
import { idsOf } from '../../core/things/members.ts'
import { checkChange } from '../check-change.ts'
import { edit, newGesture, redo, startHistory, undo } from '../history.ts'
import { refusedByLock } from '../locks.ts'
import { readMeadow } from '../migrations.ts'
import { newCondition, newDriver } from '../new-planting.ts'
import * as along from './along.ts'
import * as assets from './assets.ts'
import * as base from './base.ts'
import * as beacons from './beacons.ts'
import * as drivers from './drivers.ts'
import type { Editor } from './editor.ts'
import * as groups from './groups.ts'
import * as pegs from './pegs.ts'
import * as runs from './runs.ts'
import * as gather from './gather.ts'
import * as ground from './ground.ts'
import * as hands from './hands.ts'
import * as habitats from './habitats.ts'
import * as images from './images.ts'
import * as meshes from './meshes.ts'
import * as mixes from './mixes.ts'
import * as outlines from './outlines.ts'
import * as plantings from './plantings.ts'
import * as posies from './posies.ts'
import * as selections from './selections.ts'
import * as strokes from './strokes.ts'
import * as views from './views.ts'

const demo = (await makeDemo()).meadow

/** The demo with one of everything that can be edited. */
const start: Meadow = {
  ...demo,
  assets: [...demo.assets, { ...demo.assets[0], id: 'posy', number: demo.nextAsset, name: 'Tussock', blob: '', standIns: [], parts: [partOf(demo.assets[3].id, { place: [1, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] })] }],
  nextAsset: demo.nextAsset + 1,
  opened: { asset: 'posy', planting: 'parts', place: [0, 0, 0], turn: [0, 0, 0, 1], size: 1, instead: null },
  plantings: demo.plantings.map((one, k) => (k === 0 ? { ...one, base: { host: demo.meshes[0].id, place: [1, 2, 3], turn: [0, 0.6, 0, 0.8], size: 1, rides: { thing: 'instance', id: demo.plantings[1].id, low: 3, high: 4, place: [1, 2, 3], turn: [0, 0, 0, 1], size: 1 } }, along: [demo.outlines[0].id], mix: [demo.assets[0], demo.assets[1]].map(({ id }, i) => ({ asset: id, share: 3 - i, ...(i === 1 && { where: newCondition('slope', {}, 'w'), elsewhere: 0.1 }) })), drivers: [newDriver('height', 'size', { id: 'd' })], habitat: [newCondition('slope', {}, 'c1'), newCondition('height', {}, 'c2')] } : one)),
  images: [{ ...imageOf(2, 2, () => [0, 0, 0, 0]).placed, blob: 'a'.repeat(64) }],
  strokes: [{ id: 's', name: '', planting: demo.plantings[0].id, act: 'thin', ground: 'terrain', width: 4, soft: 0.5, strength: 0.5, only: [], lines: [[1, 2, 3, 0, 1, 0, 1, 5, 2, 3, 0, 1, 0, 1]] }],
  hands: [{ id: demo.plantings[0].id, name: '', grounds: ['terrain'], singles: [[1, 2, 0, 0, 0xffffffff, 3, 0, 4, 0, 0, 0, 1, 1, 1, 1]], touched: [[3, 4, 0, 0, 5, 1, 6, ...UNTOUCHED]] }],
  groups: [{ id: 'g', name: 'Group', plantings: [demo.plantings[0].id], members: [[0, 1, 2]], groups: [] }],
  runs: [{ id: 'r', name: 'Run', kind: 'line', plantings: [demo.plantings[0].id], members: [[0, 1, 2]], ground: 'terrain', from: [0, 0, 0], to: [1, 0, 0], spacing: 2, arc: 360, path: '' }],
  pegs: [{ id: 'peg', name: 'Peg', ground: 'terrain', place: [1, 0, 2] }],
  selections: [{ id: 'k', name: 'Kept', plantings: [demo.plantings[0].id], members: [[0, 1, 2]] }],
  habitats: [{ id: 'h', name: 'Kept', combine: 'any', uses: [newCondition('slope', {}, 'k')] }],
}

interface Desk extends Editor {
  history(): ReturnType<typeof startHistory>
  undo(): void
  redo(): void
}

/** Edits a meadow as an open session does, without a page. */
function deskWith(meadow: Meadow): Desk {
  let history = startHistory(meadow)
  return {
    meadow: () => history.meadow,
    history: () => history,
    edit(name, recipe, gesture) {
      const next = edit(history, name, recipe, gesture ?? null)
      if ((refusedByLock(history.meadow, next.meadow) ?? checkChange(history.meadow, next.meadow)) !== null) return false
      history = next
      return true
    },
    undo: () => void (history = undo(history)),
    redo: () => void (history = redo(history)),
  }
}

const [P] = start.plantings
const POSY = start.assets[start.assets.length - 1]
const [O] = start.outlines
const [B] = start.beacons
const [M] = start.meshes
const STAND = { tint: 0xffffffff, place: [1, 2, 3], turn: [0, 0, 0, 1], size: [1, 1, 1] } as const
const FRAME = groundFrame('terrain', [], () => 2) as GroundFrame
const lock = { plantings: P.id, outlines: O.id, beacons: B.id, meshes: M.id }
type Listed = keyof typeof lock

/** Three singles on a line, gathered. */
function gatherThree(editor: Editor) {
  const three = [0, 1, 2].map((k) => ({ planting: P.id, low: 10 + k, high: 0, ground: 'terrain', asset: 0, ...STAND, place: [2 * k, 1, 0] as const }))
  return gather.gatherInOrder(editor, gather.fitsOf(three, () => 1)[0], three, () => 1)
}

/** Every edit: what undo calls it, and the list whose first thing it changes, when that can be locked. */
const EDITS: readonly (readonly [fn: unknown, name: string, list: Listed | null, run: (editor: Editor) => unknown])[] = [
  [assets.addAssets, 'Bring in 2 models', null, (e) => assets.addAssets(e, ['new', 'newer'].map((id) => ({ ...start.assets[0], id })))],
  [along.strewLine, `Strew ${demo.assets[0].name}`, null, (e) => along.strewLine(e, { line: [0, 0, 5, 5], smooth: true, planting: null, mix: [{ asset: demo.assets[0].id, share: 1 }], params: along.firstStrewing(0.4) })],
  [along.addAlong, 'Lie along a path', 'plantings', (e) => along.addAlong(e, P.id, 'new path')],
  [along.leaveAlong, 'Lie along a path no more', 'plantings', (e) => along.leaveAlong(e, P.id, O.id)],
  [along.giveAlong, 'Give a line to another planting', 'plantings', (e) => along.giveAlong(e, P.id, start.plantings[1].id, O.id)],
  [assets.changeAsset, 'Change an asset', null, (e) => assets.changeAsset(e, start.assets[0].id, { ...start.assets[1], name: 'Other' })],
  [assets.removeAsset, 'Remove an asset', null, (e) => assets.removeAsset(e, start.assets[0])],
  [beacons.addBeacon, 'Set a beacon', null, (e) => beacons.addBeacon(e, 3, 4)],
  [beacons.setBeacon, 'Move a beacon', 'beacons', (e) => beacons.setBeacon(e, B.id, 'Move a beacon', { x: 7 })],
  [beacons.removeBeacon, 'Remove the beacon', 'beacons', (e) => beacons.removeBeacon(e, B)],
  [drivers.addDriver, 'Add a driver', 'plantings', (e) => drivers.addDriver(e, P.id, 'slope', newDriver('slope', 'size').params)],
  [drivers.removeDriver, 'Remove a driver', 'plantings', (e) => drivers.removeDriver(e, P.id, 'd')],
  [drivers.setDriver, 'Bend', 'plantings', (e) => drivers.setDriver(e, P.id, 'd', 'Bend', (use) => void (use.over.to += 1))],
  [drivers.setDriverTarget, 'Change what a driver changes', 'plantings', (e) => drivers.setDriverTarget(e, P.id, 'd', 'tint')],
  [ground.setGround, 'Bring in a ground', null, (e) => ground.setGround(e, { ...start.ground, name: 'Other', lowest: 20, highest: 30 })],
  [ground.showWater, 'Hide the water', null, (e) => ground.showWater(e, false)],
  [ground.setWaterLevel, 'Change the water level', null, (e) => ground.setWaterLevel(e, 1.5)],
  [hands.addSingles, 'Place Thrift', 'plantings', (e) => hands.addSingles(e, 'Place Thrift', [{ planting: P.id, ground: 'terrain', asset: 0, ...STAND }], () => 1)],
  [hands.changeByHand, 'Move 2', 'plantings', (e) => hands.changeByHand(e, 'Move 2', [[1, 2], [7, 8]].map(([low, high]) => ({ at: { planting: P.id, low, high, ground: M.id, asset: 0, ...STAND }, to: { place: [9, 9, 9] as const } })), () => 1)],
  [hands.forgetTouchUps, 'Forget a touch-up', 'plantings', (e) => hands.forgetTouchUps(e, P.id, [0])],
  [hands.looseToSingles, 'Make a single of a loose one', 'plantings', (e) => hands.looseToSingles(e, P.id, [0], () => 1)],
  [hands.letGo, 'Let one go', 'plantings', (e) => hands.letGo(e, [{ planting: P.id, low: 7, high: 8, ground: 'terrain', asset: 0, ...STAND }], () => 1)],
  [groups.addGroup, 'Group', null, (e) => groups.addGroup(e, [{ planting: P.id, low: 1, high: 2 }, { planting: P.id, low: 5, high: 6 }], [])],
  [groups.dissolveGroup, 'Dissolve a group', null, (e) => groups.dissolveGroup(e, 'g')],
  [groups.renameGroup, 'Rename a group', null, (e) => groups.renameGroup(e, 'g', 'Stones')],
  [runs.addRun, 'Space 2 out', null, (e) => runs.addRun(e, 'Space 2 out', { kind: 'line', ground: 'terrain', from: [0, 0, 0], to: [3, 0, 0], spacing: 3, arc: 360, path: '', ids: [{ planting: P.id, low: 1, high: 2 }, { planting: P.id, low: 5, high: 6 }] })],
  [runs.setRun, 'Space 1 out', null, (e) => runs.setRun(e, 'r', 'Space 1 out', { spacing: 5 })],
  [runs.removeRun, 'Forget a run', null, (e) => runs.removeRun(e, 'r')],
  [pegs.addPeg, 'Set a peg', null, (e) => pegs.addPeg(e, 'terrain', FRAME, [1, 2, 3])],
  [pegs.movePeg, 'Move a peg', null, (e) => pegs.movePeg(e, 'peg', [4, 0, 4])],
  [pegs.removePeg, 'Take a peg out', null, (e) => pegs.removePeg(e, 'peg')],
  [pegs.removePegs, 'Take all pegs out', null, (e) => pegs.removePegs(e)],
  [habitats.addConditions, 'Paste conditions', 'plantings', (e) => habitats.addConditions(e, P.id, P.habitat, 'Paste conditions')],
  [habitats.setCombine, 'One condition is enough', 'plantings', (e) => habitats.setCombine(e, P.id, 'any')],
  [habitats.invertCondition, 'Turn a condition round', 'plantings', (e) => habitats.invertCondition(e, P.id, 'c1')],
  [habitats.moveCondition, 'Move a condition', 'plantings', (e) => habitats.moveCondition(e, P.id, 'c1', 1)],
  [habitats.keepHabitat, 'Keep a habitat', null, (e) => habitats.keepHabitat(e, P.id)],
  [habitats.applyHabitat, 'Take a kept habitat', 'plantings', (e) => habitats.applyHabitat(e, P.id, start.habitats[0])],
  [habitats.renameHabitat, 'Rename a kept habitat', null, (e) => habitats.renameHabitat(e, start.habitats[0], 'Dry')],
  [habitats.removeHabitat, 'Forget a habitat', null, (e) => habitats.removeHabitat(e, start.habitats[0])],
  [images.addImage, 'Bring in an image', null, (e) => images.addImage(e, { name: 'I', blob: 'b'.repeat(64), columns: 3, rows: 2 })],
  [images.placeImage, 'Place an image', null, (e) => images.placeImage(e, start.images[0].id, { turn: 40 })],
  [images.removeImage, 'Remove the image', null, (e) => images.removeImage(e, start.images[0])],
  [meshes.addMesh, 'Bring in a mesh', null, (e) => meshes.addMesh(e, meshOf({ id: 'new', blob: 'c'.repeat(64), shape: 'd'.repeat(64) }))],
  [meshes.setMesh, 'Move a mesh', 'meshes', (e) => meshes.setMesh(e, M.id, 'Move a mesh', { position: [1, 2, 3] })],
  [meshes.removeMesh, 'Remove the mesh', 'meshes', (e) => meshes.removeMesh(e, M, () => 0)],
  [outlines.addOutlines, 'Draw', null, (e) => outlines.addOutlines(e, 'Draw', [{ kind: 'path', lines: [[0, 0, 5, 5]] }])],
  [outlines.movePoint, 'Move a point', 'outlines', (e) => outlines.movePoint(e, O.id, { line: 0, index: 1 }, 1, 2)],
  [outlines.insertPoint, 'Add a point', 'outlines', (e) => outlines.insertPoint(e, O.id, { line: 0, index: 0 }, 1, 2)],
  [outlines.removePoint, 'Take a point out', 'outlines', (e) => outlines.removePoint(e, O.id, { line: 0, index: 1 })],
  [outlines.setAbove, 'Raise a path', 'outlines', (e) => outlines.setAbove(e, O.id, { line: 0, index: 1 }, 2.5)],
  [outlines.setOutline, 'Change the width', 'outlines', (e) => outlines.setOutline(e, O.id, 'Change the width', 'width', 3)],
  [outlines.removeOutline, `Remove the ${O.kind}`, 'outlines', (e) => outlines.removeOutline(e, O.id)],
  [outlines.duplicateOutline, 'Duplicate the outline', null, (e) => outlines.duplicateOutline(e, O.id)],
  [outlines.useOutline, 'Add a condition', 'plantings', (e) => outlines.useOutline(e, P.id, O, outlines.OUTLINE_USES[O.kind][0])],
  [plantings.changePlanting, 'Recolour', 'plantings', (e) => plantings.changePlanting(e, P.id, 'Recolour', (one) => void (one.colour = '#010203'))],
  [plantings.setParam, 'Change spacing', 'plantings', (e) => plantings.setParam(e, P.id, 'Spacing', 'spacing', 7.5)],
  [plantings.setConditionParam, 'Change soft edge', 'plantings', (e) => plantings.setConditionParam(e, P.id, 'c1', 'Soft edge', 'soft', 9)],
  [plantings.setSwitch, 'Hide the planting', null, (e) => plantings.setSwitch(e, P.id, 'visible', false)],
  [plantings.renamePlanting, 'Rename the planting', 'plantings', (e) => plantings.renamePlanting(e, P.id, 'Other')],
  [plantings.setGrounds, 'Change what it grows on', 'plantings', (e) => plantings.setGrounds(e, P.id, [M.id, ...P.grounds])],
  [plantings.throwAgain, 'Throw again', 'plantings', (e) => plantings.throwAgain(e, P.id)],
  [plantings.removeCondition, 'Remove a condition', 'plantings', (e) => plantings.removeCondition(e, P.id, 'c1')],
  [plantings.switchCondition, 'Switch a condition off', 'plantings', (e) => plantings.switchCondition(e, P.id, 'c1', false)],
  [mixes.setShare, 'Change the shares', 'plantings', (e) => mixes.setShare(e, P.id, 0, 60)],
  [mixes.moveBorder, 'Change the shares', 'plantings', (e) => mixes.moveBorder(e, P.id, 0, 0.2)],
  [mixes.addToMix, 'Add to the mix', 'plantings', (e) => mixes.addToMix(e, P.id, start.assets.find(({ id }) => !P.mix.some(({ asset }) => asset === id))?.id as string)],
  [mixes.takeOutOfMix, 'Take out of the mix', 'plantings', (e) => mixes.takeOutOfMix(e, P.id, 0)],
  [mixes.setPreference, 'Change where one of the mix prefers to be', 'plantings', (e) => mixes.setPreference(e, P.id, 0, 'slope')],
  [mixes.setPreferenceParam, 'Change soft edge', 'plantings', (e) => mixes.setPreferenceParam(e, P.id, 1, 'Soft edge', 'soft', 7)],
  [mixes.setElsewhere, 'Change how much grows elsewhere', 'plantings', (e) => mixes.setElsewhere(e, P.id, 1, 0.5)],
  [plantings.addPlanting, 'Add a planting', null, (e) => plantings.addPlanting(e, start.assets[0].id)],
  [plantings.duplicatePlanting, 'Duplicate the planting', null, (e) => plantings.duplicatePlanting(e, P.id)],
  [plantings.removePlanting, 'Remove the planting', 'plantings', (e) => plantings.removePlanting(e, P.id)],
  [plantings.movePlanting, 'Change the order', null, (e) => plantings.movePlanting(e, P.id, 3)],
  [posies.gatherPosy, 'Gather a posy', null, (e) => posies.gatherPosy(e, 'Tuft', [{ planting: P.id, low: 7, high: 8, ground: 'terrain', asset: 0, ...STAND }], () => 1, { instead: false, drapes: true })],
  [gather.gatherInOrder, 'Gather 3 in a row', null, (e) => gatherThree(e)],
  [posies.openPosy, 'Open the posy Tussock', null, (e) => posies.openPosy(e, POSY, STAND, null, () => 1)],
  [posies.putTogether, 'Put the posy together', null, (e) => posies.putTogether(e)],
  [posies.takeApart, 'Take a posy apart', 'plantings', (e) => posies.takeApart(e, [{ planting: P.id, low: 7, high: 8, ground: 'terrain', asset: POSY.number, ...STAND }], () => 1)],
  [base.setBase, 'Stand it elsewhere', 'plantings', (e) => base.setBase(e, P.id, { host: 'terrain', place: [4, 0, 5], turn: [0, 0, 0, 1], size: 1 })],
  [base.liftOff, 'Lift it off', 'plantings', (e) => base.liftOff(e, P.id, () => 7)],
  [strokes.addStrokes, `Sow ${P.name}`, 'plantings', (e) => strokes.addStrokes(e, [{ planting: P.id, act: 'sow', ground: M.id, width: 3, soft: 0.2, strength: 1, points: [1, 2, 3, 0, 1, 0, 1] }])],
  [strokes.drawOn, `Thin ${P.name}`, 'plantings', (e) => strokes.drawOn(e, ['s'], 1, [7, 2, 3, 0, 1, 0, 1, 8, 2, 3, 0, 1, 0, 1], 'g')],
  [strokes.setStroke, 'Change the width of a stroke', 'plantings', (e) => strokes.setStroke(e, 's', 'width', 9)],
  [strokes.moveStroke, 'Reshape a stroke', 'plantings', (e) => strokes.moveStroke(e, 's', 1, [1, 0, -1])],
  [strokes.removeStrokes, 'Take a stroke out', 'plantings', (e) => strokes.removeStrokes(e, ['s'])],
  [strokes.setSown, 'Grow where it is sown only', 'plantings', (e) => strokes.setSown(e, P.id, true)],
  [selections.keepSelection, 'Keep a selection', null, (e) => selections.keepSelection(e, new Map([[P.id, [[1, 2], [3, 4]]]]))],
  [selections.renameSelection, 'Rename a selection', null, (e) => selections.renameSelection(e, 'k', 'Other')],
  [selections.removeSelection, 'Forget a selection', null, (e) => selections.removeSelection(e, 'k')],
  [views.keepView, 'Keep a view', null, (e) => views.keepView(e, { position: [1, 2, 3], target: [0, 0, 0] })],
  [views.renameView, 'Rename a view', null, (e) => views.renameView(e, start.views[0].id, 'Other')],
  [views.removeView, 'Remove a view', null, (e) => views.removeView(e, start.views[0].id)],
]

/** Asked, not edits. */
const ASKED: readonly unknown[] = [hands.sharedGround, base.baseAt, base.leaveHost, base.turnOfBase, base.withTurn, selections.membersOf, assets.userOf, plantings.firstSpacing, plantings.spacingOfRoom, plantings.spacingAtFirst, mixes.partsOf, along.firstStrewing, outlines.nextOutline, gather.fitsOf, posies.frameAround, posies.tooManyParts, posies.posyOf, posies.followChange, posies.measureChange]

describe('the edits of a meadow', () => {
  it('are all tried here', () => {
    const known = new Set([...EDITS.map(([fn]) => fn), ...ASKED])
    for (const module of [along, assets, base, beacons, drivers, gather, ground, groups, hands, habitats, images, meshes, mixes, outlines, pegs, plantings, posies, runs, selections, strokes, views])
      for (const [name, value] of Object.entries(module)) if (typeof value === 'function') expect([name, known.has(value)]).toEqual([name, true])
  })

  it.each(EDITS.map(([fn, name, list, run]) => [(fn as { name: string }).name, name, list, run] as const))('%s: one step, “%s”, that opens again and is taken back whole', (_, name, __, run) => {
    const desk = deskWith(start)
    run(desk)
    expect(desk.history().past.map((step) => step.name)).toEqual([name])
    const after = desk.meadow()
    expect(after).not.toEqual(start)
    expect(readMeadow(JSON.parse(JSON.stringify(after)))).toEqual({ meadow: after })
    desk.undo()
    expect(desk.meadow()).toEqual(start)
    desk.redo()
    expect(desk.meadow()).toEqual(after)
  })

  it.each(EDITS.filter(([, , list]) => list !== null).map(([fn, , list, run]) => [(fn as { name: string }).name, list as Listed, run] as const))('%s changes nothing of what is locked, and of the rest only what it is for', (_, list, run) => {
    const locked: Meadow = { ...start, [list]: (start[list] as { id: string }[]).map((one) => (one.id === lock[list] ? { ...one, locked: true } : one)) }
    const desk = deskWith(locked)
    run(desk)
    expect(desk.meadow()).toBe(locked)
    expect(desk.history().past).toEqual([])
  })

  it.each(EDITS.filter(([, , list]) => list === null).map(([fn, , , run]) => [(fn as { name: string }).name, run] as const))('%s does not care what is locked', (_, run) => {
    const all = <T extends { locked: boolean }>(things: readonly T[]) => things.map((one) => ({ ...one, locked: true }))
    const desk = deskWith({ ...start, plantings: all(start.plantings), outlines: all(start.outlines), beacons: all(start.beacons), meshes: all(start.meshes) })
    run(desk)
    expect(desk.history().past.length).toBe(1)
  })

  it('let a locked thing be unlocked, shown and hidden, and say which one holds them off', () => {
    const desk = deskWith(start)
    plantings.setSwitch(desk, P.id, 'locked', true)
    plantings.setSwitch(desk, P.id, 'visible', false)
    beacons.setBeacon(desk, B.id, 'Lock the beacon', { locked: true })
    expect(desk.history().past.length).toBe(3)
    const changed = { ...desk.meadow(), plantings: desk.meadow().plantings.slice(1) }
    expect(refusedByLock(desk.meadow(), changed)).toBe(`The planting “${P.name}” is locked; unlock it first. Nothing was changed.`)
    plantings.setSwitch(desk, P.id, 'locked', false)
    plantings.renamePlanting(desk, P.id, 'Free')
    expect(desk.meadow().plantings[0].name).toBe('Free')
    // Taking back goes past the lock.
    for (let k = 0; k < 5; k++) desk.undo()
    expect(desk.meadow()).toEqual(start)
  })

  it('of one gesture are one step, of two gestures two', () => {
    const desk = deskWith(start)
    const [first, second] = [newGesture(), newGesture()]
    expect(first).not.toBe(second)
    for (let k = 1; k <= 12; k++) plantings.setParam(desk, P.id, 'Spacing', 'spacing', 2 + k / 10, first)
    for (let k = 1; k <= 5; k++) ground.setWaterLevel(desk, k / 10, second)
    expect(desk.history().past.map(({ name }) => name)).toEqual(['Change spacing', 'Change the water level'])
    desk.undo()
    desk.undo()
    expect(desk.meadow()).toEqual(start)
    // What is made again joins no drag.
    desk.redo()
    plantings.setParam(desk, P.id, 'Spacing', 'spacing', 9, first)
    expect(desk.history().past.length).toBe(2)
  })

  it('of one gesture begin from the same hand work, on grounds and in plantings that had none as well', () => {
    const desk = deskWith({ ...start, hands: start.hands.map((one) => ({ ...one, grounds: [...one.grounds] })) })
    const gesture = { gesture: newGesture(), before: desk.meadow().hands }
    const [other] = start.plantings.slice(1)
    const at = [{ planting: P.id, low: 77, high: 8, ground: M.id, asset: 0, ...STAND }, { planting: other.id, low: 9, high: 9, ground: M.id, asset: 0, ...STAND }]
    for (let k = 1; k <= 4; k++) expect(hands.changeByHand(desk, 'Move 2', at.map((one) => ({ at: one, to: { place: [1 + k, 2, 3] as const } })), () => 0, gesture)).toBe(true)
    expect(desk.history().past.length).toBe(1)
    const frame = groundFrame(M.id, start.meshes, () => 0) as GroundFrame
    const way = frame.placeToOwn([5, 2, 3]).map((one, c) => one - frame.placeToOwn([1, 2, 3])[c])
    for (const id of [P.id, other.id]) {
      const work = desk.meadow().hands.find((one) => one.id === id)
      expect(work?.grounds).toContain(M.id)
      const row = valuesOf(work?.touched[0] ?? []).slice(-TOUCH)
      way.forEach((one, c) => expect(row[T.move + c]).toBeCloseTo(one, 9))
    }
    desk.undo()
    expect(desk.meadow().hands).toEqual(start.hands)
  })

  it('group what was in groups anew, and keep what is in a dissolved group in the one around it', () => {
    const desk = deskWith({ ...start, groups: [] })
    const one = (low: number) => ({ planting: P.id, low, high: 0 })
    const inner = groups.addGroup(desk, [one(1), one(2)], []) as string
    const outer = groups.addGroup(desk, [one(3)], [inner]) as string
    expect(desk.meadow().groups.find(({ id }) => id === outer)?.groups).toEqual([inner])
    // One of the inner joins another: it leaves its own.
    groups.addGroup(desk, [one(2), one(9)], [])
    expect(idsOf(desk.meadow().groups.find(({ id }) => id === inner) as Group)).toEqual([one(1)])
    // A group that joins another leaves the one around it.
    const third = groups.addGroup(desk, [], [inner]) as string
    expect(desk.meadow().groups.filter((group) => group.groups.includes(inner)).map(({ id }) => id)).toEqual([third])
    desk.undo()
    groups.dissolveGroup(desk, inner)
    expect(idsOf(desk.meadow().groups.find(({ id }) => id === outer) as Group)).toEqual([one(3), one(1)])
    expect(desk.meadow().groups.length).toBe(2)
    // Of a run that takes one of another's members, the other is no more.
    const run = { kind: 'line', ground: 'terrain', from: [0, 0, 0], to: [1, 0, 0], spacing: 1, arc: 360, path: '' } as const
    const first = runs.addRun(desk, 'Space out', { ...run, from: [0, 0, 0], to: [1, 0, 0], ids: [one(1), one(2)] })
    runs.addRun(desk, 'Space out', { ...run, from: [0, 0, 0], to: [1, 0, 0], ids: [one(2), one(3)] })
    expect(desk.meadow().runs.some(({ id }) => id === first)).toBe(false)
  })

  it('never give an asset the number of one that has gone', () => {
    const desk = deskWith(start)
    assets.addAssets(desk, [{ ...start.assets[0], id: 'one' }])
    const given = desk.meadow().assets.at(-1)?.number
    assets.removeAsset(desk, desk.meadow().assets.at(-1) as Meadow['assets'][number])
    assets.addAssets(desk, [{ ...start.assets[0], id: 'two' }])
    expect(desk.meadow().assets.at(-1)?.number).toBe((given as number) + 1)
    expect(assets.userOf(desk, start.assets.find(({ id }) => id === P.mix[0].asset) as Meadow['assets'][number])).toBe(P.name)
    expect(assets.userOf(desk, start.assets[3])).toBe('Tussock')
    expect(assets.userOf(desk, desk.meadow().assets.at(-1) as Meadow['assets'][number])).toBeNull()
  })

  it('let what ends at a reach change nothing beyond it at first, whatever it drives', () => {
    const unchanged = { density: 1, size: 1, height: 1, girth: 1, turn: 0, lift: 0, lean: 0, tint: '#ffffff' } as const
    for (const [target, low] of Object.entries(unchanged)) {
      const use = newDriver('beacon', target as keyof typeof unchanged)
      expect([target, use.low]).toEqual([target, low])
      expect(use.high).not.toBe(low)
    }
    expect(newDriver('height', 'size').low).toBe(0.6)
  })

  it('give what a hand sows or strews a spacing that does not hang on the size of the ground', () => {
    const desk = deskWith({ ...start, ground: { ...start.ground, sizeX: 8000, sizeZ: 8000 } })
    const [asset] = start.assets
    const own = plantings.spacingOfRoom(asset.room)
    const added = (kind: string) => {
      const made = plantings.addPlanting(desk, asset.id, undefined, kind)
      return desk.meadow().plantings.find(({ id }) => id === made)?.params
    }
    expect(added('spread')?.spacing).toBeGreaterThan(10 * own)
    expect(added('sown')?.spacing).toBe(own)
    expect(added('strewn')).toMatchObject({ every: Number((own / 2).toPrecision(2)) })
  })

  it('let no new planting grow through what is to be kept clear of, whether it is added or strewn', () => {
    const desk = deskWith({ ...start, meshes: [meshOf({ id: 'rock', role: 'obstacle' }), meshOf({ id: 'sky', role: 'scenery' })] })
    const line = { line: [0, 0, 5, 5], smooth: true, planting: null, mix: [{ asset: start.assets[0].id, share: 1 }], params: along.firstStrewing(0.4) }
    for (const made of [plantings.addPlanting(desk), along.strewLine(desk, line)])
      expect(desk.meadow().plantings.find(({ id }) => id === made)?.habitat).toMatchObject([{ kind: 'obstacle', params: { mesh: 'rock' } }])
  })

  it('gathers things in order on the ground that they lie on, and takes them out of where they were', () => {
    const desk = deskWith(start)
    const heightAt = (x: number, z: number) => 0.5 * x + z
    const three = [0, 1, 2].map((k): hands.InstanceAt => ({ planting: P.id, low: k + 1, high: 7, ground: 'terrain', asset: start.assets[0].number, tint: 0xffffffff, place: [3 + 2 * k, heightAt(3 + 2 * k, 5), 5], turn: [0, 0, 0, 1], size: [1, 1, 1] }))
    const [fit] = gather.fitsOf(three, heightAt)
    const id = gather.gatherInOrder(desk, fit, three, heightAt)
    const { plantings, hands } = desk.meadow()
    const base = plantings.find((one) => one.id === id)?.base
    // Its heights are the ground's: the base lies on it.
    expect(base?.place.map((value) => Number(value.toFixed(6)))).toEqual([expect.any(Number), 0, 5])
    expect([3, 7]).toContain(base?.place[0])
    const touched = valuesOf(hands.find((one) => one.id === P.id)?.touched[0] ?? [])
    const out = Array.from({ length: touched.length / TOUCH }, (_, k) => ({ high: touched[TOUCH * k + T.high], out: touched[TOUCH * k + T.out] })).filter(({ high }) => high === 7)
    expect(out.map((one) => one.out)).toEqual([1, 1, 1])
  })

  it('keeps heights of a path by its points, whatever is put in, moved or taken out; none is none', () => {
    const desk = deskWith({ ...start, outlines: [{ ...O, kind: 'path', closed: false, lines: [[0, 0, 9, 0, 9, 9], [1, 1, 2, 2]] }] })
    const above = () => desk.meadow().outlines[0].above
    outlines.setAbove(desk, O.id, { line: 0, index: 1 }, 4)
    expect(above()).toEqual([[0, 4, 0], [0, 0]])
    outlines.insertPoint(desk, O.id, { line: 0, index: 1 }, 9, 5)
    outlines.insertPoint(desk, O.id, { line: 0, index: 3 }, 9, 12)
    expect(above()).toEqual([[0, 4, 2, 0, 0], [0, 0]])
    outlines.movePoint(desk, O.id, { line: 0, index: 2 }, 8, 5)
    outlines.removePoint(desk, O.id, { line: 0, index: 0 })
    expect([above(), desk.meadow().outlines[0].lines]).toEqual([[[4, 2, 0, 0], [0, 0]], [[9, 0, 8, 5, 9, 9, 9, 12], [1, 1, 2, 2]]])
    outlines.removePoint(desk, O.id, { line: 1, index: 0 })
    expect(above()).toEqual([[4, 2, 0, 0]])
    outlines.setAbove(desk, O.id, null, 3)
    expect(above()).toEqual([[3, 3, 3, 3]])
    outlines.setAbove(desk, O.id, null, 0)
    expect(above()).toBeUndefined()
    // What stands in order along it goes up with it, once; what was set otherwise stays so.
    const land = () => desk.meadow().plantings.filter(({ along: lines }) => lines.includes(O.id)).map(({ params }) => params.land)
    desk.edit('Lie along it', (draft) => draft.plantings.filter(({ kind }) => kind === 'trail').forEach((one, k) => Object.assign(one, { along: [O.id], params: { ...one.params, land: [1, 0.5, 1][k] } })))
    expect(land()).toEqual([undefined, 1, 0.5, 1].slice(-land().length))
    desk.edit('Lock one', (draft) => void (draft.plantings.filter(({ kind }) => kind === 'trail')[2].locked = true))
    outlines.setAbove(desk, O.id, { line: 0, index: 0 }, 2)
    expect(land().slice(-3)).toEqual([0, 0.5, 1])
    desk.edit('Unlock it', (draft) => void (draft.plantings.filter(({ kind }) => kind === 'trail')[2].locked = false))
    desk.edit('Down again', (draft) => draft.plantings.filter(({ kind }) => kind === 'trail').forEach((one) => (one.params.land = 1)))
    outlines.setAbove(desk, O.id, { line: 0, index: 1 }, 2)
    expect(land().slice(-3)).toEqual([1, 1, 1])
  })

  it('keep a patch of three points whole, and say why', () => {
    const desk = deskWith({ ...start, outlines: [{ ...O, kind: 'patch', lines: [[0, 0, 9, 0, 0, 9]] }] })
    expect(outlines.removePoint(desk, O.id, { line: 0, index: 0 })).toContain('A patch needs 3 points')
    expect(desk.history().past).toEqual([])
  })
})
