import { newBeacon, newMeadow } from '../document/new-planting.ts'
import { startHistory } from '../document/history.ts'
import type { FieldSession } from '../state/field-session.ts'
import { createFieldTool } from '../state/field-tool.ts'
import { createOpenDocument } from '../state/open-document.ts'
import type { Desk } from './define.ts'
import { createDispatcher } from './dispatcher.ts'

/** Just as much of a page as the dispatcher looks at. */
class FakeElement extends EventTarget {
  readonly style: Record<string, string> = {}
  readonly dataset: Record<string, string> = {}
  readonly selectors: readonly string[]
  constructor(...selectors: string[]) {
    super()
    this.selectors = selectors
  }
  closest(wanted: string): FakeElement | null {
    return wanted.split(', ').some((one) => this.selectors.includes(one)) ? this : null
  }
  getBoundingClientRect = () => ({ left: 100, top: 50 })
  clientWidth = 400
  clientHeight = 300
  focused = 0
  focus = () => void this.focused++
  setPointerCapture = () => undefined
}

const page = new EventTarget()
Object.assign(globalThis, {
  Element: FakeElement,
  addEventListener: page.addEventListener.bind(page),
  removeEventListener: page.removeEventListener.bind(page),
})

/** An event as a browser makes it, at a place of the picture. */
function event(type: string, x: number, y: number, rest: object = {}): Event {
  const made = new Event(type, { cancelable: true })
  const given = { clientX: x + 100, clientY: y + 50, button: 0, buttons: type === 'pointermove' ? 0 : 1, pointerId: 1, shiftKey: false, altKey: false, ...rest }
  for (const [key, value] of Object.entries(given)) Object.defineProperty(made, key, { value })
  return made
}

const beacon = { ...newBeacon({ name: 'B', colour: '#112233', x: 1, z: 1 }), id: 'b' }

function bench() {
  let history = startHistory({ ...newMeadow('Test', 'a'.repeat(64), { samples: 9, size: 80 }), beacons: [beacon] })
  const session = createOpenDocument({ get: () => history, set: (next) => (history = next), leave: () => 'now', onChange: () => undefined, onRefused: () => undefined })
  const state = createFieldTool()
  const flights: number[][] = []
  const steps: object[] = []
  const onHandle = { on: false, did: '' }
  const desk: Desk = {
    session: session as unknown as FieldSession,
    state,
    view: {
      pick: (x, y) => ({ x: x / 10, y: 0, z: y / 10 }),
      sight: (x, y) => ({ origin: [x, 0, y], direction: [0, -1, 0], reach: 10 }),
      project: (x, z) => [10 * x, 10 * z],
      projection: () => ({ matrix: [], width: 0, height: 0 }),
      moveMarks: () => undefined,
      flyToPoint: (x, y) => void flights.push([x, y]),
      step: (by) => void steps.push(by),
      handles: {
        hover: () => onHandle.on,
        press: () => void (onHandle.did += 'press '),
        drag: () => void (onHandle.did += 'drag '),
        release: () => void (onHandle.did += 'release '),
      },
    },
  }
  const frame = new FakeElement('.picture')
  const dispatcher = createDispatcher(frame as unknown as HTMLElement, desk)
  /** Sends an event to something over the picture; tells whether it got past the dispatcher. */
  const send = (type: string, x: number, y: number, rest: object = {}, target: FakeElement = frame) => {
    let passed = false
    const made = event(type, x, y, { ...rest, target })
    const stop = made.stopPropagation.bind(made)
    passed = true
    Object.defineProperty(made, 'stopPropagation', { value: () => { passed = false; stop() } })
    frame.dispatchEvent(made)
    return passed
  }
  const press = (key: string, target: FakeElement | null = null, rest: object = {}) => {
    const made = new Event('keydown', { cancelable: true })
    for (const [name, value] of Object.entries({ key, target, ...rest })) Object.defineProperty(made, name, { value })
    page.dispatchEvent(made)
    return made.defaultPrevented
  }
  return { session, state, flights, steps, onHandle, frame, dispatcher, send, press, meadow: session.meadow }
}

