import { cos, sin, TAU } from '../../core/math/portable.ts'
import type { DemoAsset } from './define.ts'
import type { Rgb, Sculpture } from './sculptor.ts'
import { addLump, addSprays, addTube, dice, mixRgb, paint, partOf, startSculpture } from './sculptor.ts'

const BARK = paint('#6a5340')
const BARK_LIGHT = paint('#93765a')
const NEEDLE = paint('#3f5a2c')
const NEEDLE_LIGHT = paint('#6d8840')
const GREY_WOOD = paint('#9b9284')
const GREY_WOOD_DARK = paint('#5f574d')

/** Foliage as a lumpy cushion, darker underneath. */
function addCushion(s: Sculpture, seed: number, centre: [number, number, number], radius: [number, number, number], level: number, dark: Rgb, light: Rgb): void {
  addLump(s, {
    seed,
    centre,
    radius,
    rough: 0.24,
    scale: 2.2,
    level,
    colourAt: (n, bump) => mixRgb(mixRgb(dark, [0.01, 0.015, 0.006], 0.35), light, Math.max(0, Math.min(1, 0.42 + 0.5 * n[1] + 1.1 * bump))),
  })
}

/** How finely a cushion is divided and how many sprays it has, by level of detail: as many triangles as a cushion one finer. */
const LEVELS = [1, 0, 0]
const SPRAYS = [96, 24, 0]

/** Sprays of a cushion, of the colours of its leaves. */
function addLeaves(s: Sculpture, seed: number, centre: [number, number, number], radius: [number, number, number], detail: number, leaf: [number, number], dark: Rgb, light: Rgb): void {
  const wider = detail === 0 ? 1.1 : 1.9
  addSprays(s, {
    seed,
    centre,
    radius,
    count: SPRAYS[detail],
    length: leaf[0] * wider,
    width: leaf[1] * wider,
    colourAt: (n, dice) => mixRgb(dark, light, Math.max(0, Math.min(1.15, 0.25 + 0.4 * n[1] + 0.55 * dice))),
  })
}

const pine: DemoAsset = {
  id: 'wind-pine',
  name: 'Wind-bent pine',
  category: 'Trees',
  tags: ['knoll', 'tall', 'conifer'],
  room: 1.7,
  build(detail) {
    const wood = startSculpture()
    const sides = [7, 5, 3][detail]
    const trunk: [number, number, number][] = [
      [0, -0.15, 0],
      [0.08, 1.2, 0.03],
      [0.45, 2.6, 0.05],
      [1.1, 3.9, -0.05],
      [2, 4.8, 0],
    ]
    addTube(wood, detail === 2 ? [trunk[0], trunk[2], trunk[4]] : trunk, detail === 2 ? [0.24, 0.17, 0.07] : [0.24, 0.2, 0.16, 0.11, 0.06], sides, (t, side) => mixRgb(BARK, BARK_LIGHT, 0.3 + 0.5 * t + 0.15 * (side % 2)))
    const crown = startSculpture()
    const roll = dice(211)
    const pads: [number, number, number, number][] = [
      [0.9, 3.3, 0.7, 0.9],
      [0.5, 3.5, -0.75, 0.8],
      [1.6, 4.4, 0.55, 1.05],
      [1.5, 4.5, -0.6, 1],
      [2.5, 4.75, 0.1, 1.15],
      [2, 5.15, 0, 0.95],
      [3.2, 4.6, -0.35, 0.7],
    ]
    pads.forEach(([x, y, z, r], i) => {
      if (detail === 2 && i % 2 === 1) return
      if (detail === 0) addTube(wood, [[x * 0.45 + 0.1, y - 0.9, z * 0.2], [x, y - 0.1, z]], [0.07, 0.03], 4, () => BARK)
      const wide = detail === 2 ? 1.35 : 1
      const radius: [number, number, number] = [r * wide * roll(1, 1.2), r * 0.42, r * wide * roll(0.85, 1)]
      addCushion(crown, 300 + i, [x, y, z], radius, LEVELS[detail], NEEDLE, NEEDLE_LIGHT)
      addLeaves(crown, 400 + i, [x, y, z], radius, detail, [0.34, 0.16], NEEDLE, NEEDLE_LIGHT)
    })
    return [partOf(wood, 'Bark', 0.95, false), partOf(crown, 'Needles', 0.9, true)]
  },
}

