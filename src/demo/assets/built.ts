import { sin } from '../../core/math/portable.ts'
import type { DemoAsset } from './define.ts'
import { addBox, addTube, dice, mixRgb, paint, partOf, startSculpture } from './sculptor.ts'

/** What people built of wood and stone by the shore: planks, rails, stakes, blocks, steps, a lantern. */

const GREY = paint('#9a9182')
const DARK = paint('#5d5346')
const WEED = paint('#3d4a26')
const STONE = paint('#8d8a80')
const PALE = paint('#b3ac9a')
const MOSS = paint('#6b7250')
const IRON = paint('#2f3335')
const HAY = paint('#8a7a45')
const STRAW = paint('#cdb978')
const GLOW = paint('#f0c874')

const plank: DemoAsset = {
  id: 'plank',
  name: 'Plank',
  category: 'Built',
  tags: ['wood', 'boardwalk', 'flat'],
  room: 0.1,
  build() {
    const s = startSculpture()
    addBox(s, [-0.72, 0, -0.105], [0.72, 0.05, 0.105], mixRgb(GREY, DARK, 0.3))
    // A paler strip where feet go, and the heads of nails.
    addBox(s, [-0.4, 0.05, -0.085], [0.4, 0.054, 0.085], mixRgb(GREY, PALE, 0.5))
    for (const x of [-0.6, 0.6]) addBox(s, [x - 0.012, 0.05, -0.012], [x + 0.012, 0.056, 0.012], IRON)
    return [partOf(s, 'Grey planks', 0.92, false)]
  },
}

const rail: DemoAsset = {
  id: 'rail',
  name: 'Handrail',
  category: 'Built',
  tags: ['wood', 'fence', 'boardwalk'],
  room: 0.1,
  build(detail) {
    const s = startSculpture()
    addTube(s, [[-1, 0.04, 0], [0, 0.035, 0.01], [1, 0.04, 0]], [0.04, 0.038, 0.04], [7, 5, 4][detail], (t) => mixRgb(GREY, DARK, 0.3 + 0.2 * sin(9 * t)))
    return [partOf(s, 'Rail', 0.92, false)]
  },
}

const stake: DemoAsset = {
  id: 'stake',
  name: 'Stake',
  category: 'Built',
  tags: ['wood', 'upright', 'fishing'],
  room: 0.08,
  build(detail) {
    const s = startSculpture()
    addTube(s, [[0, 0, 0], [0.015, 0.8, 0.01], [-0.01, 1.5, 0], [0.01, 2.3, -0.01]], [0.05, 0.048, 0.042, 0.034], [7, 5, 4][detail], (t, side) => (t < 0.66 ? mixRgb(WEED, DARK, 0.35 + 0.1 * (side % 2)) : mixRgb(DARK, GREY, 0.35 + 0.3 * (side % 2))))
    return [partOf(s, 'Stake', 0.95, false)]
  },
}

const haycock: DemoAsset = {
  id: 'haycock',
  name: 'Haycock',
  category: 'Built',
  tags: ['hay', 'mowing', 'heap'],
  room: 0.75,
  build(detail) {
    const s = startSculpture()
    const throwOf = dice(83)
    const sides = [15, 10, 7][detail]
    const shades = Array.from({ length: sides }, () => throwOf())
    // Settled at its foot, combed down at its top.
    addTube(s, [[0, 0, 0], [0.01, 0.28, 0], [0.02, 0.62, 0.01], [0, 0.95, 0.02], [-0.01, 1.2, 0.01], [0, 1.3, 0]], [0.7, 0.74, 0.62, 0.4, 0.16, 0.02], sides, (t, side) => mixRgb(HAY, STRAW, Math.min(1, 0.25 + 0.5 * t + 0.45 * (shades[side % sides] - 0.5))))
    return [partOf(s, 'Hay', 1, false)]
  },
}

const block: DemoAsset = {
  id: 'wall-block',
  name: 'Wall block',
  category: 'Built',
  tags: ['stone', 'wall', 'quay'],
  room: 0.3,
  build() {
    const s = startSculpture()
    const roll = dice(4141)
    addBox(s, [-0.24, 0, -0.5], [0.24, 0.42, 0.5], mixRgb(STONE, PALE, 0.4 * roll()))
    // Faces that are left rough stand a little out of the joints.
    for (const side of [-1, 1]) addBox(s, [side > 0 ? 0.24 : -0.285, 0.03, -0.465], [side > 0 ? 0.285 : -0.24, 0.39, 0.465], mixRgb(mixRgb(STONE, PALE, 0.5), MOSS, 0.25))
    return [partOf(s, 'Block', 0.97, false)]
  },
}

const step: DemoAsset = {
  id: 'stone-step',
  name: 'Stone step',
  category: 'Built',
  tags: ['stone', 'stairs', 'quay'],
  room: 0.3,
  build() {
    const s = startSculpture()
    addBox(s, [-0.26, 0, -0.8], [0.26, 0.2, 0.8], mixRgb(STONE, MOSS, 0.2))
    addBox(s, [-0.2, 0.2, -0.5], [0.22, 0.206, 0.5], mixRgb(STONE, PALE, 0.7))
    return [partOf(s, 'Step', 0.97, false)]
  },
}

const lantern: DemoAsset = {
  id: 'lantern',
  name: 'Lantern',
  category: 'Built',
  tags: ['iron', 'light', 'hut'],
  room: 0.15,
  build(detail) {
    const s = startSculpture()
    addBox(s, [-0.09, 0, -0.09], [0.09, 0.03, 0.09], IRON)
    addBox(s, [-0.065, 0.03, -0.065], [0.065, 0.2, 0.065], GLOW)
    if (detail < 2) for (const x of [-0.075, 0.075]) for (const z of [-0.075, 0.075]) addBox(s, [x - 0.01, 0.03, z - 0.01], [x + 0.01, 0.2, z + 0.01], IRON)
    addBox(s, [-0.1, 0.2, -0.1], [0.1, 0.225, 0.1], IRON)
    addBox(s, [-0.05, 0.225, -0.05], [0.05, 0.27, 0.05], IRON)
    return [partOf(s, 'Iron and light', 0.6, false)]
  },
}

export const BUILT: readonly DemoAsset[] = [plank, rail, stake, block, step, lantern, haycock]