describe('the pointer over the picture', () => {
  it('is left to the picture while looking, and a double click flies there', () => {
    const { send, flights, dispatcher, frame } = bench()
    expect(frame.dataset.tool).toBe('look')
    expect(send('pointerdown', 10, 10)).toBe(true)
    expect(send('pointermove', 30, 10, { buttons: 1 })).toBe(true)
    expect(send('pointerup', 30, 10)).toBe(true)
    send('dblclick', 44, 55)
    expect(flights).toEqual([[44, 55]])
    dispatcher.end()
  })

  it('a grip takes it from its press to its release: one step, and the picture does not turn', () => {
    const { send, meadow, session, dispatcher, state } = bench()
    const handle = new FakeElement('[data-grip]')
    handle.dataset.grip = 'beacon b'
    expect(send('pointerdown', 10, 10, {}, handle)).toBe(false)
    for (let k = 1; k <= 5; k++) expect(send('pointermove', 10 + 20 * k, 10 + 10 * k, { buttons: 1 })).toBe(false)
    expect(send('pointerup', 110, 60)).toBe(false)
    expect(meadow().beacons[0]).toMatchObject({ x: 11, z: 6 })
    expect(state.getState().beacon).toBe('b')
    session.undo()
    expect(meadow().beacons[0]).toMatchObject({ x: 1, z: 1 })
    dispatcher.end()
  })

  it('handles that the picture draws itself are asked whether they are under it', () => {
    const { send, onHandle, dispatcher } = bench()
    onHandle.on = true
    expect(send('pointerdown', 10, 10)).toBe(false)
    send('pointermove', 20, 10, { buttons: 1 })
    send('pointerup', 20, 10)
    expect(onHandle.did).toBe('press drag release ')
    dispatcher.end()
  })

  it('a tool that takes it has it, grips or not; the other buttons stay with the picture', () => {
    const { send, state, onHandle, dispatcher, frame, meadow } = bench()
    onHandle.on = true
    state.setState({ active: 'draw' })
    expect([frame.dataset.tool, frame.style.cursor]).toEqual(['draw', 'crosshair'])
    for (const [x, y] of [[100, 100], [300, 100], [300, 300]]) {
      expect(send('pointerdown', x, y)).toBe(false)
      send('pointerup', x, y)
    }
    expect(send('pointerdown', 50, 50, { button: 2 })).toBe(true)
    send('pointerup', 50, 50, { button: 2 })
    expect(onHandle.did).toBe('')
    expect(state.getState().drawing).toEqual([10, 10, 30, 10, 30, 30])
    send('pointerdown', 100, 103)
    send('pointerup', 100, 103)
    expect(meadow().outlines.length).toBe(1)
    expect(frame.dataset.tool).toBe('look')
    dispatcher.end()
  })

  it('a click asks, a drag turns the picture and asks nothing, and what lies over the picture is no part of it', () => {
    const { send, state, dispatcher } = bench()
    state.setState({ open: 'p' })
    state.setState({ active: 'ask' })
    send('pointerdown', 10, 10)
    send('pointermove', 40, 10, { buttons: 1 })
    send('pointerup', 10, 10)
    expect(state.getState().asking).toBeNull()
    const sheet = new FakeElement('[data-over]')
    send('pointerdown', 60, 60, {}, sheet)
    send('pointerup', 60, 60, {}, sheet)
    expect(state.getState().asking).toBeNull()
    send('pointerdown', 60, 60)
    send('pointerup', 62, 60)
    expect(state.getState().asking?.origin).toEqual([62, 0, 60])
    dispatcher.end()
  })

  it('a drag that is taken away leaves what was drawn before it', () => {
    const { send, state, dispatcher } = bench()
    state.setState({ active: 'draw' })
    send('pointerdown', 100, 100)
    send('pointerup', 100, 100)
    send('pointerdown', 200, 100)
    for (let k = 1; k < 9; k++) send('pointermove', 200 + 10 * k, 100, { buttons: 1 })
    expect(state.getState().drawing?.length).toBeGreaterThan(10)
    send('pointercancel', 290, 100)
    expect(state.getState().drawing).toEqual([10, 10])
    dispatcher.end()
  })

  it('a second finger takes back what the first had begun, and both are the picture’s', () => {
    const { send, state, frame, dispatcher } = bench()
    const passed: number[] = []
    Object.assign(globalThis, {
      PointerEvent: class extends Event {
        constructor(type: string, from: Event) {
          super(type, { cancelable: true })
          for (const key of ['clientX', 'clientY', 'button', 'pointerId', 'target']) Object.defineProperty(this, key, { value: (from as unknown as Record<string, unknown>)[key] })
        }
      },
    })
    frame.addEventListener('pointerdown', (event) => passed.push((event as PointerEvent).pointerId))
    state.setState({ active: 'draw' })
    send('pointerdown', 100, 100, { pointerId: 1 })
    for (let k = 1; k < 9; k++) send('pointermove', 100 + 10 * k, 100, { buttons: 1, pointerId: 1 })
    expect(state.getState().drawing?.length).toBeGreaterThan(10)
    expect(passed).toEqual([1])
    passed.length = 0
    expect(send('pointerdown', 200, 200, { pointerId: 2 })).toBe(true)
    expect(passed).toEqual([1, 2])
    expect(state.getState().drawing).toEqual([])
    // Neither finger draws any more.
    expect(send('pointermove', 250, 150, { buttons: 1, pointerId: 1 })).toBe(true)
    send('pointerup', 250, 150, { pointerId: 1 })
    send('pointerup', 200, 200, { pointerId: 2 })
    expect(state.getState().drawing).toEqual([])
    dispatcher.end()
  })

  it('tells where it hovers, and when it has left', () => {
    const { send, dispatcher, frame } = bench()
    const seen: (number | null)[] = []
    const stop = dispatcher.onHover((at) => seen.push(at?.x ?? null))
    send('pointermove', 5, 6)
    expect(dispatcher.at()).toMatchObject({ x: 5, y: 6 })
    send('pointermove', 7, 6, { buttons: 1 })
    frame.dispatchEvent(new Event('pointerleave'))
    expect(seen).toEqual([5, null])
    expect(dispatcher.at()).toBeNull()
    stop()
    send('pointermove', 9, 6)
    expect(seen.length).toBe(2)
    dispatcher.end()
  })
})

