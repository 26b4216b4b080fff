import type { SiteNormals, Sites } from '../columns.ts'
import type { StanceStage } from '../kernels/kernels.ts'
import type { Footing } from './ground.ts'

/** The footing of sites that carry heights and normals of their own; bases are seated once they are written. */
export function ownFooting(settle: Footing['settle']): Footing {
  return {
    lay(sites, order, stage, { normals }) {
      layHeights(sites, order, stage)
      if (normals && sites.normals) layNormals(sites.normals, order, stage)
    },
    sink: (_sites, order, _pick, _bases, stage) => void stage.sink.fill(0, 0, order.length),
    settle,
  }
}

/** Lays out the heights that sites know. */
function layHeights({ y }: Sites, order: Uint32Array, { height }: StanceStage): void {
  for (let k = 0; k < order.length; k++) height[k] = y[order[k]]
}

function layNormals({ x, y, z }: SiteNormals, order: Uint32Array, { normalX, normalY, normalZ }: StanceStage): void {
  for (let k = 0; k < order.length; k++) {
    const i = order[k]
    normalX[k] = x[i]
    normalY[k] = y[i]
    normalZ[k] = z[i]
  }
}
