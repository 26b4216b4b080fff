import type { DemoAsset } from './define.ts'
import { addTuft, paint, partOf, startSculpture } from './sculptor.ts'

interface GrassForm {
  readonly id: string
  readonly name: string
  readonly tags: readonly string[]
  readonly seed: number
  readonly blades: number
  readonly spread: number
  readonly height: readonly [number, number]
  readonly width: number
  readonly bow: readonly [number, number]
  readonly low: string
  readonly high: string
  readonly dry: string
  readonly room: number
}

/** Fewer, wider blades for the lighter forms keep the same cover. */
const LIGHTER = [
  { blades: 1, width: 1, segments: 2 },
  { blades: 0.36, width: 2.2, segments: 1 },
  { blades: 0.16, width: 4.4, segments: 1 },
]

function grass(form: GrassForm): DemoAsset {
  return {
    id: form.id,
    name: form.name,
    category: 'Grasses',
    tags: form.tags,
    room: form.room,
    build(detail) {
      const s = startSculpture()
      const { blades, width, segments } = LIGHTER[detail]
      addTuft(s, {
        ...form,
        blades: Math.max(3, Math.round(form.blades * blades)),
        width: form.width * width,
        low: paint(form.low),
        high: paint(form.high),
        dry: paint(form.dry),
        segments,
      })
      return [partOf(s, form.name, 0.85, true)]
    },
  }
}

export const GRASSES: readonly DemoAsset[] = [
  grass({
    id: 'cordgrass',
    name: 'Cordgrass',
    tags: ['mud', 'creek', 'tall'],
    seed: 11,
    blades: 20,
    spread: 0.2,
    height: [0.45, 0.85],
    width: 0.035,
    bow: [0.1, 0.45],
    low: '#4d5a24',
    high: '#93a344',
    dry: '#b8a564',
    room: 0.12,
  }),
  grass({
    id: 'marram',
    name: 'Marram',
    tags: ['dune', 'tall'],
    seed: 23,
    blades: 24,
    spread: 0.22,
    height: [0.55, 1.05],
    width: 0.026,
    bow: [0.3, 0.9],
    low: '#6b7040',
    high: '#b6b277',
    dry: '#d9c68c',
    room: 0.2,
  }),
  grass({
    id: 'saltgrass',
    name: 'Saltmarsh grass',
    tags: ['marsh', 'short', 'turf'],
    seed: 37,
    blades: 22,
    spread: 0.3,
    height: [0.12, 0.3],
    width: 0.026,
    bow: [0.2, 0.9],
    low: '#48562a',
    high: '#86984a',
    dry: '#a8985a',
    room: 0.08,
  }),
  grass({
    id: 'reed',
    name: 'Reed',
    tags: ['creek', 'tall'],
    seed: 41,
    blades: 14,
    spread: 0.18,
    height: [1.3, 2.1],
    width: 0.045,
    bow: [0.05, 0.28],
    low: '#5d6330',
    high: '#a9a75c',
    dry: '#cdb98a',
    room: 0.2,
  }),
]