describe('the cross', () => {
  it('is moved by the arrow keys from the middle, sets points by Enter, and ends the line where Enter is pressed twice', () => {
    const { state, press, frame, meadow, dispatcher } = bench()
    state.setState({ active: 'draw' })
    expect(frame.focused).toBe(1)
    expect(press('Enter', frame)).toBe(true)
    expect(state.getState()).toMatchObject({ cross: [200, 150], drawing: [] })
    press('ArrowLeft', frame)
    expect(state.getState().cross).toEqual([186, 150])
    press('Enter', frame)
    press('ArrowUp', frame, { altKey: true })
    press('Enter', frame)
    press('ArrowRight', frame, { shiftKey: true })
    for (let k = 0; k < 6; k++) press('ArrowRight', frame)
    press('Enter', frame)
    expect(state.getState().drawing).toEqual([18.6, 15, 18.6, 8, 27.2, 8])
    expect(press('Enter', frame)).toBe(true)
    expect(meadow().outlines[0].lines).toEqual([[18.6, 15, 18.6, 8, 27.2, 8]])
    expect(state.getState()).toMatchObject({ active: 'look', cross: null })
    dispatcher.end()
  })

  it('is shown by Enter, and stays while another tool that points is taken up', () => {
    const { state, press, frame, dispatcher } = bench()
    state.setState({ active: 'measure' })
    expect(press('Enter', frame)).toBe(true)
    expect(state.getState().cross).toEqual([200, 150])
    press('ArrowLeft', frame)
    // A click with the one tool and one with the other are no double click, which would end the line.
    press('Enter', frame)
    state.setState({ active: 'draw' })
    expect(state.getState().cross).toEqual([186, 150])
    press('Enter', frame)
    expect(state.getState()).toMatchObject({ active: 'draw', drawing: [18.6, 15] })
    state.setState({ active: 'look' })
    expect(state.getState().cross).toBeNull()
    dispatcher.end()
  })

  it('stays where it is at the rim, and the picture moves under it', () => {
    const { state, press, frame, steps, dispatcher } = bench()
    state.setState({ active: 'draw' })
    for (let k = 0; k < 4; k++) press('ArrowDown', frame, { altKey: true })
    expect(state.getState().cross).toEqual([200, 220])
    expect(steps).toEqual([{ right: 0, ahead: -0.08 }, { right: 0, ahead: -0.08 }, { right: 0, ahead: -0.08 }])
    dispatcher.end()
  })

  it('goes when the pointer moves, leaves keys of other controls alone, and is none of a tool that does not point', () => {
    const { state, press, send, frame, dispatcher } = bench()
    state.setState({ active: 'draw' })
    expect(press('ArrowLeft', new FakeElement('button'))).toBe(false)
    press('ArrowLeft', frame)
    send('pointermove', 50, 60)
    expect(state.getState().cross).toBeNull()
    state.setState({ active: 'look' })
    expect(press('ArrowLeft', frame)).toBe(false)
    dispatcher.end()
  })

  it('asks where it is', () => {
    const { state, press, frame, dispatcher } = bench()
    state.setState({ open: 'p' })
    state.setState({ active: 'ask' })
    press('ArrowLeft', frame)
    press('Enter', frame)
    expect(state.getState().asking?.origin).toEqual([186, 0, 150])
    dispatcher.end()
  })
})

