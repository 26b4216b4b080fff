import * as THREE from 'three'
import type { GroundFrame } from '../../core/hand/frames.ts'
import { groundFrame } from '../../core/hand/frames.ts'
import { S, SINGLE } from '../../core/hand/layout.ts'
import { lengthOf, valuesOf } from '../../core/long-list.ts'
import type { Asset, Meadow } from '../../core/meadow.ts'
import { assetsById, leavesOf, standDraped } from '../../core/posy/posy.ts'
import { assetOf, meshOf } from '../../testing/fields.ts'
import { checkChange } from '../check-change.ts'
import { edit, startHistory, undo } from '../history.ts'
import { newMeadow, newPlanting } from '../new-planting.ts'
import type { Editor } from './editor.ts'
import type { InstanceAt } from './hands.ts'
import { addSingles, changeByHand } from './hands.ts'
import { followChange, gatherPosy, measureChange, openPosy, putTogether, takeApart, tooManyParts } from './posies.ts'

const hill = (x: number, z: number) => 0.1 * x + 0.03 * z * z
const WHITE = 0xffffffff

/** A meadow with a planting of two assets, edited as an open session does. */
function desk() {
  const meadow: Meadow = { ...newMeadow('M', '0'.repeat(64), { samples: 2, size: 100 }), assets: [assetOf('a', 0.3), { ...assetOf('b', 0.5), size: [1, 4, 1] }], nextAsset: 2, plantings: [newPlanting({ id: 'p', name: 'P', colour: '#112233', seed: 1, mix: [{ asset: 'a', share: 1 }] })], meshes: [meshOf({ id: 'board', position: [5, 6, 7], turn: [30, 40, 50], size: 2, blob: '0'.repeat(64), shape: '0'.repeat(64) })] }
  let history = startHistory(meadow)
  const refused: string[] = []
  const editor: Editor = {
    meadow: () => history.meadow,
    edit(name, recipe, gesture) {
      const next = edit(history, name, recipe, gesture ?? null, [(before, draft, now) => followChange(before, draft, now, hill), measureChange])
      const why = checkChange(history.meadow, next.meadow)
      if (why) refused.push(why)
      else history = next
      return !why
    },
  }
  return { editor, refused, undo: () => void (history = undo(history)), steps: () => history.past.map(({ name }) => name), posy: (id: string) => history.meadow.assets.find((one) => one.id === id) as Asset }
}

const at = (low: number, asset: number, x: number, z: number, rest: Partial<InstanceAt> = {}): InstanceAt => ({ planting: 'p', low, high: 0, ground: 'terrain', asset, tint: WHITE, place: [x, hill(x, z), z], turn: [0, 0, 0, 1], size: [1, 1, 1], ...rest })
const THREE_THINGS = [at(1, 0, 4, 0), at(2, 1, 6, 2, { turn: [0, Math.SQRT1_2, 0, Math.SQRT1_2], size: [2, 2, 2], tint: 0x80ff80ff }), at(3, 0, 4, 2)]

/** Where the leaves of a posy stand in the world when the posy stands so. */
function standing(desk_: ReturnType<typeof desk>, posy: Asset, at: { readonly place: readonly number[]; readonly turn: readonly number[]; readonly size: readonly number[] }) {
  const outer = new THREE.Matrix4().compose(new THREE.Vector3(...(at.place as [number, number, number])), new THREE.Quaternion(...(at.turn as [number, number, number, number])), new THREE.Vector3(...(at.size as [number, number, number])))
  return leavesOf(posy, assetsById(desk_.editor.meadow().assets)).map(({ place, turn, size }) => outer.clone().multiply(new THREE.Matrix4().compose(new THREE.Vector3(...place), new THREE.Quaternion(...turn), new THREE.Vector3(...size))))
}

