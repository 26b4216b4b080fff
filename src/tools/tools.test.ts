import { createOpenDocument } from '../state/open-document.ts'
import { startHistory } from '../document/history.ts'
import { newBeacon, newMeadow, newOutline } from '../document/new-planting.ts'
import type { Meadow } from '../core/meadow.ts'
import { pointsOf } from '../core/outlines/outline.ts'
import type { FieldSession } from '../state/field-session.ts'
import { createFieldTool } from '../state/field-tool.ts'
import { noticeStore } from '../state/notices.ts'
import type { ActiveTool, Desk, Pointer, ToolView } from './define.ts'
import { setToolValue, valuesOfTool } from './define.ts'
import { startDrawing } from './draw.ts'
import { GRIPS } from './grips/index.ts'
import { nudged } from './grips/nudge.ts'
import { TOOL_STRIP, TOOLS } from './index.ts'

/** A view straight from above: a pixel is ten centimetres, the picture's corner lies at (−40, −30). */
const view: ToolView = {
  pick: (x, y) => (x < 0 ? null : { x: x / 10 - 40, y: 0, z: y / 10 - 30 }),
  sight: (x, y) => ({ origin: [x / 10 - 40, 100, y / 10 - 30], direction: [0, -1, 0], reach: 1000 }),
  project: (x, z) => [10 * (x + 40), 10 * (z + 30)],
  moveMarks: () => undefined,
  flyToPoint: () => undefined,
    projection: () => ({ matrix: [], width: 0, height: 0 }),
  step: () => undefined,
  handles: { hover: () => false, press: () => undefined, drag: () => undefined, release: () => undefined },
}

const at = (x: number, y: number, moved = 0): Pointer => ({ x, y, moved, shift: false, alt: false, free: false, pressure: 1 })

function deskWith(start: Partial<Meadow> = {}) {
  let history = startHistory({ ...newMeadow('Test', 'a'.repeat(64), { samples: 9, size: 80 }), ...start })
  const document = createOpenDocument({ get: () => history, set: (next) => (history = next), leave: () => 'now', onChange: () => undefined, onRefused: () => undefined })
  const state = createFieldTool()
  const desk: Desk = { session: document as unknown as FieldSession, view, state }
  return { desk, state, meadow: document.meadow, steps: () => history.past.map(({ name }) => name), undo: document.undo }
}

function begin(desk: Desk, kind: string): ActiveTool {
  const begun = TOOLS.get(kind).begin(desk)
  if (typeof begun === 'string') throw new Error(begun)
  return begun
}

const click = (tool: ActiveTool, x: number, y: number) => {
  tool.press?.(at(x, y))
  tool.release?.(at(x, y))
}

const told = () => noticeStore.getState().notices.map(({ sentence }) => sentence).join(' ')

describe('the strip', () => {
  it('has every tool once, with a key and a drawing of its own, in its order', () => {
    expect(TOOL_STRIP.map(({ kind }) => kind)).toEqual(['look', 'choose', 'place', 'sow', 'strew', 'draw', 'ask', 'measure'])
    for (const member of ['keys', 'label', 'drawing', 'place'] as const) expect(new Set(TOOLS.all.map((tool) => tool[member])).size).toBe(TOOLS.all.length)
  })

  it('keeps settings as they were changed, and defaults elsewhere', () => {
    const { state } = deskWith()
    const draw = TOOLS.get('draw')
    expect(valuesOfTool(draw, state)).toEqual({ what: 'patch', line: 'straight', width: 2 })
    setToolValue(state, 'draw', 'width', 7)
    startDrawing(state, 'path')
    expect(valuesOfTool(draw, state)).toEqual({ what: 'path', line: 'straight', width: 7 })
    expect(state.getState().active).toBe('draw')
    expect(draw.sentence(valuesOfTool(draw, state), null)).toEqual([{ param: 'what' }, ', ', { param: 'line' }, ', ', { param: 'width' }, ' wide'])
  })
})

