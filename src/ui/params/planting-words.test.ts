import { defaultsOf } from '../../core/kinds.ts'
import type { ParamValue } from '../../core/kinds.ts'
import { PLANTINGS } from '../../core/plantings/index.ts'
import { phraseText } from './live-phrase.tsx'

/** The whole sentence of a planting's own settings, without its mix and habitat. */
function sentence(kind: string, params: Record<string, ParamValue>): string {
  const { params: set, howMany, howItStands } = PLANTINGS.get(kind)
  const values = { ...defaultsOf(set), ...params }
  return [howMany(values), howItStands(values)].map((phrase) => phraseText(phrase, set, values)).join('; ')
}

const span = (from: number, to: number) => ({ from, to })

describe('the sentence of a planting in order', () => {
  it.each([
    ['row', { count1: 9, east1: 2.25, turn: span(0, 12), lift: span(-0.3, -0.3) }, '9 in a row, one every 2.25 m; each turned up to 12°, all of their own size, sunk 0.3 m'],
    ['row', { count1: 7, east1: 0, south1: -0.34, up1: 0.17 }, '7 in a row, one every 0.34 m, each 0.17 m higher; all of their own size'],
    ['row', { count1: 7, east1: 3, south1: 4, up1: -1, given: 'run' }, '7 in a row over 5 m, in all 1 m lower; all of their own size'],
    ['row', { count1: 20, turn1: 18, up1: 0.2, factor1: 0.9 }, '20 in a row, one every 1 m, each 0.2 m higher, turned on 18°, sized 0.9 times the one before; all of their own size'],
    ['row', { given: 'fit', fit1: 12, east1: 0.9 }, '12 m long, one every 0.9 m; all of their own size'],
    ['row', { directions: '3', count1: 4, count2: 5, count3: 6, leftOut: 0.1 }, '6 layers of 5 rows of 4, one every 1 m; all of their own size, 10 % left out'],
    ['row', { directions: '2', given: 'fit', fit1: 6, count2: 5 }, '5 rows, 6 m long, one every 1 m; all of their own size'],
    ['ring', { count: 7, radius: 2, size: span(0.9, 1.1), lean: span(0, 4), leanTo: 'wind', wind: 45 }, '7 in a ring of 2 m, looking outwards; leaning up to 4° with the wind to 45°, sized 0.9–1.1'],
    ['ring', { count: 7, radius: 2, across: 3, arc: -90, eastBy: span(-1, 1), tall: span(1, 2) }, '7 in a ring of 2 m by 3 m, −90° of it, looking outwards; all of their own size, height 1–2, shifted −1 to 1 m across'],
    ['trail', { spacing: 2.4, sides: 'both', off: 0.78, lift: span(0.1, 0.2) }, 'one every 2.4 m along a path, on both sides by 0.78 m, looking ahead; all of their own size, lifted 0.1–0.2 m'],
    ['perch', { at: 'corner', leftOut: 0.5 }, 'perched at corners; all of their own size, 50 % left out'],
    ['spread', { spacing: 2, lift: span(-0.1, 0.1), southBy: span(0, 1) }, 'about every 2 m, evenly; leaning up to 6°, sized 0.8–1.25, shifted 0–1 m ahead, lifted or sunk by −0.1 to 0.1 m'],
  ] as const)('%s %j', (kind, params, words) => expect(sentence(kind, params as unknown as Record<string, ParamValue>)).toBe(words))
})