describe('gathering', () => {
  it('keeps all where they stand when one is put in their place, in one step that is taken back whole', () => {
    const d = desk()
    const before = d.editor.meadow()
    const made = gatherPosy(d.editor, 'Tussock', THREE_THINGS, hill, { instead: true, drapes: false })
    const posy = d.posy(made?.asset as string)
    expect([posy.name, posy.category, posy.blob, posy.number, posy.parts.length]).toEqual(['Tussock', 'Posies', '', 2, 3])
    expect(made?.placed).toMatchObject({ planting: 'p', ground: 'terrain', asset: 2 })
    standing(d, posy, made?.placed as InstanceAt).forEach((matrix, k) => {
      const { place, turn, size } = THREE_THINGS[k]
      const wanted = new THREE.Matrix4().compose(new THREE.Vector3(...place), new THREE.Quaternion(...turn), new THREE.Vector3(...size))
      matrix.elements.forEach((value, c) => expect(value).toBeCloseTo(wanted.elements[c], 9))
    })
    expect(posy.parts.map(({ tint }) => tint)).toEqual([WHITE, 0x80ff80ff, WHITE])
    const [work] = d.editor.meadow().hands
    expect([lengthOf(work.singles[0]) / SINGLE, lengthOf(work.touched[0]) > 0]).toEqual([1, true])
    expect(d.steps()).toEqual(['Gather a posy'])
    d.undo()
    expect(d.editor.meadow()).toEqual(before)
  })

  it('drapes them over the ground when asked so: heights are those above it, and where they stand they stay', () => {
    const d = desk()
    const made = gatherPosy(d.editor, 'Tussock', THREE_THINGS, hill, { instead: true, drapes: true })
    const posy = d.posy(made?.asset as string)
    expect(posy.parts.map(({ place }) => place[1])).toEqual([expect.closeTo(0, 9), expect.closeTo(0, 9), expect.closeTo(0, 9)])
    expect([posy.drapes, posy.base]).toEqual([true, [0, 0]])
    const leaves = leavesOf(posy, assetsById(d.editor.meadow().assets))
    THREE_THINGS.forEach(({ place }, k) => standDraped(made?.placed as InstanceAt, leaves[k], hill).place.forEach((value, c) => expect(value).toBeCloseTo(place[c], 9)))
    // Elsewhere, turned, leaning and sized: each on the ground under it, as the plan has it.
    const there = { place: [30, hill(30, -9) - 0.1, -9] as const, turn: [0.1, 0.7, 0.1, 0.7] as const, size: [1.3, 1.3, 1.3] as const }
    for (const leaf of leaves) {
      const { place: [x, y, z] } = standDraped(there, { ...leaf, turn: [0, 0, 0, 1] }, hill)
      expect(y).toBeCloseTo(hill(x, z) - 0.1, 9)
    }
    // Opened there it is made of the very same parts.
    const before = posy.parts
    openPosy(d.editor, posy, { ...there, turn: [0.1, 0.7, 0.1, 0.7] }, null, hill)
    expect(d.posy(posy.id).parts).toBe(before)
  })

  it('only puts it on the shelf when asked so; too many parts are said', () => {
    const d = desk()
    expect(gatherPosy(d.editor, 'Tussock', THREE_THINGS, hill, { instead: false, drapes: false })?.placed).toBeNull()
    expect(d.editor.meadow().hands).toEqual([])
    expect(tooManyParts(256)).toBeNull()
    expect(tooManyParts(1257)).toContain('at most 256 parts, and 1,257 are chosen')
  })
})

