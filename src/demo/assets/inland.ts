import { cos, sin, TAU } from '../../core/math/portable.ts'
import type { DemoAsset } from './define.ts'
import { addBlade, addLump, addSprays, addTube, addTuft, dice, mixRgb, paint, partOf, startSculpture } from './sculptor.ts'

/** What grows and lies away from the shore: on dry slopes, in bogs and in quarries. */

const WHITE_BARK = paint('#d9d5ca')
const BARK_MARKS = paint('#3f3a35')
const BIRCH_DARK = paint('#5c7a34')
const BIRCH_LIGHT = paint('#a3bb5c')

const birch: DemoAsset = {
  id: 'birch',
  name: 'Bog birch',
  category: 'Trees',
  tags: ['bog', 'tall', 'white bark'],
  room: 1.5,
  build(detail) {
    const wood = startSculpture()
    const roll = dice(811)
    const trunk: [number, number, number][] = [
      [0, -0.15, 0],
      [0.06, 1.1, 0.04],
      [-0.05, 2.3, 0.1],
      [0.08, 3.5, 0],
      [0.02, 4.9, -0.06],
    ]
    addTube(wood, detail === 2 ? [trunk[0], trunk[2], trunk[4]] : trunk, detail === 2 ? [0.13, 0.09, 0.03] : [0.13, 0.105, 0.085, 0.06, 0.02], [7, 5, 3][detail], (t, side) =>
      mixRgb(WHITE_BARK, BARK_MARKS, t < 0.06 ? 0.75 : (side * 5 + Math.floor(t * 40)) % 7 === 0 ? 0.6 : 0.08 + 0.25 * t),
    )
    const crown = startSculpture()
    const tufts = [13, 8, 7][detail]
    for (let i = 0; i < tufts; i++) {
      const up = (i + 0.5) / tufts
      const around = i * 2.399963229728653 + roll(-0.4, 0.4)
      const away = 0.95 * sin(Math.PI * (0.25 + 0.72 * up)) * roll(0.75, 1.1) * (detail === 2 ? 0.7 : 1)
      const centre: [number, number, number] = [sin(around) * away, 1.9 + 3.1 * up, cos(around) * away]
      const r = roll(0.42, 0.6) * (detail === 2 ? 1.6 : 1) * (1 - 0.35 * up)
      const radius: [number, number, number] = [r, r * 0.95, r]
      if (detail === 0) addTube(wood, [[0, centre[1] - 0.5, 0], [centre[0] * 0.8, centre[1] - 0.05, centre[2] * 0.8]], [0.03, 0.008], 3, () => mixRgb(WHITE_BARK, BARK_MARKS, 0.55))
      const shade = (n: readonly number[], bump: number) => mixRgb(mixRgb(BIRCH_DARK, [0.02, 0.03, 0.01], 0.3), BIRCH_LIGHT, Math.max(0, Math.min(1, 0.4 + 0.45 * n[1] + 1.2 * bump)))
      addLump(crown, { seed: 820 + i, centre, radius: radius.map((size) => size * (detail === 0 ? 0.72 : 0.95)) as [number, number, number], rough: 0.35, scale: 2.4, level: detail === 0 ? 1 : 0, colourAt: shade })
      if (detail < 2) addSprays(crown, { seed: 840 + i, centre, radius, count: [70, 16][detail], length: [0.2, 0.36][detail], width: [0.11, 0.2][detail], colourAt: (n, die) => mixRgb(BIRCH_DARK, BIRCH_LIGHT, Math.max(0, Math.min(1.1, 0.3 + 0.35 * n[1] + 0.5 * die))) })
    }
    return [partOf(wood, 'Bark', 0.9, false), partOf(crown, 'Leaves', 0.9, true)]
  },
}