describe('keys and steps back', () => {
  it('go to the tool in hand, unless something is typed into', () => {
    const { send, state, press, dispatcher } = bench()
    state.setState({ active: 'draw' })
    send('pointerdown', 100, 100)
    send('pointerup', 100, 100)
    expect(press('Backspace', new FakeElement('input'))).toBe(false)
    expect(state.getState().drawing?.length).toBe(2)
    expect(press('Backspace')).toBe(true)
    expect(state.getState().drawing).toEqual([])
    expect(press('q')).toBe(false)
    dispatcher.end()
  })

  it('Escape puts a tool down, and goes back level by level while looking', () => {
    const { state, dispatcher } = bench()
    state.setState({ active: 'draw', open: 'p', selected: null })
    expect(state.getState().drawing).toEqual([])
    dispatcher.escape()
    expect(state.getState()).toMatchObject({ active: 'look', drawing: null, open: 'p' })
    state.setState({ selected: 'o' })
    dispatcher.escape()
    dispatcher.escape()
    expect(state.getState()).toMatchObject({ active: 'look', selected: null, open: null })
    dispatcher.end()
  })

  it('a tool that cannot be taken up now says why and leaves looking in hand', () => {
    const { state, dispatcher, frame } = bench()
    state.setState({ active: 'ask' })
    expect(state.getState().active).toBe('look')
    expect(frame.dataset.tool).toBe('look')
    dispatcher.end()
  })

  it('at its end nothing is heard any more, and the tool is put down', () => {
    const { state, dispatcher, send, press } = bench()
    state.setState({ active: 'draw' })
    dispatcher.end()
    expect(state.getState().drawing).toBeNull()
    expect(send('pointerdown', 100, 100)).toBe(true)
    expect(press('Backspace')).toBe(false)
    state.setState({ active: 'look' })
    state.setState({ active: 'draw' })
    expect(state.getState().drawing).toBeNull()
  })
})
