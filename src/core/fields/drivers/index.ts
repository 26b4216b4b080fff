import { registry } from '../../kinds.ts'
import { aboveWater, formula, fromWater, height, patchiness, slope } from './ground.ts'
import { alongRun, numberInRun, roundRing } from './run.ts'
import { beacon, image, patch, path, planting } from './named.ts'

export const DRIVERS = registry('driver', [
  aboveWater,
  alongRun,
  beacon,
  formula,
  fromWater,
  height,
  image,
  numberInRun,
  patch,
  patchiness,
  path,
  planting,
  roundRing,
  slope,
])
