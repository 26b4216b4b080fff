import { cos, sin, TAU } from '../../core/math/portable.ts'
import type { DemoAsset } from './define.ts'
import { addLump, dice, mixRgb, paint, partOf, startSculpture } from './sculptor.ts'

const STONE_DARK = paint('#5c5650')
const STONE = paint('#8e877c')
const LICHEN = paint('#a3a06a')

const boulder: DemoAsset = {
  id: 'boulder',
  name: 'Boulder',
  category: 'Stones',
  tags: ['rock', 'large'],
  build(detail) {
    const s = startSculpture()
    addLump(s, {
      seed: 401,
      centre: [0, 0.34, 0],
      radius: [0.75, 0.5, 0.6],
      rough: 0.22,
      scale: 1.6,
      level: [3, 2, 1][detail],
      facets: true,
      colourAt: (n, bump) => mixRgb(mixRgb(STONE_DARK, STONE, 0.5 + 1.6 * bump), LICHEN, Math.max(0, n[1] - 0.35) * 0.9),
    })
    return [partOf(s, 'Stone', 0.9, false)]
  },
}

const shingle: DemoAsset = {
  id: 'shingle',
  name: 'Shingle stones',
  category: 'Stones',
  tags: ['strandline', 'small'],
  room: 0.12,
  build(detail) {
    const s = startSculpture()
    const roll = dice(421)
    const tones = ['#a79d8f', '#7d766c', '#b9a88e', '#8b7f7a', '#6b675f'].map(paint)
    const stones = [9, 6, 4][detail]
    for (let i = 0; i < stones; i++) {
      const around = TAU * roll()
      const away = 0.3 * Math.sqrt(roll())
      const r = roll(0.04, 0.1) * (detail === 2 ? 1.5 : 1)
      const tone = tones[Math.floor(roll() * tones.length)]
      addLump(s, {
        seed: 430 + i,
        centre: [sin(around) * away, r * 0.3, cos(around) * away],
        radius: [r * roll(0.9, 1.4), r * 0.55, r],
        rough: 0.1,
        scale: 2,
        level: detail === 0 ? 1 : 0,
        colourAt: (n) => mixRgb(mixRgb(tone, [0, 0, 0], 0.4), tone, 0.6 + 0.4 * n[1]),
      })
    }
    return [partOf(s, 'Shingle', 0.8, false)]
  },
}

const shell: DemoAsset = {
  id: 'shell',
  name: 'Shells',
  category: 'Debris',
  tags: ['strandline', 'small', 'white'],
  room: 0.1,
  build(detail) {
    const s = startSculpture()
    const roll = dice(441)
    const count = [7, 5, 3][detail]
    for (let i = 0; i < count; i++) {
      const around = TAU * roll()
      const away = 0.22 * Math.sqrt(roll())
      const r = roll(0.028, 0.05) * (detail === 2 ? 1.5 : 1)
      const tone = paint(['#efe6d6', '#e2cfc0', '#d8c1b4', '#f4f0e6'][i % 4])
      addLump(s, {
        seed: 450 + i,
        centre: [sin(around) * away, r * 0.25, cos(around) * away],
        radius: [r, r * 0.45, r * 1.25],
        rough: 0.06,
        scale: 5,
        level: detail === 0 ? 1 : 0,
        colourAt: (n) => mixRgb(mixRgb(tone, [0.2, 0.14, 0.1], 0.35), tone, 0.5 + 0.5 * cos(n[0] * 14)),
      })
    }
    return [partOf(s, 'Shell', 0.5, false)]
  },
}

export const STONES: readonly DemoAsset[] = [boulder, shingle, shell]
