import { heightAt, inHole, landGradients } from './terrain.ts'
import type { Terrain } from './terrain.ts'
import { atan, DEGREE } from '../math/portable.ts'

const STEPS = 24

/**
 * Where a ray first meets a terrain from above: marches in steps of half a cell (more when far),
 * then halves the last step. Origin and direction are x y z; null when it never does. Holes let it through.
 */
export function pickTerrain(
  t: Terrain,
  origin: readonly [number, number, number],
  direction: readonly [number, number, number],
  reach: number,
): [number, number, number] | null {
  const cell = Math.min(t.stepX, t.stepZ)
  const clear = (s: number) => {
    const x = origin[0] + direction[0] * s
    const z = origin[2] + direction[2] * s
    const { x0, x1, z0, z1 } = t.bounds
    if (x < x0 || x > x1 || z < z0 || z > z1) return Infinity
    return origin[1] + direction[1] * s - heightAt(t, x, z)
  }
  let before = 0
  let gap = clear(0)
  if (gap < 0) return null
  for (let s = 0.5 * cell; s < reach; ) {
    const now = clear(s)
    if (now <= 0 && gap >= 0 && gap !== Infinity) {
      let low = before
      let high = s
      for (let k = 0; k < STEPS; k++) {
        const middle = 0.5 * (low + high)
        if (clear(middle) > 0) low = middle
        else high = middle
      }
      const x = origin[0] + direction[0] * high
      const z = origin[2] + direction[2] * high
      if (!inHole(t, x, z)) return [x, heightAt(t, x, z), z]
    }
    before = s
    gap = now
    // No terrain is steeper than its step allows for long: half the clearance is safe to skip on most.
    s += Math.max(0.5 * cell, now === Infinity ? 0.5 * cell : 0.25 * now)
  }
  return null
}

const place = { x: new Float64Array(1), z: new Float64Array(1) }
const gradient = { x: new Float64Array(1), z: new Float64Array(1) }
const onlyOne = new Uint32Array(1)

/** The unit normal of a terrain at a plan position. */
export function normalAt(t: Terrain, x: number, z: number): [number, number, number] {
  const [perX, perZ] = gradientAt(t, x, z)
  const long = Math.sqrt(perX * perX + 1 + perZ * perZ)
  return [-perX / long, 1 / long, -perZ / long]
}

/** Rise per metre to the east and to the south. */
function gradientAt(t: Terrain, x: number, z: number): [number, number] {
  place.x[0] = x
  place.z[0] = z
  landGradients(t, place, onlyOne, 1, gradient.x, gradient.z)
  return [gradient.x[0], gradient.z[0]]
}

/** Horn slope at a plan position, degrees. */
export function slopeAt(t: Terrain, x: number, z: number): number {
  const [perX, perZ] = gradientAt(t, x, z)
  return atan(Math.sqrt(perX * perX + perZ * perZ)) / DEGREE
}
