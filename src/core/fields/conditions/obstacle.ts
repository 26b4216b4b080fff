import type { Solid } from '../../grounds/solid.ts'
import { toOwn } from '../../grounds/solid.ts'
import { choice, length, ref } from '../../kinds.ts'
import { thingOf } from '../../things/define.ts'
import { MESH } from '../../things/mesh.ts'
import type { Sites } from '../../columns.ts'
import type { GroundBlock } from '../../grounds/blocks.ts'
import type { Rect } from '../../grounds/terrain.ts'
import { ANYTHING, EVERYTHING } from '../bounds.ts'
import { bounded, defineCondition, fadeIn, metres } from './define.ts'

export const obstacle = defineCondition({
  kind: 'obstacle',
  label: 'Obstacle',
  subject: 'things',
  help: 'Keeps out of a mesh that stands in the meadow, judged in three dimensions: things may stand under a raised deck.',
  dear: true,
  params: {
    mesh: ref('mesh', { label: 'Mesh', help: 'Which one; bring meshes in through the drawer Ground.' }),
    margin: length(0.3, { label: 'Margin', help: 'How far it keeps from the mesh on all sides.', max: 200, step: 0.05 }),
    tall: length(1, { label: 'Free above', help: 'How much above the ground must be free: about the height of what grows.', max: 200, step: 0.1 }),
    soft: length(0, { label: 'Soft edge', help: 'Over how many metres it thins out towards the margin.', max: 200, step: 0.1 }),
    precision: choice(
      'shape',
      [
        { value: 'shape', label: 'its very shape' },
        { value: 'box', label: 'a box around it' },
        { value: 'footprint', label: 'all above and below' },
      ],
      { label: 'Judged by', help: 'Its very shape; a box around it, quicker and wider; or its outline seen from above, whatever the height.' },
    ),
  },
  sentence: () => ['clear of ', { param: 'mesh' }, ' by ', { param: 'margin' }],
  reach: (p) => p.margin + p.soft,
  prepare(p, { things }) {
    const solid = thingOf(things, MESH, p.mesh)
    if (!solid) return () => undefined
    const limit = p.margin + p.soft
    const distance = DISTANCES[p.precision](solid, p.tall, limit)
    const { bounds } = solid
    const tall = p.precision === 'footprint' ? Infinity : p.tall
    // Above and below it, and beside it, all is taken.
    const [lowest, highest] = [bounds[1] - limit - tall, bounds[4] + limit + (tall === Infinity ? 1e9 : 0)]
    const beside = ({ x0, z0, x1, z1 }: Rect) => x0 > bounds[3] + limit || x1 < bounds[0] - limit || z0 > bounds[5] + limit || z1 < bounds[2] - limit
    const clear = (block: GroundBlock) => beside(block) || block.heights().low > highest || block.heights().high < lowest
    const weigh = ({ x, y, z, weight, count }: Sites) => {
      for (let i = 0; i < count; i++) {
        if (x[i] < bounds[0] - limit || x[i] > bounds[3] + limit || z[i] < bounds[2] - limit || z[i] > bounds[5] + limit) continue
        if (!(weight[i] > 0) || y[i] > bounds[4] + limit + (tall === Infinity ? 1e9 : 0) || y[i] + tall < bounds[1] - limit) continue
        weight[i] *= fadeIn(distance(x[i], y[i], z[i]) - p.margin, p.soft)
      }
    }
    return bounded(weigh, (block) => (clear(block) ? EVERYTHING : ANYTHING))
  },
  explain(p, { things }, { x, y, z }) {
    const solid = thingOf(things, MESH, p.mesh)
    if (!solid) return 'no mesh is chosen'
    const away = DISTANCES[p.precision](solid, p.tall, 1000)(x, y, z)
    return away < 0 ? `inside “${solid.placed.name}”, or nearer than the ${metres(p.margin)} that must be clear` : away < Infinity ? `${metres(away)} clear of “${solid.placed.name}”` : `far from “${solid.placed.name}”`
  },
})

/** Distance, m, of what stands at a place to the mesh; below 0 inside, infinite beyond the limit. */
type Distance = (x: number, y: number, z: number) => number

const place = new Float64Array(3)

