import type { Registry } from '../core/kinds.ts'
import { registry } from '../core/kinds.ts'
import { ask } from './ask.ts'
import { choose } from './choose/choose.ts'
import type { ToolKind } from './define.ts'
import { draw } from './draw.ts'
import { look } from './look.ts'
import { measure } from './measure.ts'
import { place } from './place/place.ts'
import { sow } from './sow/sow.ts'
import { strew } from './strew.ts'

export const TOOLS: Registry<ToolKind> = registry('tool', [
  ask,
  choose,
  draw,
  look,
  measure,
  place,
  sow,
  strew,
])

/** The tools in the order of the strip. */
export const TOOL_STRIP: readonly ToolKind[] = [...TOOLS.all].sort((a, b) => a.place - b.place)