/** A low, dense cushion with sprays: heather, thyme, juniper and moss differ by form and colours. */
function cushion(form: {
  id: string
  name: string
  category: string
  tags: readonly string[]
  room: number
  seed: number
  lumps: number
  /** Half its width, and its height, m. */
  wide: number
  tall: number
  sprays: number
  leaf: readonly [number, number]
  dark: string
  light: string
  /** Tips of another colour, and how many of the sprays have them. */
  tips?: { readonly colour: string; readonly share: number }
}): DemoAsset {
  return {
    id: form.id,
    name: form.name,
    category: form.category,
    tags: form.tags,
    room: form.room,
    build(detail) {
      const s = startSculpture()
      const roll = dice(form.seed)
      const [dark, light] = [paint(form.dark), paint(form.light)]
      const tip = form.tips && paint(form.tips.colour)
      const lumps = Math.max(1, Math.round(form.lumps * [1, 0.6, 0.35][detail]))
      for (let i = 0; i < lumps; i++) {
        const around = (TAU * i) / lumps
        const away = i === 0 ? 0 : form.wide * roll(0.35, 0.62)
        const r = form.wide * (lumps === 1 ? 1 : roll(0.5, 0.68)) * (detail === 2 ? 1.25 : 1)
        const high = form.tall * (i === 0 ? 1 : roll(0.55, 0.9))
        const centre: [number, number, number] = [sin(around) * away, high * 0.42, cos(around) * away]
        const radius: [number, number, number] = [r, high * 0.58, r]
        addLump(s, { seed: form.seed + i, centre, radius, rough: 0.2, scale: 2.2, level: detail === 0 ? 1 : 0, colourAt: (n, bump) => mixRgb(mixRgb(dark, [0.015, 0.02, 0.01], 0.3), light, Math.max(0, Math.min(1, 0.35 + 0.5 * n[1] + 1.1 * bump))) })
        const count = Math.round((form.sprays / form.lumps) * [1, 0.3, 0][detail])
        if (count > 0)
          addSprays(s, {
            seed: form.seed + 40 + i,
            centre,
            radius,
            count,
            length: form.leaf[0] * (detail === 0 ? 1 : 1.7),
            width: form.leaf[1] * (detail === 0 ? 1 : 1.9),
            colourAt: (n, die) => (tip && form.tips && die < form.tips.share && n[1] > 0 ? tip : mixRgb(dark, light, Math.max(0, Math.min(1.1, 0.25 + 0.4 * n[1] + 0.5 * die)))),
          })
      }
      return [partOf(s, form.name, 0.92, true)]
    },
  }
}

const heather = cushion({ id: 'heather', name: 'Heather', category: 'Shrubs', tags: ['bog', 'heath', 'purple'], room: 0.3, seed: 861, lumps: 4, wide: 0.34, tall: 0.42, sprays: 150, leaf: [0.11, 0.035], dark: '#3f4a2c', light: '#6f7d45', tips: { colour: '#a0699c', share: 0.55 } })
const juniper = cushion({ id: 'juniper', name: 'Juniper', category: 'Shrubs', tags: ['dry', 'slope', 'evergreen'], room: 0.8, seed: 881, lumps: 6, wide: 0.75, tall: 1.7, sprays: 300, leaf: [0.16, 0.045], dark: '#33472f', light: '#6c7f5a' })
const thyme = cushion({ id: 'thyme', name: 'Cliff thyme', category: 'Flowers', tags: ['dry', 'cushion', 'pink'], room: 0.17, seed: 901, lumps: 3, wide: 0.2, tall: 0.11, sprays: 90, leaf: [0.035, 0.022], dark: '#4d5a38', light: '#7f8a58', tips: { colour: '#c58bb4', share: 0.5 } })
const moss = cushion({ id: 'bog-moss', name: 'Bog moss', category: 'Mosses', tags: ['bog', 'wet', 'cushion'], room: 0.2, seed: 921, lumps: 4, wide: 0.26, tall: 0.15, sprays: 60, leaf: [0.03, 0.02], dark: '#56652f', light: '#93a04c', tips: { colour: '#a85a3c', share: 0.18 } })

const cotton: DemoAsset = {
  id: 'bog-cotton',
  name: 'Bog cotton',
  category: 'Grasses',
  tags: ['bog', 'wet', 'white'],
  room: 0.15,
  build(detail) {
    const s = startSculpture()
    const green = paint('#76843f')
    addTuft(s, { seed: 941, blades: [22, 9, 4][detail], spread: 0.09, height: [0.18, 0.38], width: [0.014, 0.03, 0.05][detail], bow: [0.1, 0.5], low: mixRgb(green, [0.02, 0.03, 0.01], 0.4), high: green, dry: paint('#a3854e'), segments: detail === 0 ? 2 : 1 })
    const roll = dice(947)
    const heads = [7, 5, 4][detail]
    for (let i = 0; i < heads; i++) {
      const around = TAU * ((i + roll()) / heads)
      const away = 0.12 * Math.sqrt(roll())
      const tip: [number, number, number] = [sin(around) * away, roll(0.34, 0.5), cos(around) * away]
      addBlade(s, { root: [tip[0] * 0.3, 0, tip[2] * 0.3], toward: around, height: tip[1], width: [0.01, 0.016, 0.024][detail], bow: 0.12, low: green, high: paint('#9aa06a'), segments: 1 })
      if (detail < 2) addLump(s, { seed: 950 + i, centre: tip, radius: [0.019, 0.024, 0.019], rough: 0.6, scale: 4, level: detail === 0 ? 1 : 0, colourAt: (n) => mixRgb(paint('#cfcabb'), paint('#fbf8ef'), 0.5 + 0.5 * n[1]) })
      else addBlade(s, { root: [tip[0], tip[1] - 0.03, tip[2]], toward: around * 3, height: 0.055, width: 0.05, bow: 0.1, low: paint('#cfcabb'), high: paint('#fbf8ef'), segments: 1 })
    }
    return [partOf(s, 'Bog cotton', 0.9, true)]
  },
}

