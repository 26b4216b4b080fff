import * as THREE from 'three'
import { Line2 } from 'three/addons/lines/Line2.js'
import { LineGeometry } from 'three/addons/lines/LineGeometry.js'
import { LineMaterial } from 'three/addons/lines/LineMaterial.js'
import type { HeightAt, Terrain } from '../core/grounds/terrain.ts'
import { heightAt, heightOf } from '../core/grounds/terrain.ts'
import type { Outline } from '../core/meadow.ts'
import { valuesOf } from '../core/long-list.ts'
import { isClosed, pointsOf, polylines } from '../core/outlines/outline.ts'
import { leavesGround, linesInSpace } from '../core/outlines/space.ts'

/** Patches and paths as lines that lie on the ground. */
export interface OutlineLines {
  readonly group: THREE.Group
  set(outlines: readonly Outline[], selected: string | null, terrain: Terrain): void
  dispose(): void
}

/** Lines float this far above the ground, m, so that it does not swallow them. */
const LIFT = 0.12
const WIDTH = { plain: 2.2, selected: 3.4, side: 1.2 }
/** Share of a line that shows through what stands in front of it. */
const BEHIND = 0.28

export function createOutlineLines(): OutlineLines {
  const group = new THREE.Group()
  let shown = new Map<string, { outline: Outline; selected: boolean; terrain: Terrain; group: THREE.Group }>()

  return {
    group,
    set(outlines, selected, terrain) {
      const next: typeof shown = new Map()
      for (const outline of outlines) {
        if (!outline.visible) continue
        const before = shown.get(outline.id)
        const isSelected = outline.id === selected
        if (before?.outline === outline && before.selected === isSelected && before.terrain === terrain) {
          next.set(outline.id, before)
          shown.delete(outline.id)
          continue
        }
        const own = drawOutline(outline, isSelected, terrain)
        group.add(own)
        next.set(outline.id, { outline, selected: isSelected, terrain, group: own })
      }
      for (const { group: old } of shown.values()) discard(old)
      shown = next
    },
    dispose() {
      for (const { group: old } of shown.values()) discard(old)
      shown.clear()
    },
  }

  function discard(old: THREE.Group): void {
    group.remove(old)
    old.traverse((one) => {
      if (!(one instanceof Line2)) return
      one.geometry.dispose()
      one.material.dispose()
    })
  }
}

function drawOutline(outline: Outline, selected: boolean, terrain: Terrain): THREE.Group {
  const group = new THREE.Group()
  const closed = isClosed(outline)
  const width = selected ? WIDTH.selected : WIDTH.plain
  if (leavesGround(outline)) {
    const heights = heightOf(terrain)
    for (const line of linesInSpace(outline, heights)) addPositions(group, closed ? [...line, ...line.slice(0, 3)] : line, outline.colour, width)
    addPosts(group, outline, heights)
    return group
  }
  for (const line of polylines(outline)) {
    if (line.length < 4) continue
    addLine(group, line, closed, outline.colour, width, terrain)
    if (outline.kind === 'path' && outline.width > 0)
      for (const side of [-0.5, 0.5]) addLine(group, offset(line, closed, side * outline.width), closed, outline.colour, WIDTH.side, terrain)
  }
  return group
}

function addLine(group: THREE.Group, line: readonly number[], closed: boolean, colour: string, width: number, terrain: Terrain): void {
  addPositions(group, drape(closed ? [...line, line[0], line[1]] : line, terrain), colour, width)
}

/** Thin plumb lines from the points of a path that lie off the ground down to it: how high they are is seen. */
function addPosts(group: THREE.Group, outline: Outline, heightAt: HeightAt): void {
  pointsOf(outline).forEach((line, l) => {
    const above = outline.above?.[l] ? valuesOf(outline.above[l]) : []
    above.forEach((high, i) => {
      const [x, z] = [line[2 * i], line[2 * i + 1]]
      const foot = heightAt(x, z)
      if (Math.abs(high) > LIFT) addPositions(group, [x, foot + LIFT, z, x, foot + high, z], outline.colour, WIDTH.side)
    })
  })
}

function addPositions(group: THREE.Group, positions: number[], colour: string, width: number): void {
  if (positions.length < 6) return
  const geometry = new LineGeometry()
  geometry.setPositions(positions)
  for (const behind of [true, false]) {
    const material = new LineMaterial({
      color: colour,
      linewidth: width,
      depthTest: !behind,
      depthWrite: false,
      transparent: true,
      opacity: behind ? BEHIND : 1,
      toneMapped: false,
      fog: false,
    })
    const drawn = new Line2(geometry, material)
    drawn.renderOrder = behind ? 8 : 9
    group.add(drawn)
  }
}

/** Points of a line on the ground, close enough together to follow it. */
function drape(line: readonly number[], terrain: Terrain): number[] {
  const step = Math.max(terrain.stepX, terrain.stepZ, Math.max(terrain.sizeX, terrain.sizeZ) / 1500)
  const { x0, x1, z0, z1 } = terrain.bounds
  const out: number[] = []
  const put = (x: number, z: number) =>
    out.push(x, heightAt(terrain, Math.min(x1, Math.max(x0, x)), Math.min(z1, Math.max(z0, z))) + LIFT, z)
  for (let i = 0; i + 3 < line.length; i += 2) {
    const dx = line[i + 2] - line[i]
    const dz = line[i + 3] - line[i + 1]
    const pieces = Math.min(4000, Math.max(1, Math.ceil(Math.hypot(dx, dz) / step)))
    for (let k = 0; k < pieces; k++) put(line[i] + (dx * k) / pieces, line[i + 1] + (dz * k) / pieces)
  }
  put(line[line.length - 2], line[line.length - 1])
  return out
}

/** The line moved sideways by `by` m, corners mitred as far as twice that. */
function offset(line: readonly number[], closed: boolean, by: number): number[] {
  const n = line.length / 2
  const at = (i: number) => (closed ? (i + n) % n : Math.min(n - 1, Math.max(0, i)))
  const normal = (i: number, j: number) => {
    const dx = line[2 * j] - line[2 * i]
    const dz = line[2 * j + 1] - line[2 * i + 1]
    const length = Math.hypot(dx, dz)
    return length > 0 ? [-dz / length, dx / length] : [0, 0]
  }
  return Array.from({ length: n }, (_, i) => {
    const [ax, az] = normal(at(i - 1), i)
    const [bx, bz] = normal(i, at(i + 1))
    const [mx, mz] = [ax + bx, az + bz]
    const square = mx * mx + mz * mz
    const scale = square > 0 ? Math.min(2 / square, 2 / Math.sqrt(square)) * by : 0
    return [line[2 * i] + mx * scale, line[2 * i + 1] + mz * scale]
  }).flat()
}
