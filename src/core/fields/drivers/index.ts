import { registry } from '../../kinds.ts'
import { aboveWater, formula, fromWater, height, patchiness, slope } from './ground.ts'
import { beacon, image, patch, path, planting } from './named.ts'

export const DRIVERS = registry('driver', [
  aboveWater,
  beacon,
  formula,
  fromWater,
  height,
  image,
  patch,
  patchiness,
  path,
  planting,
  slope,
])
