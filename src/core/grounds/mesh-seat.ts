import type { Footing } from './ground.ts'
import type { Solid } from './solid.ts'
import { toOwn } from './solid.ts'

/**
 * Seats bases on a mesh: each instance sinks along its own up until no corner of its base floats,
 * by the least that does it. A corner that finds no surface within the reach of the base, as beyond
 * an edge, is left hanging. Corners alone count: what bulges between them is not looked for.
 */
export function seatOnSolid(solid: Solid): Footing['settle'] {
  const from = new Float64Array(3)
  const to = new Float64Array(3)
  return (rows, seat, size, pick, bases, { position, rotation }) => {
    const tree = solid.tree()
    for (let k = 0; k < rows.length; k++) {
      const row = rows[k]
      const at = seat[row]
      const { corners, outline, reach } = bases[pick[row]]
      const [qx, qy, qz, qw] = [rotation[4 * at], rotation[4 * at + 1], rotation[4 * at + 2], rotation[4 * at + 3]]
      // Own x, up and z as they stand in the world.
      const [xx, xy, xz] = [1 - 2 * (qy * qy + qz * qz), 2 * (qx * qy + qw * qz), 2 * (qx * qz - qw * qy)]
      const [ux, uy, uz] = [2 * (qx * qy - qw * qz), 1 - 2 * (qx * qx + qz * qz), 2 * (qy * qz + qw * qx)]
      const [zx, zy, zz] = [2 * (qx * qz + qw * qy), 2 * (qy * qz - qw * qx), 1 - 2 * (qx * qx + qy * qy)]
      const [px, py, pz] = [position[3 * at], position[3 * at + 1], position[3 * at + 2]]
      const high = reach * size[row]
      let sink = 0
      for (let n = 0; n < corners; n++) {
        const bx = outline[2 * n] * size[row]
        const bz = outline[2 * n + 1] * size[row]
        const x = px + xx * bx + zx * bz
        const y = py + xy * bx + zy * bz
        const z = pz + xz * bx + zz * bz
        toOwn(solid, x + ux * high, y + uy * high, z + uz * high, from)
        toOwn(solid, x - ux * high, y - uy * high, z - uz * high, to)
        const length = Math.sqrt((to[0] - from[0]) ** 2 + (to[1] - from[1]) ** 2 + (to[2] - from[2]) ** 2)
        if (!(length > 0)) continue
        const away = tree.first(from[0], from[1], from[2], (to[0] - from[0]) / length, (to[1] - from[1]) / length, (to[2] - from[2]) / length)
        const gap = (away / length) * 2 * high - high
        if (away <= length && gap > sink) sink = gap
      }
      position[3 * at] = px - ux * sink
      position[3 * at + 1] = py - uy * sink
      position[3 * at + 2] = pz - uz * sink
    }
  }
}
