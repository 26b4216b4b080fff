import { registry } from '../../kinds.ts'
import { aboveWater } from './above-water.ts'
import { facing } from './facing.ts'
import { formula } from './formula.ts'
import { fromWater } from './from-water.ts'
import { height } from './height.ts'
import { hollow } from './hollow.ts'
import { image } from './image.ts'
import { obstacle } from './obstacle.ts'
import { painted } from './painted.ts'
import { patch } from './patch.ts'
import { patchiness } from './patchiness.ts'
import { path } from './path.ts'
import { planting } from './planting.ts'
import { slope } from './slope.ts'
import { view } from './view.ts'

export const CONDITIONS = registry('condition', [
  aboveWater,
  facing,
  formula,
  fromWater,
  height,
  hollow,
  image,
  obstacle,
  painted,
  patch,
  patchiness,
  path,
  planting,
  slope,
  view,
])