const shrub: DemoAsset = {
  id: 'thorn-shrub',
  name: 'Thorn shrub',
  category: 'Shrubs',
  tags: ['dune', 'berries'],
  room: 0.75,
  build(detail) {
    const s = startSculpture()
    const roll = dice(231)
    const dark = paint('#52673f')
    const light = paint('#93a36a')
    const lumps = [7, 4, 2][detail]
    for (let i = 0; i < lumps; i++) {
      const around = (TAU * i) / lumps
      const away = i === 0 ? 0 : roll(0.2, 0.42)
      const r = roll(0.32, 0.48) * (detail === 2 ? 1.4 : 1)
      const centre: [number, number, number] = [sin(around) * away, 0.3 + roll(0, 0.35), cos(around) * away]
      addCushion(s, 240 + i, centre, [r, r * 0.85, r], LEVELS[detail], dark, light)
      addLeaves(s, 260 + i, centre, [r, r * 0.85, r], detail, [0.15, 0.1], dark, light)
    }
    if (detail === 0)
      for (let i = 0; i < 26; i++) {
        const around = TAU * roll()
        const high = roll(0.25, 0.95)
        const away = 0.62 * Math.sqrt(Math.max(0.05, 1 - (high - 0.35) ** 2 * 2.2))
        addLump(s, { seed: i, centre: [sin(around) * away, high, cos(around) * away], radius: [0.03, 0.03, 0.03], rough: 0, scale: 1, level: 0, colourAt: () => paint('#d9823a') })
      }
    return [partOf(s, 'Thorn shrub', 0.9, true)]
  },
}

const driftwood: DemoAsset = {
  id: 'driftwood',
  name: 'Driftwood',
  category: 'Debris',
  tags: ['strandline', 'wood'],
  room: 0.5,
  build(detail) {
    const s = startSculpture()
    const colour = (t: number, side: number) => mixRgb(GREY_WOOD_DARK, GREY_WOOD, 0.45 + 0.4 * sin(t * 9 + side * 2))
    const sides = [7, 5, 3][detail]
    addTube(s, [[-0.9, 0.06, 0.05], [-0.35, 0.12, -0.06], [0.3, 0.13, 0.04], [0.95, 0.22, 0.18]], [0.05, 0.11, 0.1, 0.03], sides, colour)
    if (detail < 2) addTube(s, [[0.1, 0.15, 0], [0.35, 0.36, -0.25], [0.42, 0.5, -0.42]], [0.06, 0.035, 0.012], Math.max(3, sides - 2), colour)
    if (detail === 0) addTube(s, [[-0.5, 0.14, 0], [-0.62, 0.32, 0.2]], [0.04, 0.012], 4, colour)
    return [partOf(s, 'Grey wood', 0.9, false)]
  },
}

const post: DemoAsset = {
  id: 'post',
  name: 'Groyne post',
  category: 'Built',
  tags: ['wood', 'upright'],
  room: 0.2,
  build(detail) {
    const s = startSculpture()
    const weed = paint('#3d4a26')
    addTube(s, [[0, -0.3, 0], [0.01, 0.35, 0], [0.015, 0.4, 0.005], [0.02, 1.35, 0.01]], [0.13, 0.125, 0.12, 0.1], [8, 6, 4][detail], (t, side) => (t < 0.5 ? mixRgb(weed, GREY_WOOD_DARK, 0.3) : mixRgb(GREY_WOOD_DARK, GREY_WOOD, 0.4 + 0.3 * ((side * 7) % 3) * 0.5)))
    return [partOf(s, 'Post', 0.95, false)]
  },
}

export const WOODY: readonly DemoAsset[] = [pine, shrub, driftwood, post]
