import { cos, sin, TAU } from '../../core/math/portable.ts'
import type { DemoAsset } from './define.ts'
import { addBlade, addTube, dice, mixRgb, paint, partOf, startSculpture } from './sculptor.ts'

/** What grows on wood and stone between the tides. */

const SHELL_LOW = paint('#8d877b')
const SHELL_HIGH = paint('#e4ddcd')

const barnacles: DemoAsset = {
  id: 'barnacles',
  name: 'Barnacles',
  category: 'Shore',
  tags: ['tidal', 'crust'],
  room: 0.05,
  build(detail) {
    const s = startSculpture()
    const roll = dice(611)
    const count = [9, 6, 3][detail]
    for (let i = 0; i < count; i++) {
      const around = TAU * roll()
      const away = 0.07 * Math.sqrt(roll())
      const r = roll(0.014, 0.032) * (detail === 2 ? 1.5 : 1)
      const high = r * roll(0.8, 1.5)
      const [x, z] = [sin(around) * away, cos(around) * away]
      addTube(s, [[x, -0.01, z], [x, high * 0.7, z], [x, high, z]], [r, r * 0.72, r * 0.34], [7, 5, 4][detail], (t) => mixRgb(SHELL_LOW, SHELL_HIGH, t))
    }
    return [partOf(s, 'Shells', 0.85, false)]
  },
}

const weed: DemoAsset = {
  id: 'wrack',
  name: 'Bladder wrack',
  category: 'Shore',
  tags: ['tidal', 'weed'],
  room: 0.06,
  build(detail) {
    const s = startSculpture()
    const roll = dice(631)
    const fronds = [11, 7, 4][detail]
    for (let i = 0; i < fronds; i++) {
      const around = TAU * ((i + roll()) / fronds)
      addBlade(s, {
        root: [sin(around) * 0.02, 0, cos(around) * 0.02],
        toward: around,
        height: roll(0.1, 0.2),
        width: roll(0.025, 0.05),
        bow: roll(1.1, 1.9),
        low: paint('#3a3a1c'),
        high: mixRgb(paint('#6d6a2a'), paint('#8b7a34'), roll()),
        segments: [4, 3, 2][detail],
      })
    }
    return [partOf(s, 'Fronds', 0.6, true)]
  },
}

export const SHORE: readonly DemoAsset[] = [barnacles, weed]
