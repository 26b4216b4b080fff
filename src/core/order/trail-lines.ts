import type { Vector } from '../math/vector.ts'
import type { HeightAt } from '../grounds/terrain.ts'
import type { Outline } from '../meadow.ts'
import type { AlongLine, OnLine } from '../outlines/along.ts'
import { alongOutline } from '../outlines/along.ts'
import { isClosed } from '../outlines/outline.ts'
import type { AlongSpace } from '../outlines/space.ts'
import { alongSpace, leavesGround, linesInSpace } from '../outlines/space.ts'

/** A place of a line that things stand along: its own height, m, and in plan the way that it goes there. */
export interface OnTrail extends OnLine {
  readonly height: number
}

/** A line that things stand along, by the length that is gone along it: in plan where it lies on the ground, through space where it leaves that. */
export interface TrailLine {
  readonly length: number
  readonly closed: boolean
  /** Another line has another. */
  readonly name: string
  at(metres: number): OnTrail
  /** The way that it goes through space there, and what is up on it, square to that. */
  frameAt(metres: number): { readonly way: Vector; readonly up: Vector }
}

/** The lines of outlines. `heightAt` tells the height of the ground; without it their lengths are nearly true. */
export function trailLines(outlines: readonly Outline[], heightAt: HeightAt): TrailLine[] {
  return outlines.flatMap((outline) => {
    const closed = isClosed(outline)
    const lines = leavesGround(outline) ? linesInSpace(outline, heightAt).map((line) => throughSpace(alongSpace(line, closed, outline.smooth))) : alongOutline(outline).map((along) => overGround(along, closed, heightAt))
    return lines.map((line, k) => ({ ...line, closed, name: `${outline.id} ${k}` }))
  })
}

type Own = Omit<TrailLine, 'closed' | 'name'>

function throughSpace(along: AlongSpace): Own {
  return {
    length: along.length,
    at(metres) {
      const { place, way, up } = along.at(metres)
      const flat = Math.sqrt(way[0] * way[0] + way[2] * way[2])
      // One that goes straight up goes, in plan, where its back looks.
      const [wayX, wayZ] = flat > 1e-9 ? [way[0] / flat, way[2] / flat] : planOf(way[1] > 0 ? [-up[0], -up[2]] : [up[0], up[2]])
      return { x: place[0], z: place[2], height: place[1], wayX, wayZ }
    },
    frameAt: (metres) => along.at(metres),
  }
}

function planOf([x, z]: readonly [number, number]): readonly [number, number] {
  const long = Math.sqrt(x * x + z * z)
  return long > 0 ? [x / long, z / long] : [1, 0]
}

/** Own heights go straight from the ground at the beginning of a line to that at its end; level all round where it is closed. */
function overGround(along: AlongLine, closed: boolean, heightAt: HeightAt): Own {
  const on: OnLine = { x: 0, z: 0, wayX: 0, wayZ: 0 }
  const heightOf = (metres: number) => {
    along.at(metres, on)
    return heightAt(on.x, on.z)
  }
  const from = heightOf(0)
  const rise = closed || !(along.length > 0) ? 0 : (heightOf(along.length) - from) / along.length
  const slant = Math.sqrt(1 + rise * rise)
  return {
    length: along.length,
    at(metres) {
      along.at(metres, on)
      return { ...on, height: from + rise * Math.min(along.length, Math.max(0, metres)) }
    },
    frameAt(metres) {
      along.at(metres, on)
      return { way: [on.wayX / slant, rise / slant, on.wayZ / slant], up: [(-rise * on.wayX) / slant, 1 / slant, (-rise * on.wayZ) / slant] }
    },
  }
}
