import { fractal2 } from '../core/math/noise.ts'
import { cos, sin } from '../core/math/portable.ts'
import type { PlacedMesh } from '../core/meadow.ts'
import type { BuiltPart } from '../formats/asset-build.ts'
import type { DemoMesh } from './keep-meshes.ts'
import { keepMeshes } from './keep-meshes.ts'
import { addBox, addFlat, addTube, dice, mixRgb, paint, partOf, startSculpture } from './assets/sculptor.ts'

/** What stands in the demo: a hut to keep out of, and a wrecked hull to grow on. */

type Vec = readonly [number, number, number]

const TARRED = paint('#4a3d33')
const WEATHERED = paint('#8b7a63')
const SHINGLES = paint('#6d6a66')
const LIME = paint('#cfc6b2')

/** A fishers' hut on short posts, boarded, with a shingled roof: 5.2 × 4 m, its floor 0.9 m over its foot. */
function buildHut(): BuiltPart[] {
  const s = startSculpture()
  const roll = dice(771)
  const [wide, deep, floor, wall, ridge] = [2.6, 2, 0.9, 3.1, 4.5]
  for (const x of [-2.3, 0, 2.3]) for (const z of [-1.7, 1.7]) addBox(s, [x - 0.12, -0.8, z - 0.12], [x + 0.12, floor, z + 0.12], mixRgb(TARRED, WEATHERED, roll()))
  addBox(s, [-wide - 0.15, floor - 0.12, -deep - 0.15], [wide + 0.15, floor, deep + 0.15], WEATHERED)
  const board = 0.26
  for (let x = -wide; x < wide - 0.01; x += board)
    for (const side of [-1, 1]) {
      const door = side === 1 && x > -0.55 && x < 0.5
      const colour = door ? mixRgb(paint('#5f7f83'), WEATHERED, 0.35 * roll()) : mixRgb(TARRED, WEATHERED, 0.25 + 0.6 * roll())
      const out = (door ? 0.02 : 0.05) + 0.02 * roll()
      const z = side * deep
      addBox(s, [x + 0.005, floor, Math.min(z, z + side * out)], [Math.min(x + board, wide) - 0.005, wall, Math.max(z, z + side * out)], colour)
    }
  for (let z = -deep; z < deep - 0.01; z += board)
    for (const side of [-1, 1]) {
      const x = side * wide
      const out = 0.05 + 0.02 * roll()
      // Boards of the gables reach up to the roof.
      const top = wall + (ridge - wall) * (1 - Math.abs(z + board / 2) / (deep + 0.2))
      addBox(s, [Math.min(x, x + side * out), floor, z + 0.005], [Math.max(x, x + side * out), top, Math.min(z + board, deep) - 0.005], mixRgb(TARRED, WEATHERED, 0.25 + 0.6 * roll()))
    }
  addBox(s, [-wide - 0.075, 1.75, -0.45], [-wide - 0.02, 2.5, 0.45], paint('#2f3940'))
  // Roof: rows of shingles from the eaves up, each row over the one below.
  const rows = 9
  for (const side of [-1, 1])
    for (let r = 0; r < rows; r++)
      for (let x = -wide - 0.35; x < wide + 0.3; x += 0.5) {
        const t0 = r / rows
        const t1 = (r + 1.25) / rows
        const z = (t: number) => side * (deep + 0.35) * (1 - Math.min(t, 1))
        const y = (t: number) => wall - 0.2 + (ridge + 0.15 - (wall - 0.2)) * Math.min(t, 1)
        const lift = 0.05 - 0.02 * (r % 2)
        const x1 = Math.min(x + 0.49, wide + 0.35)
        const corners: Vec[] = [[x, y(t0) + lift + 0.03, z(t0)], [x1, y(t0) + lift + 0.03, z(t0)], [x1, y(t1) + lift, z(t1)], [x, y(t1) + lift, z(t1)]]
        addFlat(s, side === 1 ? corners : [...corners].reverse(), mixRgb(SHINGLES, roll() < 0.2 ? paint('#7b7f58') : TARRED, 0.45 * roll()))
      }
  // The roof's underside closes it.
  for (const side of [-1, 1]) {
    const corners: Vec[] = [[-wide - 0.35, wall - 0.22, side * (deep + 0.35)], [wide + 0.35, wall - 0.22, side * (deep + 0.35)], [wide + 0.35, ridge + 0.12, 0], [-wide - 0.35, ridge + 0.12, 0]]
    addFlat(s, side === 1 ? [...corners].reverse() : corners, TARRED)
  }
  addTube(s, [[1.5, 3.6, -0.9], [1.5, 5.1, -0.9]], [0.13, 0.12], 10, () => paint('#3b3a39'))
  for (let step = 0; step < 4; step++) addBox(s, [-0.5, 0.2 * step - 0.25, deep + 1.15 - 0.28 * step], [0.5, 0.2 * step - 0.17, deep + 1.45 - 0.28 * step], WEATHERED)
  return [partOf(s, 'Boards', 0.95, true)]
}

const ALONG = 46
const AROUND = 26
const HULL = { half: 5.4, beam: 1.75, keel: 1.55, side: 1.15, thick: 0.07 }

