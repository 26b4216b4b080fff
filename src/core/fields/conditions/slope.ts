import { slopeAt } from '../../grounds/pick.ts'
import type { Steepness } from '../../grounds/steepness.ts'
import { rowsOnSteepBlocks, steepnessOf } from '../../grounds/steepness.ts'
import { landGradients } from '../../grounds/terrain.ts'
import { angle, span } from '../../kinds.ts'
import type { SiteNormals, Sites } from '../../columns.ts'
import type { Terrain } from '../../grounds/terrain.ts'
import { atan, atan2, cos, DEGREE, sin } from '../../math/portable.ts'
import { boundWithin, slopesIn } from '../bounds.ts'
import { bounded, defineCondition, spanPhrase, within } from './define.ts'
import { gradientColumns } from '../scratch.ts'

export const slope = defineCondition({
  kind: 'slope',
  label: 'Slope',
  subject: 'ground',
  help: 'Keeps to ground between two steepnesses, measured from level.',
  flat: true,
  params: {
    slope: span('deg', null, 35, {
      label: 'Slope',
      help: 'Gentlest and steepest ground that is taken; 0° is level, 90° a wall, more an overhang of a mesh.',
      min: 0,
      max: 180,
      step: 1,
      open: true,
      shownOver: 'slope',
    }),
    soft: angle(4, { label: 'Soft edge', help: 'Over how many degrees it thins out towards each end.', max: 45 }),
  },
  sentence: (p) => spanPhrase('slope', 'on slopes ', p.slope, '', 'on any slope'),
  prepare(p, { terrain }) {
    const from = p.slope.from === null || p.slope.from <= 0 ? -Infinity : p.slope.from * DEGREE
    const to = p.slope.to === null ? Infinity : p.slope.to * DEGREE
    const soft = p.soft * DEGREE
    // Squared rises between which the weight is just 1, so that most sites need no arc tangent, and
    // those in blocks that are nowhere steeper not even a gradient.
    const gentlest = from === -Infinity ? -1 : squaredRise(from + soft)
    const steepest = to === Infinity ? Infinity : squaredRise(to - soft)
    const steepness = steepnessOf(terrain)
    const limits = { from, to, soft, gentlest, steepest }
    return bounded(
      (sites) => weigh(sites, terrain, steepness, limits),
      (block) => boundWithin(slopesIn(block), from, to, soft),
    )
  },
  explain(_p, { terrain }, { x, z, normal }) {
    const degrees = normal ? atan2(Math.sqrt(normal[0] * normal[0] + normal[2] * normal[2]), normal[1]) / DEGREE : slopeAt(terrain, x, z)
    return `a slope of ${degrees.toFixed(1)}°`
  },
})

interface Limits {
  /** rad. */
  readonly from: number
  readonly to: number
  readonly soft: number
  /** Squared rises between which the weight is 1. */
  readonly gentlest: number
  readonly steepest: number
}

// At module level: made anew by every preparing, it would be compiled and optimised anew each time.
function weigh({ x, z, weight, normals, count }: Sites, terrain: Terrain, steepness: Steepness, { from, to, soft, gentlest, steepest }: Limits): void {
  if (normals) {
    for (let i = 0; i < count; i++) weight[i] *= within(tiltOf(normals, i), from, to, soft)
    return
  }
  const { at, gradientX, gradientZ } = gradientColumns(count)
  const open = rowsOnSteepBlocks(terrain, steepness, x, z, count, gentlest < 0 ? steepest : -1, at)
  landGradients(terrain, { x, z }, at, open, gradientX, gradientZ)
  for (let k = 0; k < open; k++) {
    const gx = gradientX[k]
    const gz = gradientZ[k]
    const rise = gx * gx + gz * gz
    if (rise > gentlest && rise < steepest) continue
    weight[at[k]] *= within(atan(Math.sqrt(rise)), from, to, soft)
  }
}

/** Angle of a site's normal from upright, rad: more than a right angle below an overhang. */
export function tiltOf(normals: SiteNormals, i: number): number {
  const { x, y, z } = normals
  return atan2(Math.sqrt(x[i] * x[i] + z[i] * z[i]), y[i])
}

/** tan² of an angle in rad; −1 below level, infinite from upright on. */
function squaredRise(radians: number): number {
  if (radians <= 0) return -1
  if (radians >= Math.PI / 2) return Infinity
  const tan = sin(radians) / cos(radians)
  return tan * tan
}
