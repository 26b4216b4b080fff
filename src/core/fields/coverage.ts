import type { Sites } from '../columns.ts'
import type { Range } from '../grounds/blocks.ts'
import type { Rect } from '../grounds/terrain.ts'
import { smoothstep } from '../math/portable.ts'
import type { StrokeAct } from './stroke-acts.ts'

/**
 * Coverage painted by hand: what strokes of a brush say to a place, 0…1. Strokes act in the order in which they were
 * drawn, each once, however often it crosses itself: sowing raises the coverage to its own strength at most, clearing
 * lowers it to what its strength leaves, thinning keeps a share of what is there.
 */

/** Numbers of one point of a stroke: place x y z, unit normal x y z, pressure 0…1. */
export const POINT = 7

/** A stroke where it lies in the world. */
export interface PaintedStroke {
  readonly act: StrokeAct
  /** Half its width, m. */
  readonly radius: number
  /** Share of the radius over which it fades out, 0…1. */
  readonly soft: number
  /** What it does in its middle, 0…1. */
  readonly strength: number
  /** Numbers of the assets that it acts on; all when it names none. */
  readonly assets: readonly number[]
  /** Whether it lies on a mesh, and so reaches straight through space to what faces its own way; else it reaches over the plan of the terrain. */
  readonly solid: boolean
  /** Its points, {@link POINT} numbers each. */
  readonly points: Float64Array
}

/** What is painted near a tile. */
export interface Coverage {
  /** Multiplies the weights of sites by the coverage that strokes make of `base`, leaving out strokes for some assets only. */
  weigh(sites: Sites, base: number): void
  /** Whether any stroke acts on some assets only. */
  readonly forSome: boolean
  /** Coverage of one site under the strokes that act on an asset; for −1 under those that act on all. */
  at(sites: Sites, site: number, base: number, asset: number): number
  /** What the coverage can be in a rectangle of the terrain, but for strokes for some assets only. */
  bound(rect: Rect, base: number): Range
}

/** Cells along the longer side of what strokes cover, at most. */
const MOST_CELLS = 128
/** So much of the mean radius is a cell, m. */
const CELL = 1

/** Makes strokes ready to be asked, in their order. */
export function createCoverage(strokes: readonly PaintedStroke[]): Coverage {
  const boxes = strokes.map(boxOf)
  let grid: CellGrid | null = null

  function at(sites: Sites, site: number, base: number, asset: number): number {
    grid ??= gridOf(strokes, boxes)
    const { x0, z0, cell, columns, rows, starts, entries } = grid
    const x = sites.x[site]
    const z = sites.z[site]
    const c = Math.floor((x - x0) / cell)
    const r = Math.floor((z - z0) / cell)
    if (!(c >= 0 && r >= 0 && c < columns && r < rows)) return base
    let covered = base
    const end = starts[r * columns + c + 1]
    for (let k = starts[r * columns + c]; k < end; ) {
      const own = entries[2 * k]
      const stroke = strokes[own]
      let most = 0
      for (; k < end && entries[2 * k] === own; k++) {
        const here = stroke.solid ? throughSpace(stroke, entries[2 * k + 1], sites, site) : overPlan(stroke, entries[2 * k + 1], sites, x, z)
        if (here > most) most = here
      }
      if (most > 0 && actsOn(stroke, asset)) covered = acted(stroke.act, covered, most)
    }
    return covered
  }

  return {
    forSome: strokes.some(({ assets }) => assets.length > 0),
    weigh(sites, base) {
      for (let i = 0; i < sites.count; i++) if (sites.weight[i] > 0) sites.weight[i] *= at(sites, i, base, -1)
    },
    at,
    bound(rect, base) {
      let [low, high] = [base, base]
      strokes.forEach((stroke, k) => {
        const { x0, z0, x1, z1 } = boxes[k]
        if (stroke.solid || stroke.assets.length > 0 || x1 < rect.x0 || z1 < rect.z0 || x0 > rect.x1 || z0 > rect.z1) return
        const here = effectIn(stroke, rect)
        // Sowing more raises, clearing and thinning more lowers.
        const [least, most] = stroke.act === 'sow' ? [here.low, here.high] : [here.high, here.low]
        low = acted(stroke.act, low, least)
        high = acted(stroke.act, high, most)
      })
      return { low, high }
    },
  }
}