describe('drawing', () => {
  it('puts points by clicks and ends on the first one: one patch, one step, then chosen', () => {
    const { desk, state, meadow, steps } = deskWith()
    const tool = begin(desk, 'draw')
    for (const [x, y] of [[100, 100], [300, 100], [300, 250]]) click(tool, x, y)
    expect(state.getState().drawing).toEqual([-30, -20, -10, -20, -10, -5])
    // On the last point again: nothing. On the first, within nine pixels: the end.
    click(tool, 303, 252)
    expect(state.getState().drawing?.length).toBe(6)
    click(tool, 106, 104)
    const [patch] = meadow().outlines
    expect(patch).toMatchObject({ kind: 'patch', smooth: false, lines: [[-30, -20, -10, -20, -10, -5]] })
    expect(steps()).toEqual(['Draw a patch'])
    expect(state.getState()).toMatchObject({ active: 'look', selected: patch.id })
  })

  it('draws a path as wide and as smooth as it says, ended by Enter; Backspace takes points back', () => {
    const { desk, state, meadow } = deskWith()
    setToolValue(state, 'draw', 'what', 'path')
    setToolValue(state, 'draw', 'line', 'smooth')
    setToolValue(state, 'draw', 'width', 3.5)
    const tool = begin(desk, 'draw')
    click(tool, 50, 50)
    const key = (name: string) => tool.key?.({ key: name, target: null } as unknown as KeyboardEvent)
    expect(key('Enter')).toBe(true)
    expect(told()).toContain('A path needs at least 2 points')
    click(tool, 90, 90)
    click(tool, 200, 60)
    expect(key('Backspace')).toBe(true)
    expect(key('x')).toBe(false)
    click(tool, 150, 150)
    key('Enter')
    expect(meadow().outlines[0]).toMatchObject({ kind: 'path', smooth: true, width: 3.5, lines: [[-35, -25, -31, -21, -25, -15]] })
  })

  it('a stroke with the button held is thinned out to what it looks like, and ends by itself', () => {
    const { desk, state, meadow } = deskWith()
    setToolValue(state, 'draw', 'what', 'path')
    const tool = begin(desk, 'draw')
    tool.press?.(at(100, 200))
    for (let k = 1; k <= 120; k++) tool.drag?.(at(100 + 4 * k, 200 + 60 * Math.sin(k / 20), 4 * k))
    expect(state.getState().drawing?.length).toBeGreaterThan(200)
    tool.release?.(at(580, 200, 480))
    const [line] = pointsOf(meadow().outlines[0])
    expect(line.length / 2).toBeLessThan(40)
    // No point drawn lies farther than two and a half pixels from the line.
    for (let k = 2; k <= 120; k++) {
      const [x, z] = [(100 + 4 * k) / 10 - 40, (200 + 60 * Math.sin(k / 20)) / 10 - 30]
      let nearest = Infinity
      for (let i = 0; i + 3 < line.length; i += 2) {
        const [ex, ez] = [line[i + 2] - line[i], line[i + 3] - line[i + 1]]
        const t = Math.max(0, Math.min(1, ((x - line[i]) * ex + (z - line[i + 1]) * ez) / (ex * ex + ez * ez)))
        nearest = Math.min(nearest, Math.hypot(x - line[i] - t * ex, z - line[i + 1] - t * ez))
      }
      expect(nearest).toBeLessThan(0.26)
    }
  })

  it('leaves nothing behind when it is put down', () => {
    const { desk, state, meadow } = deskWith()
    const tool = begin(desk, 'draw')
    click(tool, 100, 100)
    tool.end?.()
    expect(state.getState().drawing).toBeNull()
    expect(meadow().outlines).toEqual([])
  })

  it('says when there is no ground under a click', () => {
    const { desk } = deskWith()
    click(begin(desk, 'draw'), -5, 20)
    expect(told()).toContain('There is no ground there')
  })
})

describe('looking', () => {
  it('steps back one level at a time: what is held last goes first, then the card', () => {
    const { desk, state } = deskWith()
    const tool = begin(desk, 'look')
    state.setState({ open: 'p', selected: 'o', beacon: 'b', mesh: 'm', tint: { planting: 'p', use: null } })
    for (const gone of ['tint', 'mesh', 'beacon', 'selected', 'open'] as const) {
      expect(state.getState()[gone]).not.toBeNull()
      expect(tool.escape?.()).toBe(true)
      expect(state.getState()[gone]).toBeNull()
    }
    expect(tool.escape?.()).toBe(true)
  })
})

describe('asking', () => {
  it('wants an open planting, and asks along the line of sight of a click', () => {
    const { desk, state } = deskWith()
    expect(TOOLS.get('ask').begin(desk)).toContain('Open a planting first')
    state.setState({ open: 'p' })
    const tool = begin(desk, 'ask')
    tool.click?.(at(120, 80))
    expect(state.getState().asking?.origin).toEqual([-28, 100, -22])
    tool.end?.()
    expect(state.getState().asking).toBeNull()
  })
})

describe('grips', () => {
  const path = newOutline({ id: 'o', kind: 'path', name: 'P', colour: '#112233', lines: [[0, 0, 5, 5]] })
  const beacon = { ...newBeacon({ name: 'B', colour: '#112233', x: 1, z: 1 }), id: 'b' }
  const drag = (desk: Desk, grip: string, named: string[]) => {
    const hold = GRIPS.get(grip).take(desk, named, at(10, 10))
    for (let k = 1; k <= 4; k++) hold?.drag(at(400 + 10 * k, 300 + 5 * k, 50))
    hold?.release(at(440, 320, 50))
    return hold
  }

  it('a drag of a point, of a beacon, and of a middle that becomes a point, is one step each', () => {
    const { desk, meadow, steps, undo, state } = deskWith({ outlines: [path], beacons: [beacon] })
    drag(desk, 'point', ['o', '0', '1'])
    expect(meadow().outlines[0].lines).toEqual([[0, 0, 4, 2]])
    drag(desk, 'beacon', ['b'])
    expect(meadow().beacons[0]).toMatchObject({ x: 4, z: 2 })
    expect(steps()).toEqual(['Move a point', 'Move the beacon'])
    undo()
    undo()
    expect(meadow().outlines[0].lines).toEqual([[0, 0, 5, 5]])
    drag(desk, 'middle', ['o', '0', '0', '2.5', '2.5'])
    expect(meadow().outlines[0].lines).toEqual([[0, 0, 4, 2, 5, 5]])
    expect(state.getState().point).toEqual({ line: 0, index: 1 })
  })

  it('a locked beacon is not taken hold of', () => {
    const { desk, meadow, steps } = deskWith({ beacons: [{ ...beacon, locked: true }] })
    expect(drag(desk, 'beacon', ['b'])).toBeNull()
    expect(meadow().beacons[0]).toMatchObject({ x: 1, z: 1 })
    expect(steps()).toEqual([])
  })

  it('arrow keys move by half a metre, finely with Shift, far with Alt', () => {
    const press = (key: string, shiftKey = false, altKey = false) => nudged({ key, shiftKey, altKey }, 1, 2)
    expect(press('ArrowLeft')).toEqual([0.5, 2])
    expect(press('ArrowDown', true)).toEqual([1, 2.1])
    expect(press('ArrowUp', false, true)).toEqual([1, -3])
    expect(press('Enter')).toBeNull()
  })
})