const dryGrass: DemoAsset = {
  id: 'dry-grass',
  name: 'Dry grass',
  category: 'Grasses',
  tags: ['dry', 'slope', 'straw'],
  room: 0.2,
  build(detail) {
    const s = startSculpture()
    const straw = paint('#c2ac6b')
    addTuft(s, { seed: 961, blades: [30, 8, 4][detail], spread: 0.13, height: [0.2, 0.5], width: [0.012, 0.035, 0.06][detail], bow: [0.3, 0.95], low: paint('#7f7742'), high: straw, dry: paint('#d8cb98'), segments: detail === 0 ? 2 : 1 })
    return [partOf(s, 'Dry grass', 0.9, true)]
  },
}

const LIMESTONE = ['#b5ab98', '#9d9484', '#c7beab', '#8b8377'].map(paint)

/** Angular stones around the origin, the largest first. */
function stones(form: { id: string; name: string; tags: readonly string[]; seed: number; count: number; size: readonly [number, number]; spread: number; flat: number; room?: number }): DemoAsset {
  return {
    id: form.id,
    name: form.name,
    category: 'Stones',
    tags: form.tags,
    ...(form.room !== undefined && { room: form.room }),
    build(detail) {
      const s = startSculpture()
      const roll = dice(form.seed)
      const count = Math.max(1, Math.round(form.count * [1, 0.7, 0.45][detail]))
      for (let i = 0; i < count; i++) {
        const around = TAU * roll()
        const away = i === 0 ? 0 : form.spread * Math.sqrt(roll())
        const r = (i === 0 ? form.size[1] : roll(form.size[0], form.size[1])) * (detail === 2 ? 1.15 : 1)
        const tone = LIMESTONE[Math.floor(roll() * LIMESTONE.length)]
        addLump(s, {
          seed: form.seed + i,
          centre: [sin(around) * away, r * form.flat * 0.55, cos(around) * away],
          radius: [r * roll(0.85, 1.25), r * form.flat, r * roll(0.7, 1)],
          rough: 0.34,
          scale: 1.1,
          level: detail === 0 ? 1 : 0,
          facets: true,
          colourAt: (n, bump) => mixRgb(mixRgb(tone, [0.1, 0.09, 0.08], 0.45), tone, Math.max(0, Math.min(1, 0.55 + 0.35 * n[1] + 1.2 * bump))),
        })
      }
      return [partOf(s, form.name, 0.95, false)]
    },
  }
}

const slab = stones({ id: 'slab', name: 'Limestone slab', tags: ['quarry', 'flat', 'large'], seed: 981, count: 1, size: [0.7, 0.7], spread: 0, flat: 0.3 })
const rubble = stones({ id: 'rubble', name: 'Rubble', tags: ['quarry', 'small'], seed: 1001, count: 9, size: [0.06, 0.2], spread: 0.42, flat: 0.7, room: 0.3 })

const fern: DemoAsset = {
  id: 'wall-fern',
  name: 'Wall fern',
  category: 'Ferns',
  tags: ['rock', 'shade'],
  room: 0.13,
  build(detail) {
    const s = startSculpture()
    const roll = dice(1021)
    const fronds = [9, 6, 4][detail]
    for (let i = 0; i < fronds; i++) {
      const around = TAU * ((i + 0.5 * roll()) / fronds)
      const height = roll(0.13, 0.24)
      addBlade(s, { root: [0, 0, 0], toward: around, height, width: [0.05, 0.07, 0.1][detail], bow: roll(0.7, 1.3), low: paint('#33502a'), high: mixRgb(paint('#5d8438'), paint('#86a84e'), roll()), segments: [3, 2, 1][detail] })
      // Leaflets to both sides of the full form's stems.
      if (detail === 0)
        for (let k = 1; k < 5; k++)
          for (const side of [-1, 1]) {
            const t = k / 5
            addBlade(s, { root: [sin(around) * height * t * 0.9, height * t * (1 - 0.3 * t), cos(around) * height * t * 0.9], toward: around + side * 1.25, height: 0.055 * (1.2 - t), width: 0.022, bow: 0.9, low: paint('#476b31'), high: paint('#86a84e'), segments: 1 })
          }
    }
    return [partOf(s, 'Fronds', 0.85, true)]
  },
}

export const INLAND: readonly DemoAsset[] = [birch, heather, juniper, thyme, moss, cotton, dryGrass, slab, rubble, fern]
