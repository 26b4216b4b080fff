import type { KeyboardEvent, ReactNode } from 'react'
import { useEffect, useMemo, useReducer, useRef, useState } from 'react'
import { useStore } from 'zustand'
import type { Vector } from '../../core/hand/frames.ts'
import type { Landscape } from '../../scene/landscape.ts'
import { countChosen } from '../../state/chosen.ts'
import type { Drawn, HandleWay } from '../../state/field-tool.ts'
import { changeHeld, hold } from '../../tools/choose/acts.ts'
import type { HandleFrame } from '../../tools/choose/handles.ts'
import { chooseValues, chosenGrip, drawnTo, drawnWords, handleFrame, undrawn } from '../../tools/choose/handles.ts'
import { plus } from '../../tools/choose/handle-math.ts'
import { gripName } from '../../tools/grips/define.ts'
import { useField } from './field-context.ts'

/** How long the handles are on the screen, px. */
const LONG = 76
/** From this share of its length on an axis takes the pointer: nearer to the middle is the thing itself. */
const GRABBED = 0.55
const CORNERS = 16
const AXES = ['x', 'y', 'z'] as const
const PLANES = ['xz', 'xy', 'yz'] as const
/** The world's axes in words. */
const WORDS: Readonly<Record<HandleWay, string>> = { x: 'east', y: 'up', z: 'south', xz: 'over the level', xy: 'east and up', yz: 'south and up', all: 'all ways' }
/** What stands on them. */
const LETTERS = { x: 'E', y: '↑', z: 'S' } as const
/** What the arrow keys do to a handle that has the focus. */
const KEY_STEP = { move: 0.1, turn: 5, size: 0.05 } as const

/** The handles at what is chosen, while Choose is in hand: along axes, over planes, about axes, all ways. */
export function HandlesOverlay() {
  const { landscape, session, tool } = useField()
  const chosen = useStore(tool, (state) => state.chosen)
  const shown = useStore(tool, (state) => state.active === 'choose' && state.picking === null && countChosen(state.chosen) > 0)
  // Read anew when a setting changes.
  useStore(tool, (state) => state.settings)
  const drawn = useStore(tool, (state) => state.drawn)
  const { handles, axes } = chooseValues(tool)
  const [, look] = useReducer((n: number) => n + 1, 0)
  useEffect(() => (shown ? landscape?.onDrawn(look) : undefined), [landscape, shown])
  const [grown, setGrown] = useState(0)
  const [typed, setTyped] = useState('')
  useEffect(() => (shown ? session.instances.listen((planting) => chosen.has(planting) && setGrown((n) => n + 1)) : undefined), [session, chosen, shown])
  // While a handle is drawn it stays where it was taken hold of, with what it has done.
  const still = useRef<HandleFrame | null>(null)
  const frame = useMemo(() => {
    void grown
    return shown ? handleFrame(session, chosen, axes) : null
  }, [session, chosen, axes, shown, grown])
  if (!drawn) still.current = frame
  const at = still.current
  if (!landscape || !at || handles === 'none') return null
  const moved: HandleFrame = drawn?.what === 'move' ? { ...at, at: AXES.reduce<Vector>((sum, letter, c) => plus(sum, at.axes[letter], drawn.move[c]), at.at) } : at
  const middle = landscape.project(moved.at[0], moved.at[2], moved.at[1])
  if (!middle) return null
  return (
    <svg className="brush-overlay handles-overlay">
      <g className="chosen-handle">
        <Ways what={handles} frame={moved} landscape={landscape} typed={typed} onType={setTyped} />
        {(drawn || typed) && (
          <text x={middle[0] + 14} y={middle[1] - 14}>
            {drawn ? drawnWords(drawn) : typed}
          </text>
        )}
      </g>
    </svg>
  )
}

interface WaysProps {
  readonly what: Drawn['what']
  readonly frame: HandleFrame
  readonly landscape: Landscape
  /** A number that is being typed to a handle. */
  readonly typed: string
  readonly onType: (typed: string) => void
}