describe('an opened posy', () => {
  it('stands with its parts where it stood, and follows what becomes of them: moved, swapped, added, taken out', () => {
    const d = desk()
    const id = gatherPosy(d.editor, 'Tussock', THREE_THINGS, hill, { instead: false, drapes: false })?.asset as string
    // Turned, sized, elsewhere on the hill.
    const where = { place: [-20, hill(-20, 5), 5] as const, turn: [0, 0.6, 0, 0.8] as const, size: [1.5, 1.5, 1.5] as const }
    const before = d.posy(id)
    const planting = openPosy(d.editor, before, where, null, hill) as string
    expect(d.posy(id)).toBe(before)
    expect(d.editor.meadow().opened).toMatchObject({ asset: id, planting, size: 1.5 })
    const singles = () => d.editor.meadow().hands.find((one) => one.id === planting)?.singles[0] as number[]
    expect(singles().length / SINGLE).toBe(3)
    // The second is put one metre up and swapped for the other asset.
    const [low, high] = singles().slice(SINGLE, SINGLE + 2)
    const there = standing(d, before, where)[1]
    const place = new THREE.Vector3().setFromMatrixPosition(there)
    const one: InstanceAt = { planting, low, high, ground: 'terrain', asset: 1, tint: WHITE, place: place.toArray(), turn: [0, 0, 0, 1], size: [1, 1, 1] }
    expect(changeByHand(d.editor, 'Move one', [{ at: one, to: { place: [place.x, place.y + 3, place.z], asset: 0 } }], hill)).toBe(true)
    expect(d.posy(id).parts[1].asset).toBe('a')
    expect(d.posy(id).parts[1].place[1] - before.parts[1].place[1]).toBeCloseTo(2, 9)
    expect(d.posy(id).size[1]).toBeGreaterThan(0)
    expect(d.posy(id).triangles).toEqual([3])
    // One more, of the other asset, and the first taken out.
    addSingles(d.editor, 'Place one', [{ planting, ground: 'terrain', asset: 1, place: where.place, turn: [0, 0.6, 0, 0.8], size: [1.5, 1.5, 1.5] }], hill)
    expect(d.posy(id).parts.length).toBe(4)
    d.posy(id).parts[3].place.forEach((value) => expect(value).toBeCloseTo(0, 9))
    d.posy(id).parts[3].turn.forEach((value, c) => expect(value).toBeCloseTo([0, 0, 0, 1][c], 9))
    const [first, firstHigh] = singles()
    changeByHand(d.editor, 'Take out one', [{ at: { ...one, low: first, high: firstHigh }, to: { out: true } }], hill)
    expect(d.posy(id).parts.length).toBe(3)
    putTogether(d.editor)
    expect(d.editor.meadow()).toMatchObject({ opened: null, hands: [], plantings: [{ id: 'p' }] })
    expect(d.posy(id).parts.length).toBe(3)
    for (let k = d.steps().length; k > 1; k--) d.undo()
    expect(d.posy(id)).toEqual(before)
  })

  it('follows a part in it that is a posy itself, and is closed when another one opens or its planting goes', () => {
    const d = desk()
    const inner = gatherPosy(d.editor, 'Inner', THREE_THINGS.slice(0, 2), hill, { instead: false, drapes: false })?.asset as string
    const outer = gatherPosy(d.editor, 'Outer', [at(8, d.posy(inner).number, 0, 0), at(9, 0, 3, 0)], hill, { instead: false, drapes: false })?.asset as string
    const size = d.posy(outer).size
    const planting = openPosy(d.editor, d.posy(inner), { place: [0, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] }, null, () => 0) as string
    const [low, high] = d.editor.meadow().hands[0].singles[0] as number[]
    changeByHand(d.editor, 'Size one', [{ at: at(low, 0, 0, 0, { high, planting }), to: { size: [30, 30, 30] } }], hill)
    // What it is a part of is measured anew in the same step.
    expect(d.posy(outer).size[0]).toBeGreaterThan(size[0] + 10)
    expect(d.steps().at(-1)).toBe('Size one')
    openPosy(d.editor, d.posy(outer), { place: [0, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] }, null, hill)
    expect(d.editor.meadow().plantings.map(({ name }) => name)).toEqual(['P', 'Parts of Outer'])
    expect(d.editor.meadow().hands.length).toBe(1)
    d.editor.edit('Remove the planting', (draft) => void draft.plantings.pop())
    expect(d.editor.meadow().opened).toBeNull()
    // Nor does one stay open that is taken off the shelf.
    openPosy(d.editor, d.posy(outer), { place: [0, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] }, null, hill)
    d.editor.edit('Remove an asset', (draft) => void (draft.assets = draft.assets.filter(({ id }) => id !== outer)))
    expect(d.editor.meadow().opened).toBeNull()
  })

  it('cannot become a part of itself, nor lie too deep', () => {
    const d = desk()
    const id = gatherPosy(d.editor, 'Tussock', THREE_THINGS, hill, { instead: false, drapes: false })?.asset as string
    const planting = openPosy(d.editor, d.posy(id), { place: [0, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] }, null, hill) as string
    expect(addSingles(d.editor, 'Place one', [{ planting, ground: 'terrain', asset: d.posy(id).number, place: [0, 0, 0], turn: [0, 0, 0, 1], size: [1, 1, 1] }], hill)).toEqual([])
    expect(d.refused.at(-1)).toBe('It cannot be so: the posy “Tussock” would be made of itself; take that part out; nothing was changed.')
    putTogether(d.editor)
    let last = d.posy(id).number
    for (let deep = 2; deep <= 4; deep++) last = d.posy(gatherPosy(d.editor, `Deep ${deep}`, [at(deep, last, 0, 0)], hill, { instead: false, drapes: false })?.asset as string).number
    expect(gatherPosy(d.editor, 'Deep 5', [at(9, last, 0, 0)], hill, { instead: false, drapes: false })).toBeNull()
    expect(d.refused.at(-1)).toContain('would lie 5 deep')
  })
})

describe('taking apart', () => {
  it('puts the parts where they were, on a mesh that is turned and sized too', () => {
    for (const ground of ['terrain', 'board']) {
      const d = desk()
      const id = gatherPosy(d.editor, 'Tussock', THREE_THINGS, hill, { instead: false, drapes: false })?.asset as string
      const where = at(50, d.posy(id).number, -8, 3, { ground, turn: [0.36, 0.48, 0, 0.8], size: [0.7, 0.7, 0.7] })
      const parts = takeApart(d.editor, [where, at(51, 0, 1, 1)], hill)
      expect(parts.length).toBe(3)
      expect(d.steps().at(-1)).toBe('Take a posy apart')
      const { hands: [work], meshes } = d.editor.meadow()
      const frame = groundFrame(work.grounds[work.grounds.indexOf(ground)], meshes, hill) as GroundFrame
      const rows = valuesOf(work.singles[0])
      const wanted = standing(d, d.posy(id), where)
      expect(rows.length / SINGLE).toBe(3)
      wanted.forEach((matrix, k) => {
        const [x, y, z] = rows.slice(k * SINGLE + S.place)
        const [qx, qy, qz, qw] = rows.slice(k * SINGLE + S.turn)
        const stand = new THREE.Matrix4().compose(new THREE.Vector3(...frame.placeToWorld([x, y, z])), new THREE.Quaternion(...frame.turnToWorld([qx, qy, qz, qw])), new THREE.Vector3(...rows.slice(k * SINGLE + S.size, k * SINGLE + S.size + 3)).multiplyScalar(frame.size))
        stand.elements.forEach((value, c) => expect(value).toBeCloseTo(matrix.elements[c], 6))
      })
    }
  })
})
