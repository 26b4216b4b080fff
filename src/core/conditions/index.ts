import { registry } from '../kinds.ts'
import { aboveWater } from './above-water.ts'
import { height } from './height.ts'
import { patch } from './patch.ts'
import { patchiness } from './patchiness.ts'
import { path } from './path.ts'
import { slope } from './slope.ts'

export const CONDITIONS = registry('condition', [aboveWater, height, patch, patchiness, path, slope])
