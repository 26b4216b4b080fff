import { registry } from '../kinds.ts'
import { aboveWater } from './above-water.ts'
import { facing } from './facing.ts'
import { fromWater } from './from-water.ts'
import { height } from './height.ts'
import { hollow } from './hollow.ts'
import { patch } from './patch.ts'
import { patchiness } from './patchiness.ts'
import { path } from './path.ts'
import { slope } from './slope.ts'

export const CONDITIONS = registry('condition', [
  aboveWater,
  facing,
  fromWater,
  height,
  hollow,
  patch,
  patchiness,
  path,
  slope,
])
