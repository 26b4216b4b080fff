import { landGradients } from '../../grounds/terrain.ts'
import { angle, flag, phrase } from '../../kinds.ts'
import { atan, atan2, cos, DEGREE, sin, TAU } from '../../math/portable.ts'
import type { GradientRange, Range } from '../../grounds/blocks.ts'
import { boundWithin, slopesIn } from '../bounds.ts'
import type { Weigh } from './define.ts'
import { bounded, defineCondition, within } from './define.ts'
import { gradientColumns } from '../scratch.ts'

export const facing = defineCondition({
  kind: 'facing',
  label: 'Facing',
  subject: 'ground',
  help: 'Keeps to slopes that face one way, as sun, wind and rain do not come from everywhere.',
  flat: true,
  params: {
    towards: angle(180, {
      label: 'Towards',
      help: 'Where the slope looks, downhill, clockwise from north (−Z): 90° is east, 180° south.',
      max: 360,
    }),
    either: angle(60, { label: 'To either side', help: 'How far it may be turned from that to the left and to the right.', max: 180 }),
    soft: angle(20, { label: 'Soft edge', help: 'Over how many degrees it thins out towards each side.', max: 180 }),
    levelBelow: angle(2, { label: 'Level below', help: 'Ground gentler than this faces nowhere.', max: 30, step: 0.5 }),
    level: flag(false, { label: 'Level ground too', help: 'Whether ground that faces nowhere is taken as well.' }),
  },
  sentence: (p) => [...phrase`facing ${{ param: 'towards' }} ± ${{ param: 'either' }}`, ...(p.level ? [' or level'] : [])],
  prepare(p, { terrain }) {
    const [tx, tz] = [sin(p.towards * DEGREE), -cos(p.towards * DEGREE)]
    const least = sin(p.levelBelow * DEGREE) / cos(p.levelBelow * DEGREE)
    const onLevel = p.level ? 1 : 0
    const either = p.either >= 180 ? Infinity : p.either * DEGREE
    const soft = p.soft * DEGREE
    const weigh: Weigh = ({ x, z, weight, normals, count }) => {
      const { at, gradientX, gradientZ } = gradientColumns(count)
      if (normals)
        for (let i = 0; i < count; i++) {
          // Sides of a mesh face where their normals point, walls and overhangs as well.
          const per = 1 / Math.max(Math.abs(normals.y[i]), 1e-9)
          gradientX[i] = -normals.x[i] * per
          gradientZ[i] = -normals.z[i] * per
        }
      else {
        for (let i = 0; i < count; i++) at[i] = i
        landGradients(terrain, { x, z }, at, count, gradientX, gradientZ)
      }
      for (let i = 0; i < count; i++) {
        const rise = Math.sqrt(gradientX[i] * gradientX[i] + gradientZ[i] * gradientZ[i])
        if (rise === 0 || rise < least) {
          weight[i] *= onLevel
          continue
        }
        // Downhill d and wanted t are of length 1, so that the angle between them is 2 atan |d − t| / |d + t|.
        const dx = -gradientX[i] / rise
        const dz = -gradientZ[i] / rise
        const apart = Math.sqrt((dx - tx) ** 2 + (dz - tz) ** 2)
        const along = Math.sqrt((dx + tx) ** 2 + (dz + tz) ** 2)
        weight[i] *= within(along > 0 ? 2 * atan(apart / along) : Math.PI, -Infinity, either, soft)
      }
    }
    return bounded(weigh, (block) => {
      const slopes = slopesIn(block)
      const flat = { low: onLevel, high: onLevel }
      const rise = (angle: number) => sin(angle) / cos(angle)
      const anyLevel = rise(slopes.low) <= least * (1 + 1e-9) + 1e-12
      const anySteep = rise(slopes.high) >= least * (1 - 1e-9)
      if (!anySteep) return flat
      const steep = boundWithin(turnsIn(block.gradients(), tx, tz), -Infinity, either, soft)
      return anyLevel ? { low: Math.min(steep.low, onLevel), high: Math.max(steep.high, onLevel) } : steep
    })
  },
  explain(p, { terrain }, { x, z, normal }) {
    const { at, gradientX, gradientZ } = gradientColumns(1)
    at[0] = 0
    if (normal) {
      const per = 1 / Math.max(Math.abs(normal[1]), 1e-9)
      gradientX[0] = -normal[0] * per
      gradientZ[0] = -normal[2] * per
    } else landGradients(terrain, { x: Float64Array.of(x), z: Float64Array.of(z) }, at, 1, gradientX, gradientZ)
    const rise = Math.sqrt(gradientX[0] * gradientX[0] + gradientZ[0] * gradientZ[0])
    if (atan(rise) < p.levelBelow * DEGREE || rise === 0) return `a slope of ${(atan(rise) / DEGREE).toFixed(1)}°, which faces nowhere`
    const compass = atan2(-gradientX[0], gradientZ[0]) / DEGREE
    return `facing ${(compass < 0 ? compass + 360 : compass).toFixed(0)}°`
  },
})

/**
 * Angles, rad, between a direction and downhill anywhere that gradients lie in a range: a box that the middle
 * lies outside of is seen from there between two of its corners.
 */
function turnsIn({ x, z }: GradientRange, tx: number, tz: number): Range {
  const all = { low: 0, high: Math.PI }
  if (x.low <= 0 && x.high >= 0 && z.low <= 0 && z.high >= 0) return all
  const corners = [x.low, x.high].flatMap((gx) => [z.low, z.high].map((gz) => atan2(-gx * tz + gz * tx, -gx * tx - gz * tz)))
  // All within half a turn of the middle of the box.
  const middle = atan2(-(x.low + x.high) * tz + (z.low + z.high) * tx, -(x.low + x.high) * tx - (z.low + z.high) * tz)
  const turns = corners.map((corner) => wrapped(corner - middle))
  const [from, to] = [middle + Math.min(...turns) - TURN_SLACK, middle + Math.max(...turns) + TURN_SLACK]
  const meets = (angle: number) => [-TAU, 0, TAU].some((turn) => angle + turn >= from && angle + turn <= to)
  const ends = [Math.abs(wrapped(from)), Math.abs(wrapped(to))]
  return { low: meets(0) ? 0 : Math.min(...ends), high: meets(Math.PI) ? Math.PI : Math.max(...ends) }
}

const TURN_SLACK = 1e-6

/** An angle between −π and π. */
function wrapped(angle: number): number {
  return angle > Math.PI ? angle - TAU : angle < -Math.PI ? angle + TAU : angle
}
