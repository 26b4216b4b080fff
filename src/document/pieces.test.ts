import { lengthOf, listOf, valuesOf } from '../core/long-list.ts'
import type { Meadow } from '../core/meadow.ts'
import { pointsOf } from '../core/outlines/outline.ts'
import { createMemoryStore } from '../storage/memory-store.ts'
import { outlineOf } from '../testing/fields.ts'
import { blobNamesIn } from './blobs.ts'
import { insertPoint, movePoint, removePoint } from './edits/outlines.ts'
import type { History } from './history.ts'
import { edit, redo, startHistory, undo } from './history.ts'
import { openMeadow, readMeadow } from './migrations.ts'
import { newMeadow } from './new-planting.ts'
import { packLists, unpackLists } from './pieces.ts'

const POINTS = 19990
const ring = Array.from({ length: 2 * POINTS }, (_, i) => Math.round(1000 * (80 + Math.sin(i / 9)) * (i % 2 === 0 ? Math.cos((Math.PI * i) / POINTS) : Math.sin((Math.PI * i) / POINTS))) / 1000 + 0)
const blank = newMeadow('Shore', 'a'.repeat(64), { samples: 3, size: 100 })
const meadow: Meadow = { ...blank, outlines: [outlineOf('patch', [ring, [0, 0, 4, 0, 0, 4]]), outlineOf('path', [[0, 0, 9, 9]])].map((one) => ({ ...one, lines: one.lines.map((line) => listOf(valuesOf(line))) })) }

/** Whoever edits in these tests. */
function editorOf(first: Meadow) {
  let history: History = startHistory(first)
  return {
    meadow: () => history.meadow,
    history: () => history,
    edit: (name: string, recipe: (draft: Meadow) => void, gesture?: string) => ((history = edit(history, name, recipe, gesture ?? null)), true),
    undo: () => void (history = undo(history)),
    redo: () => void (history = redo(history)),
  }
}

describe('long lists where a document is kept', () => {
  it('are named in it, and their numbers lie beside it', async () => {
    const { document, blobs } = packLists(meadow)
    const text = JSON.stringify(document)
    expect(text.length).toBeLessThan(12000)
    expect([...blobs.values()].reduce((sum, { length }) => sum + length, 0)).toBe(16 * POINTS)
    // Who clears up finds every one of them named.
    const named = blobNamesIn(document)
    for (const name of blobs.keys()) expect(named.has(name)).toBe(true)
    const back = await unpackLists(JSON.parse(text), async (name) => blobs.get(name) ?? null)
    expect(back).toEqual(meadow)
    expect(readMeadow(back)).toEqual({ meadow })
  })

  it('leave a document without them untouched', async () => {
    expect(packLists(blank).document).toBe(blank)
    expect(await unpackLists(blank, async () => null)).toBe(blank)
    for (const odd of [null, 7, 'x', { outlines: 7 }, { outlines: [null, 7, { lines: null }, { lines: [null, { pieces: 7 }, { pieces: [null, { name: 'x' }] }] }] }]) {
      expect(packLists(odd)).toEqual({ document: odd, blobs: new Map() })
      expect(await unpackLists(odd, async () => null)).toEqual(odd)
    }
  })

  it('that lost a piece, or hold another length, are no sound lines: the rest of the document opens', async () => {
    const { document, blobs } = packLists(meadow)
    const [lost] = blobs.keys()
    for (const wrong of [null, new Uint8Array(8), new Uint8Array(5)]) {
      const back = await unpackLists(document, async (name) => (name === lost ? wrong : (blobs.get(name) ?? null)))
      expect(readMeadow(back)).toHaveProperty('problem')
      const opened = openMeadow(back, meadow.id)
      expect(opened).toMatchObject({ leftOut: ['one of its outlines'], meadow: { outlines: [meadow.outlines[1]] } })
    }
  })

  it('are checked number by number, in whatever piece', () => {
    const { lines } = meadow.outlines[0]
    const at = (values: (i: number) => number) => ({ ...meadow, outlines: [{ ...meadow.outlines[0], lines: [listOf(valuesOf(lines[0]).map((value, i) => (i === 31111 ? values(i) : value)))] }] })
    expect(readMeadow(at(() => 5))).toHaveProperty('meadow')
    for (const bad of [NaN, Infinity, 1e9]) expect(readMeadow(at(() => bad))).toHaveProperty('problem')
    expect(readMeadow({ ...meadow, outlines: [{ ...meadow.outlines[0], lines: [{ pieces: [] }] }] })).toHaveProperty('problem')
    expect(readMeadow({ ...meadow, outlines: [{ ...meadow.outlines[0], lines: [{ ...lines[0], more: 1 }] }] })).toHaveProperty('problem')
  })

  it('of documents of before are cut up when they are read', () => {
    const old = JSON.parse(JSON.stringify({ ...meadow, version: 6, outlines: meadow.outlines.map((one) => ({ ...one, lines: pointsOf(one) })) })) as unknown
    expect(readMeadow(old)).toEqual({ meadow })
  })
})

describe('edits of a long line', () => {
  it('make as many pieces anew as they touch, and few patches; undo brings the very pieces back', () => {
    const editor = editorOf(meadow)
    const shown = () => JSON.stringify(editor.history().change.map(({ path }) => path))
    const steps = [
      () => movePoint(editor, 'patch', { line: 0, index: 7000 }, 1, 2),
      () => insertPoint(editor, 'patch', { line: 0, index: 300 }, 3, 4),
      () => void removePoint(editor, 'patch', { line: 0, index: 15000 }),
    ]
    const expected = [ring.with(14000, 1).with(14001, 2)]
    expected.push(expected[0].toSpliced(602, 0, 3, 4))
    expected.push(expected[1].toSpliced(30000, 2))
    const states = [editor.meadow()]
    steps.forEach((step, k) => {
      const before = new Set(packLists(editor.meadow()).blobs.keys())
      step()
      expect(shown().length).toBeLessThan(200)
      expect(valuesOf(editor.meadow().outlines[0].lines[0])).toEqual(expected[k])
      expect([...packLists(editor.meadow()).blobs.keys()].filter((name) => !before.has(name)).length).toBe(1)
      states.push(editor.meadow())
    })
    for (let k = 2; k >= 0; k--) {
      editor.undo()
      expect(editor.meadow()).toEqual(states[k])
    }
    for (let k = 0; k < 3; k++) editor.redo()
    expect(editor.meadow()).toEqual(states[3])
    expect(lengthOf(meadow.outlines[0].lines[0])).toBe(2 * POINTS)
  })

  it('are in the journal by themselves, so that nothing of them is lost before the whole is written', async () => {
    const store = createMemoryStore(null)
    const heights = new Uint8Array(new Float32Array(9).fill(1).buffer)
    await store.putBlob(blank.ground.blob, heights)
    const own = { ...meadow, ground: { ...meadow.ground, columns: 3, rows: 3 } }
    await store.add(own, 'me')
    const editor = editorOf(own)
    movePoint(editor, 'patch', { line: 0, index: 7000 }, 1, 2)
    await store.note({ meadow: own.id, owner: 'me', seq: 1, patches: structuredClone([...editor.history().change]) })
    const back = await store.read(own.id)
    expect(back && valuesOf(back.outlines[0].lines[0])).toEqual(ring.with(14000, 1).with(14001, 2))
  })
})