/** What is painted where no stroke lies: the coverage stays what it is. */
export const NO_STROKES: Coverage = createCoverage([])

function actsOn({ assets }: PaintedStroke, asset: number): boolean {
  return assets.length === 0 || assets.includes(asset)
}

/** The coverage after an act of an effect 0…1. */
function acted(act: StrokeAct, covered: number, effect: number): number {
  if (act === 'sow') return effect > covered ? effect : covered
  if (act === 'clear') return 1 - effect < covered ? 1 - effect : covered
  return covered * (1 - effect)
}

/** What a stroke does at a distance from its middle line, 0…strength. */
function fading({ radius, soft, strength }: PaintedStroke, distance: number): number {
  if (distance >= radius) return 0
  const rim = soft * radius
  const into = radius - distance
  return into >= rim ? strength : strength * smoothstep(into / rim)
}

/** The effect of one piece of a stroke, of its pressure too, at a place of the plan; meshes are not reached. */
function overPlan(stroke: PaintedStroke, piece: number, sites: Sites, x: number, z: number): number {
  if (sites.normals) return 0
  const { points } = stroke
  const a = POINT * piece
  const b = a + POINT < points.length ? a + POINT : a
  const t = along(x - points[a], 0, z - points[a + 2], points[b] - points[a], 0, points[b + 2] - points[a + 2])
  const dx = points[a] + t * (points[b] - points[a]) - x
  const dz = points[a + 2] + t * (points[b + 2] - points[a + 2]) - z
  return fading(stroke, Math.sqrt(dx * dx + dz * dz)) * (points[a + 6] + t * (points[b + 6] - points[a + 6]))
}

/** The effect of one piece of a stroke on a mesh, straight through space, on what faces its own way. */
function throughSpace(stroke: PaintedStroke, piece: number, { x, y, z, normals }: Sites, site: number): number {
  if (!normals) return 0
  const { points } = stroke
  const a = POINT * piece
  const b = a + POINT < points.length ? a + POINT : a
  const ux = points[b] - points[a]
  const uy = points[b + 1] - points[a + 1]
  const uz = points[b + 2] - points[a + 2]
  const t = along(x[site] - points[a], y[site] - points[a + 1], z[site] - points[a + 2], ux, uy, uz)
  let facing = 0
  for (let c = 0; c < 3; c++) facing += (points[a + 3 + c] + t * (points[b + 3 + c] - points[a + 3 + c])) * (c === 0 ? normals.x : c === 1 ? normals.y : normals.z)[site]
  if (!(facing > 0)) return 0
  const dx = points[a] + t * ux - x[site]
  const dy = points[a + 1] + t * uy - y[site]
  const dz = points[a + 2] + t * uz - z[site]
  return fading(stroke, Math.sqrt(dx * dx + dy * dy + dz * dz)) * (points[a + 6] + t * (points[b + 6] - points[a + 6]))
}

/** Where along a piece (ux, uy, uz) the place nearest to (dx, dy, dz) lies, 0…1. */
function along(dx: number, dy: number, dz: number, ux: number, uy: number, uz: number): number {
  const squared = ux * ux + uy * uy + uz * uz
  if (!(squared > 0)) return 0
  const t = (dx * ux + dy * uy + dz * uz) / squared
  return t < 0 ? 0 : t > 1 ? 1 : t
}

