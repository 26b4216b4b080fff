import type { Meadow } from '../core/meadow.ts'
import { startHistory } from '../document/history.ts'
import { newMeadow, newPlanting } from '../document/new-planting.ts'
import type { Leave } from './open-document.ts'
import { createOpenDocument } from './open-document.ts'

function documentOf(meadow: Meadow) {
  let history = startHistory(meadow)
  let leave: Leave = 'now'
  const heard: string[] = []
  const document = createOpenDocument({
    get: () => history,
    set: (next) => (history = next),
    leave: () => leave,
    onChange: (change) => heard.push(`changed ${change.map(({ path }) => path.join('.')).join(' ')}`),
    onRefused: (sentence) => heard.push(`refused: ${sentence ?? 'not ours'}`),
  })
  return { document, heard, allow: (next: Leave) => (leave = next), past: () => history.past.map(({ name }) => name) }
}

const planting = newPlanting({ id: 'p', name: 'Grass', colour: '#5f7f3a', seed: 3 })
const start = { ...newMeadow('Test', 'a'.repeat(64), { samples: 9, size: 40 }), plantings: [planting] }
const rename = (name: string) => (draft: Meadow) => void (draft.name = name)

describe('an open document', () => {
  it('changes at once, tells each change, and takes it back', () => {
    const { document, heard, past } = documentOf(start)
    expect(document.edit('Rename', rename('Other'))).toBe(true)
    expect(document.edit('Nothing', rename('Other'))).toBe(true)
    document.undo()
    document.redo()
    document.redo()
    expect(document.meadow().name).toBe('Other')
    expect(heard).toEqual(['changed name', 'changed name', 'changed name'])
    expect(past()).toEqual(['Rename'])
  })

  it('lets changes wait, undo among them, and makes them in their order on what was read anew', () => {
    const { document, heard, allow, past } = documentOf(start)
    allow('later')
    expect(document.edit('First', rename('One'))).toBe(true)
    document.edit('Second', (draft) => void (draft.name += ' and two'))
    document.undo()
    expect(document.meadow().name).toBe('Test')
    document.replace({ ...start, name: 'From elsewhere', water: { shown: true, level: 2 } })
    allow('now')
    document.runWaiting()
    expect(document.meadow()).toMatchObject({ name: 'One', water: { level: 2 } })
    expect(past()).toEqual(['First'])
    expect(heard.length).toBe(3)
    document.runWaiting()
    expect(heard.length).toBe(3)
  })

  it('refuses when it is not ours to change, but hears of another name', () => {
    const { document, heard, allow } = documentOf(start)
    allow('never')
    expect(document.edit('Rename', rename('Other'))).toBe(false)
    document.undo()
    expect(heard).toEqual(['refused: not ours', 'refused: not ours'])
    document.renamed('At the gate')
    expect(document.meadow().name).toBe('At the gate')
  })

  it('locks hold off edits, not taking them back; what no meadow can hold is refused', () => {
    const { document, heard } = documentOf(start)
    document.edit('Respace', (draft) => void (draft.plantings[0].params.spacing = 3))
    document.edit('Lock', (draft) => void (draft.plantings[0].locked = true))
    expect(document.edit('Respace', (draft) => void (draft.plantings[0].params.spacing = 4))).toBe(false)
    expect(heard.at(-1)).toBe('refused: The planting “Grass” is locked; unlock it first. Nothing was changed.')
    document.undo()
    document.undo()
    document.redo()
    document.redo()
    document.undo()
    expect(document.meadow().plantings[0]).toMatchObject({ locked: false, params: { spacing: 3 } })
    expect(document.edit('Flood', (draft) => void (draft.water.level = 1e9))).toBe(false)
    expect(heard.at(-1)).toMatch(/^refused: The water cannot be so/)
    expect(document.meadow().water.level).toBe(-1)
  })
})
