import { BUILT } from './built.ts'
import type { DemoAsset } from './define.ts'
import { FLOWERS } from './flowers.ts'
import { GRASSES } from './grasses.ts'
import { SHORE } from './shore.ts'
import { STONES } from './stones.ts'
import { WOODY } from './woody.ts'

export const DEMO_ASSETS: readonly DemoAsset[] = [...GRASSES, ...FLOWERS, ...WOODY, ...STONES, ...SHORE, ...BUILT]