function Ways({ what, frame: { at, axes }, landscape, ...typing }: WaysProps) {
  const seen = (place: Vector) => landscape.project(place[0], place[2], place[1])
  const middle = seen(at) as readonly [number, number]
  const long = lengthOf(at, axes, landscape)
  const tip = (letter: 'x' | 'y' | 'z', share = 1) => seen(plus(at, axes[letter], long * share))
  const pathOf = (places: readonly (readonly [number, number] | null)[]) => places.flatMap((place) => place ?? []).reduce((text, one, k) => text + (k % 2 === 0 ? `${k === 0 ? 'M' : 'L'}${one.toFixed(1)} ` : one.toFixed(1)), '')
  if (what === 'turn')
    return AXES.map((letter) => {
      const [u, v] = AXES.filter((one) => one !== letter).map((one) => axes[one])
      const round = (turn: number) => seen(plus(plus(at, u, long * Math.cos(turn)), v, long * Math.sin(turn)))
      // A quarter, between the two other axes.
      const arc = Array.from({ length: CORNERS + 1 }, (_, k) => round((0.5 * Math.PI * k) / CORNERS))
      const knob = round(0.25 * Math.PI)
      return (
        <Grip key={letter} what={what} way={letter} {...typing}>
          <path className="reach" d={pathOf(arc)} />
          <path className={`shaft ${letter}`} style={{ fill: 'none' }} d={pathOf(arc)} />
          {knob && <Knob at={knob} of={letter} word="°" />}
        </Grip>
      )
    })
  return (
    <>
      {what === 'move' &&
        PLANES.map((plane) => {
          const [a, b] = [axes[plane[0] as 'x'], axes[plane[1] as 'x']]
          const corners = [[0.28, 0.28], [0.52, 0.28], [0.52, 0.52], [0.28, 0.52]].map(([s, t]) => seen(plus(plus(at, a, long * s), b, long * t)))
          const other = AXES.find((letter) => !plane.includes(letter)) as string
          return (
            <Grip key={plane} what={what} way={plane} {...typing}>
              <path className={`plane ${other}`} d={`${pathOf(corners)}Z`} />
            </Grip>
          )
        })}
      {AXES.map((letter) => {
        const end = tip(letter)
        if (!end) return null
        return (
          <Grip key={letter} what={what} way={letter} {...typing}>
            <path className="reach" d={pathOf([tip(letter, GRABBED), end])} />
            <path className={`shaft ${letter}`} d={pathOf([middle, end])} />
            <Knob at={end} of={letter} word={LETTERS[letter]} />
          </Grip>
        )
      })}
      {what === 'size' && (
        <Grip what={what} way="all" {...typing}>
          <Knob at={middle} of="all" word="×" />
        </Grip>
      )}
    </>
  )
}

/** Where a handle is taken hold of: a disc of paper with a letter. */
function Knob({ at: [x, y], of, word }: { readonly at: readonly [number, number]; readonly of: string; readonly word: string }) {
  return (
    <>
      <circle className={`tip ${of}`} cx={x} cy={y} r={9} />
      <text className="letter" x={x} y={y + 4}>
        {word}
      </text>
    </>
  )
}

/** One handle: dragged, moved by the arrow keys, or set by a number that is typed while it has the focus. */
function Grip({ what, way, typed, onType, children }: Pick<WaysProps, 'what' | 'typed' | 'onType'> & { readonly way: HandleWay; readonly children: ReactNode }) {
  const { session, tool } = useField()
  const verb = { move: 'Move', turn: 'Turn', size: 'Size' }[what]
  const apply = (amount: number) => {
    const { chosen } = tool.getState()
    const move = (['x', 'y', 'z'] as const).map((letter) => (way.includes(letter) ? amount : 0)) as unknown as Vector
    const drawn: Drawn = { ...undrawn(what, way), ...(what === 'move' ? { move } : what === 'turn' ? { degrees: amount } : { factor: amount }) }
    void hold(session, chosen).then((held) => changeHeld(session, held, verb, drawnTo(session, held.instances, chooseValues(tool), drawn)))
  }
  const key = (event: KeyboardEvent) => {
    const { key: pressed } = event
    const up = pressed === 'ArrowRight' || pressed === 'ArrowUp'
    if (/^[-\d.]$/.test(pressed)) onType(typed + pressed)
    else if (pressed === 'Backspace' && typed) onType(typed.slice(0, -1))
    else if (pressed === 'Enter' && Number.isFinite(Number(typed)) && typed !== '') {
      if (what !== 'size' || Number(typed) > 0) apply(Number(typed))
      onType('')
    } else if (up || pressed === 'ArrowLeft' || pressed === 'ArrowDown') apply(what === 'size' ? 1 + (up ? 1 : -1) * KEY_STEP.size : (up ? 1 : -1) * KEY_STEP[what])
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  return (
    <g tabIndex={0} role="button" aria-label={`${verb} ${WORDS[way]}: drag it, type a number and press Enter, or use the arrow keys`} data-grip={gripName(chosenGrip, what, way)} onKeyDown={key} onBlur={() => onType('')}>
      {children}
    </g>
  )
}

/** Metres that are about {@link LONG} px long at a place, along whichever axis is seen longest. */
function lengthOf(at: Vector, axes: HandleFrame['axes'], landscape: Landscape): number {
  const middle = landscape.project(at[0], at[2], at[1])
  const step = 0.05
  const most = AXES.reduce((best, letter) => {
    const end = landscape.project(...planOf(plus(at, axes[letter], step)))
    return middle && end ? Math.max(best, Math.hypot(end[0] - middle[0], end[1] - middle[1])) : best
  }, 1e-6)
  return (LONG / most) * step
}

function planOf([x, y, z]: Vector): [number, number, number] {
  return [x, z, y]
}
