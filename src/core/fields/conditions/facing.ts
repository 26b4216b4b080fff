import { landGradients } from '../../grounds/terrain.ts'
import { angle, flag, phrase } from '../../kinds.ts'
import { atan, atan2, cos, DEGREE, sin } from '../../math/portable.ts'
import { defineCondition, within } from './define.ts'
import { gradientColumns } from '../scratch.ts'

export const facing = defineCondition({
  kind: 'facing',
  label: 'Facing',
  help: 'Keeps to slopes that face one way, as sun, wind and rain do not come from everywhere.',
  flat: true,
  params: {
    towards: angle(180, {
      label: 'Towards',
      help: 'Where the slope looks, downhill, clockwise from north (−Z): 90° is east, 180° south.',
      max: 360,
    }),
    either: angle(60, { label: 'To either side', help: 'How far it may be turned from that to the left and to the right.', max: 180 }),
    soft: angle(20, { label: 'Soft ends', help: 'Over how many degrees it thins out towards each side.', max: 180 }),
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
    return ({ x, z, weight, normals, count }) => {
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