/** What a stroke on the terrain can do anywhere in a rectangle: from the distance of its middle, which no place of it is farther from than half a diagonal. */
function effectIn(stroke: PaintedStroke, { x0, z0, x1, z1 }: Rect): Range {
  const { points } = stroke
  const x = 0.5 * (x0 + x1)
  const z = 0.5 * (z0 + z1)
  const half = 0.5 * Math.sqrt((x1 - x0) ** 2 + (z1 - z0) ** 2) * (1 + 1e-9)
  let [low, high] = [0, 0]
  const last = Math.max(0, points.length - 2 * POINT)
  for (let a = 0; a <= last; a += POINT) {
    const b = a + POINT < points.length ? a + POINT : a
    const t = along(x - points[a], 0, z - points[a + 2], points[b] - points[a], 0, points[b + 2] - points[a + 2])
    const dx = points[a] + t * (points[b] - points[a]) - x
    const dz = points[a + 2] + t * (points[b + 2] - points[a + 2]) - z
    const away = Math.sqrt(dx * dx + dz * dz)
    const [soft, hard] = points[a + 6] < points[b + 6] ? [points[a + 6], points[b + 6]] : [points[b + 6], points[a + 6]]
    const most = fading(stroke, Math.max(0, away - half)) * hard
    const least = fading(stroke, away + half) * soft
    if (most > high) high = most
    if (least > low) low = least
  }
  return { low, high }
}

/** What a stroke can reach in plan, m. */
export function boxOf({ points, radius }: Pick<PaintedStroke, 'points' | 'radius'>): Rect {
  const box = { x0: Infinity, z0: Infinity, x1: -Infinity, z1: -Infinity }
  for (let k = 0; k < points.length; k += POINT) {
    box.x0 = Math.min(box.x0, points[k] - radius)
    box.x1 = Math.max(box.x1, points[k] + radius)
    box.z0 = Math.min(box.z0, points[k + 2] - radius)
    box.z1 = Math.max(box.z1, points[k + 2] + radius)
  }
  return box
}

/** The pieces of strokes by the cells of the plan that they can reach. */
interface CellGrid {
  readonly x0: number
  readonly z0: number
  readonly cell: number
  readonly columns: number
  readonly rows: number
  /** Where each cell's entries begin; one more at the end. */
  readonly starts: Uint32Array
  /** Stroke and piece of each entry; those of a cell in the order of strokes. */
  readonly entries: Uint32Array
}

function gridOf(strokes: readonly PaintedStroke[], boxes: readonly Rect[]): CellGrid {
  const all = boxes.reduce((a, b) => ({ x0: Math.min(a.x0, b.x0), z0: Math.min(a.z0, b.z0), x1: Math.max(a.x1, b.x1), z1: Math.max(a.z1, b.z1) }), { x0: Infinity, z0: Infinity, x1: -Infinity, z1: -Infinity })
  if (!(all.x1 >= all.x0)) return { x0: 0, z0: 0, cell: 1, columns: 0, rows: 0, starts: new Uint32Array(1), entries: new Uint32Array(0) }
  const mean = strokes.reduce((sum, { radius }) => sum + radius, 0) / strokes.length
  const cell = Math.max(CELL * mean, Math.max(all.x1 - all.x0, all.z1 - all.z0) / MOST_CELLS, 1e-6)
  const columns = Math.floor((all.x1 - all.x0) / cell) + 1
  const rows = Math.floor((all.z1 - all.z0) / cell) + 1
  const eachPiece = (tell: (cell: number, stroke: number, piece: number) => void) =>
    strokes.forEach(({ points, radius }, k) => {
      const pieces = Math.max(1, points.length / POINT - 1)
      for (let piece = 0; piece < pieces; piece++) {
        const { x0, z0, x1, z1 } = boxOf({ points: points.subarray(POINT * piece, POINT * (piece + 2)), radius })
        const [c0, c1] = [Math.floor((x0 - all.x0) / cell), Math.floor((x1 - all.x0) / cell)]
        for (let r = Math.floor((z0 - all.z0) / cell); r <= Math.floor((z1 - all.z0) / cell); r++) for (let c = c0; c <= c1; c++) tell(r * columns + c, k, piece)
      }
    })
  const starts = new Uint32Array(columns * rows + 1)
  eachPiece((at) => starts[at + 1]++)
  for (let k = 0; k < columns * rows; k++) starts[k + 1] += starts[k]
  const next = starts.slice()
  const entries = new Uint32Array(2 * starts[columns * rows])
  eachPiece((at, stroke, piece) => {
    const to = next[at]++
    entries[2 * to] = stroke
    entries[2 * to + 1] = piece
  })
  return { x0: all.x0, z0: all.z0, cell, columns, rows, starts, entries }
}