/** A place of the hull: t from stern −1 to bow 1, u from one gunwale −1 to the other 1; `inset` from the outer face. */
function hullPlace(t: number, u: number, inset: number): Vec {
  const fine = t > 0 ? 1 - t * t * t * t : 1 - 0.55 * t * t * t * t
  const beam = (HULL.beam - inset) * Math.sqrt(Math.max(0, fine))
  const rise = 0.55 * t * t
  // Round below, upright sides above.
  const low = Math.min(1, Math.abs(u) / 0.62)
  const angle = (low * Math.PI) / 2
  const over = Math.max(0, (Math.abs(u) - 0.62) / 0.38)
  const z = beam * (sin(angle) + 0.07 * over)
  const y = -(HULL.keel - inset) * cos(angle) * (1 - 0.35 * t * t) + over * HULL.side + rise
  return [t * HULL.half + (t > 0 ? 0.5 * over * t * t : 0), y, u < 0 ? -z : z]
}

/** A clinker hull, open above, with boards broken out; what is left of it has two faces and thickness. */
function buildHull(): BuiltPart[] {
  const s = startSculpture()
  // Boards are a few stations long, one strake wide, and go from above first.
  const boardOf = (i: number, j: number) => Math.floor((i + 5 * (j % 3)) / 8)
  const gone = (i: number, j: number) => {
    const u = Math.abs((2 * (j + 0.5)) / AROUND - 1)
    if (u < 0.5) return false
    const broken = fractal2(91, boardOf(i, j) * 1.3 + 0.4, j * 1.7, 1) + 0.35 * fractal2(93, i / 2.2, j * 2.3, 1)
    return broken > 0.75 - 1.3 * (u - 0.5)
  }
  const kept = (i: number, j: number) => i >= 0 && i < ALONG && j >= 0 && j < AROUND && !gone(i, j)
  const place = (i: number, j: number, inset: number) => hullPlace((2 * i) / ALONG - 1, (2 * j) / AROUND - 1, inset + (j % 2 === 0 ? 0.022 : 0))
  for (let i = 0; i < ALONG; i++)
    for (let j = 0; j < AROUND; j++) {
      if (!kept(i, j)) continue
      const wet = 1 - Math.abs((2 * (j + 0.5)) / AROUND - 1)
      const board = 0.5 + 0.5 * fractal2(17, boardOf(i, j) * 2.1, j * 3.7, 1)
      const colour = mixRgb(mixRgb(mixRgb(WEATHERED, LIME, 0.22 * board), TARRED, Math.min(1, 1.15 * wet + 0.25 * (1 - board))), paint('#56603f'), 0.3 * wet)
      const outer = [place(i, j, 0), place(i + 1, j, 0), place(i + 1, j + 1, 0), place(i, j + 1, 0)]
      const inner = [place(i, j, HULL.thick), place(i + 1, j, HULL.thick), place(i + 1, j + 1, HULL.thick), place(i, j + 1, HULL.thick)]
      addFlat(s, outer, colour)
      addFlat(s, [...inner].reverse(), mixRgb(colour, TARRED, 0.4))
      // Edges of boards where the neighbour is gone.
      const edges: readonly (readonly [number, number, number, number])[] = [[i, j - 1, 0, 1], [i + 1, j, 1, 2], [i, j + 1, 2, 3], [i - 1, j, 3, 0]]
      for (const [ni, nj, a, b] of edges) if (!kept(ni, nj)) addFlat(s, [outer[b], outer[a], inner[a], inner[b]], mixRgb(colour, LIME, 0.15))
    }
  // Ribs, some standing where the boards are gone.
  const roll = dice(312)
  for (let k = 1; k < 13; k++) {
    const t = -0.88 + (1.72 * k) / 13
    const end = roll(0.72, 1.04)
    const points = Array.from({ length: 17 }, (_, n) => hullPlace(t, -end + (2 * end * n) / 16, HULL.thick + 0.05))
    addTube(s, points, points.map(() => 0.06), 5, () => mixRgb(TARRED, WEATHERED, 0.3))
  }
  const keel = Array.from({ length: 15 }, (_, n) => hullPlace(-0.98 + (1.9 * n) / 14, 0, -0.05))
  addTube(s, keel, keel.map(() => 0.1), 6, () => TARRED)
  return [partOf(s, 'Planks', 0.95, true)]
}

const DEMO_MESHES: readonly DemoMesh[] = [
  { id: 'hut', name: 'Fishers’ hut', role: 'obstacle', position: [17, 0.62, 13], turn: [0, -28, 0], size: 1, build: buildHut },
  { id: 'hull', name: 'Wrecked hull', role: 'ground', position: [13.5, 0.55, 47], turn: [-24, 20, 4], size: 0.85, build: buildHull },
]

/** The meshes with their blobs stored through `keep`. */
export function makeDemoMeshes(keep: (bytes: Uint8Array<ArrayBuffer>) => Promise<string>): Promise<PlacedMesh[]> {
  return keepMeshes(DEMO_MESHES, keep)
}
