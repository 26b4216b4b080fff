import { cos, sin, TAU } from '../../core/math/portable.ts'
import type { DemoAsset } from './define.ts'
import type { Rgb, Sculpture } from './sculptor.ts'
import { addBlade, addLump, addTube, addTuft, dice, mixRgb, paint, partOf, startSculpture, vertex } from './sculptor.ts'

const STALK = paint('#5d6a35')

/** Leaves as a low tuft, stalks with small round heads. */
function flower(form: {
  id: string
  name: string
  tags: readonly string[]
  seed: number
  leaves: number
  leafHeight: readonly [number, number]
  leafWidth: number
  leafColour: string
  stalks: number
  stalkHeight: readonly [number, number]
  spread: number
  head: number
  heads: readonly string[]
  room: number
}): DemoAsset {
  return {
    id: form.id,
    name: form.name,
    category: 'Flowers',
    tags: form.tags,
    room: form.room,
    build(detail) {
      const s = startSculpture()
      const green = paint(form.leafColour)
      const fewer = [1, 0.45, 0.25][detail]
      addTuft(s, {
        seed: form.seed,
        blades: Math.max(3, Math.round(form.leaves * fewer)),
        spread: form.spread * 0.6,
        height: form.leafHeight,
        width: form.leafWidth / Math.sqrt(fewer),
        bow: [0.4, 1],
        low: mixRgb(green, [0.02, 0.03, 0.01], 0.4),
        high: green,
        dry: paint('#8a7a4a'),
        segments: detail === 0 ? 2 : 1,
      })
      const roll = dice(form.seed + 1)
      // Each head keeps its stalk, and many stay: few large ones without would look like scraps in the air.
      const heads = [1, 0.55, 0.6][detail]
      const stalks = Math.max(2, Math.round(form.stalks * heads))
      for (let i = 0; i < stalks; i++) {
        const around = TAU * ((i + roll()) / stalks)
        const away = form.spread * Math.sqrt(roll())
        const height = roll(form.stalkHeight[0], form.stalkHeight[1])
        const tip: [number, number, number] = [sin(around) * away, height, cos(around) * away]
        const colour = paint(form.heads[Math.floor(roll() * form.heads.length)])
        const root: [number, number, number] = [tip[0] * 0.4, 0, tip[2] * 0.4]
        if (detail === 0) addTube(s, [root, tip], [0.006, 0.004], 3, () => STALK)
        else if (detail === 1) addStalk(s, root, tip, 0.022)
        const size = (form.head * roll(0.8, 1.25)) / Math.sqrt(heads)
        if (detail === 2) addKite(s, root, tip, size, colour)
        else
          addLump(s, {
            seed: form.seed + i,
            centre: tip,
            radius: [size, size * 0.75, size],
            rough: 0.25,
            scale: 3,
            level: 0,
            colourAt: (n) => mixRgb(mixRgb(colour, [0, 0, 0], 0.35), colour, 0.5 + 0.5 * n[1]),
          })
      }
      return [partOf(s, form.name, 0.8, true)]
    },
  }
}

type Place = readonly [number, number, number]

/** Across a stalk in plan, of length 1. */
function acrossOf(root: Place, tip: Place): readonly [number, number] {
  const [x, z] = [tip[0] - root[0], tip[2] - root[2]]
  const length = Math.sqrt(x * x + z * z)
  return length > 0 ? [z / length, -x / length] : [1, 0]
}

const UP: Place = [0, 1, 0]

/** A stalk as one face. */
function addStalk(s: Sculpture, root: Place, tip: Place, width: number): void {
  const [ax, az] = acrossOf(root, tip)
  const half = 0.5 * width
  s.indices.push(
    vertex(s, [root[0] - ax * half, root[1], root[2] - az * half], UP, STALK),
    vertex(s, [root[0] + ax * half, root[1], root[2] + az * half], UP, STALK),
    vertex(s, [...tip], UP, STALK),
  )
}

/** A stalk with its head as a kite: green at its foot, the head's colour where it is widest and above. */
function addKite(s: Sculpture, root: Place, tip: Place, size: number, colour: Rgb): void {
  const [ax, az] = acrossOf(root, tip)
  const shade = mixRgb(colour, [0, 0, 0], 0.25)
  const foot = vertex(s, [...root], UP, STALK)
  const left = vertex(s, [tip[0] - ax * 0.8 * size, tip[1] - 0.3 * size, tip[2] - az * 0.8 * size], UP, shade)
  const right = vertex(s, [tip[0] + ax * 0.8 * size, tip[1] - 0.3 * size, tip[2] + az * 0.8 * size], UP, colour)
  const top = vertex(s, [tip[0], tip[1] + 0.7 * size, tip[2]], UP, colour)
  s.indices.push(foot, right, left, left, right, top)
}

export const FLOWERS: readonly DemoAsset[] = [
  flower({
    id: 'sea-lavender',
    name: 'Sea lavender',
    tags: ['marsh', 'purple'],
    seed: 101,
    leaves: 9,
    leafHeight: [0.1, 0.18],
    leafWidth: 0.06,
    leafColour: '#6d7f45',
    stalks: 14,
    stalkHeight: [0.2, 0.36],
    spread: 0.17,
    head: 0.028,
    heads: ['#9a7fc4', '#8468b4', '#b39ad6'],
    room: 0.16,
  }),
  flower({
    id: 'thrift',
    name: 'Thrift',
    tags: ['marsh', 'pink', 'cushion'],
    seed: 131,
    leaves: 14,
    leafHeight: [0.06, 0.12],
    leafWidth: 0.022,
    leafColour: '#5f7a3c',
    stalks: 9,
    stalkHeight: [0.13, 0.22],
    spread: 0.12,
    head: 0.026,
    heads: ['#e08bb0', '#d0709c', '#eba9c4'],
    room: 0.12,
  }),
  {
    id: 'samphire',
    name: 'Samphire',
    category: 'Flowers',
    tags: ['mud', 'succulent', 'red'],
    room: 0.1,
    build(detail) {
      const s = startSculpture()
      const roll = dice(151)
      const arms = [11, 6, 3][detail]
      const green = paint('#6f8f3a')
      const red = paint('#a4533c')
      for (let i = 0; i < arms; i++) {
        const around = TAU * ((i + roll()) / arms)
        const out = roll(0.03, 0.1)
        const height = roll(0.1, 0.24)
        const blush = roll() ** 2
        const colour = (t: number): Rgb => mixRgb(green, red, blush * t)
        const tip: [number, number, number] = [sin(around) * out, height, cos(around) * out]
        if (detail === 2)
          addBlade(s, { root: [0, 0, 0], toward: around, height, width: 0.07, bow: 0.3, low: green, high: colour(1), segments: 1 })
        else addTube(s, [[0, -0.01, 0], [tip[0] * 0.6, height * 0.5, tip[2] * 0.6], tip], [0.011, 0.013, 0.006], detail === 0 ? 5 : 3, colour)
      }
      return [partOf(s, 'Samphire', 0.6, detail === 2)]
    },
  },
]