const DISTANCES: Readonly<Record<'shape' | 'box' | 'footprint', (solid: Solid, tall: number, limit: number) => Distance>> = {
  shape(solid, tall, limit) {
    const tree = solid.tree()
    const { size } = solid.placed
    // Places along the height half a limit apart: what lies between them is off by 3 % of the limit at most.
    const steps = Math.max(1, Math.min(64, Math.ceil(tall / Math.max(0.1, limit / 2))))
    const clearance = clearanceOf(solid, tall, limit)
    return (x, y, z) => {
      const known = clearance(x, y, z)
      if (known !== 0) return known
      if (pierced(solid, x, y, z, tall)) return -1
      // A line that meets no surface is inside from end to end, or not at all.
      toOwn(solid, x, y, z, place)
      if (tree.inside(place[0], place[1], place[2])) return -1
      let nearest = Infinity
      for (let k = 0; k <= steps; k++) {
        toOwn(solid, x, y + (tall * k) / steps, z, place)
        nearest = Math.min(nearest, tree.distance(place[0], place[1], place[2], limit / size) * size)
      }
      return nearest
    }
  },
  box(solid, tall) {
    const { box } = solid
    const { size } = solid.placed
    return (x, y, z) => {
      let nearest = Infinity
      for (let k = 0; k <= 4; k++) {
        toOwn(solid, x, y + (tall * k) / 4, z, place)
        let squared = 0
        let inner = -Infinity
        for (let c = 0; c < 3; c++) {
          const out = Math.max(box[c] - place[c], place[c] - box[c + 3])
          if (out > 0) squared += out * out
          inner = Math.max(inner, out)
        }
        nearest = Math.min(nearest, (squared > 0 ? Math.sqrt(squared) : inner) * size)
      }
      return nearest
    }
  },
  footprint(solid, _tall, limit) {
    const tree = solid.tree()
    const [low, high] = [solid.bounds[1], solid.bounds[4]]
    // Rays straight down, on the place itself and on rings around it up to the limit.
    const rings = limit > 0 ? 4 : 0
    const own = new Float64Array(3)
    const hit = (x: number, z: number) => {
      toOwn(solid, x, high + 1, z, place)
      toOwn(solid, x, low - 1, z, own)
      const length = Math.sqrt((own[0] - place[0]) ** 2 + (own[1] - place[1]) ** 2 + (own[2] - place[2]) ** 2)
      return tree.first(place[0], place[1], place[2], (own[0] - place[0]) / length, (own[1] - place[1]) / length, (own[2] - place[2]) / length) < length
    }
    return (x, _y, z) => {
      if (hit(x, z)) return -1
      for (let ring = 1; ring <= rings; ring++) {
        const r = (limit * ring) / rings
        for (const [dx, dz] of ROUND) if (hit(x + dx * r, z + dz * r)) return r
      }
      return Infinity
    }
  },
}

/** Cells along the longest side of a mesh that are known to be clear of its surface as a whole, or not. */
const CELLS = 16

/**
 * Tells at once of most places: −1 where the whole height is inside, Infinity where it is outside and
 * the surface beyond the limit, 0 where that takes a closer look. The middle of each cell of a lattice,
 * fixed to the mesh so that all tiles agree, is asked once how far from it the surface is.
 */
function clearanceOf(solid: Solid, tall: number, limit: number): Distance {
  const [x0, y0, z0, x1, y1, z1] = solid.bounds
  const side = Math.max(x1 - x0, y1 - y0, z1 - z0) / CELLS
  const across = (length: number) => Math.ceil((length + 2 * limit) / side) + 1
  const [nx, ny, nz] = [across(x1 - x0), across(y1 - y0 + tall), across(z1 - z0)]
  // A limit far wider than the mesh leaves no place clear.
  if (!(side > 0) || limit > CELLS * side) return () => 0
  const [fromX, fromY, fromZ] = [x0 - limit, y0 - limit - 0.5 * tall, z0 - limit]
  const clear = new Float64Array(nx * ny * nz).fill(NaN)
  const tree = solid.tree()

  /** Radius of the clear ball around the middle of a cell, m; below 0 inside, 0 when there is none. */
  function measure(x: number, y: number, z: number): number {
    toOwn(solid, x, y, z, place)
    const radius = tree.distance(place[0], place[1], place[2], Infinity) * solid.placed.size - limit
    if (radius < 0.5 * tall) return 0
    return tree.inside(place[0], place[1], place[2]) ? -radius : radius
  }

  return (x, y, z) => {
    const i = Math.floor((x - fromX) / side)
    const j = Math.floor((y + 0.5 * tall - fromY) / side)
    const k = Math.floor((z - fromZ) / side)
    if (i < 0 || j < 0 || k < 0 || i >= nx || j >= ny || k >= nz) return 0
    const [cx, cy, cz] = [fromX + (i + 0.5) * side, fromY + (j + 0.5) * side, fromZ + (k + 0.5) * side]
    const cell = (k * ny + j) * nx + i
    if (clear[cell] !== clear[cell]) clear[cell] = measure(cx, cy, cz)
    const radius = Math.abs(clear[cell])
    const up = Math.max(Math.abs(y - cy), Math.abs(y + tall - cy))
    if ((x - cx) ** 2 + up * up + (z - cz) ** 2 >= radius * radius) return 0
    return clear[cell] < 0 ? -1 : Infinity
  }
}

const D = 0.7071067811865476
const ROUND = [[1, 0], [D, D], [0, 1], [-D, D], [-1, 0], [-D, -D], [0, -1], [D, -D]] as const

/** Whether the line from the ground up meets the mesh. */
function pierced(solid: Solid, x: number, y: number, z: number, tall: number): boolean {
  toOwn(solid, x, y, z, place)
  const [ox, oy, oz] = place
  toOwn(solid, x, y + tall, z, place)
  const [dx, dy, dz] = [place[0] - ox, place[1] - oy, place[2] - oz]
  const length = Math.sqrt(dx * dx + dy * dy + dz * dz)
  return length > 0 && solid.tree().first(ox, oy, oz, dx / length, dy / length, dz / length) <= length
}
