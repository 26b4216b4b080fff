import * as THREE from 'three'
import { featureColumns } from '../src/core/grounds/mesh-features.ts'
import type { MeshShape } from '../src/core/grounds/mesh-shape.ts'
import { alongSpace } from '../src/core/outlines/space.ts'
import { framesOfRow } from '../src/core/order/row.ts'
import type { Step } from '../src/core/order/step.ts'

/** How long what stands in order takes, beside a public library doing the same or less. */

const TIMES = 7

/** A closed ring of so many rounds of so many squares of two triangles. */
function torus(around: number, across: number): MeshShape {
  const positions = new Float32Array(3 * around * across)
  const indices = new Uint32Array(6 * around * across)
  const at = (i: number, j: number) => (i % around) * across + (j % across)
  for (let i = 0; i < around; i++)
    for (let j = 0; j < across; j++) {
      const [u, v] = [(2 * Math.PI * i) / around, (2 * Math.PI * j) / across]
      positions.set([(10 + 3 * Math.cos(v)) * Math.cos(u), 3 * Math.sin(v), (10 + 3 * Math.cos(v)) * Math.sin(u)], 3 * at(i, j))
      indices.set([at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i + 1, j)], 6 * at(i, j))
    }
  return { positions, indices }
}

/** Median of ms. */
function timed(work: () => void): number {
  const times = Array.from({ length: TIMES }, () => {
    const start = performance.now()
    work()
    return performance.now() - start
  })
  return times.sort((a, b) => a - b)[TIMES >> 1]
}

/** Frames along a curve through space, beside three's, which count by the same lengths but turn with the curve's own normal. */
function measureSpace(say: (line: string) => void): void {
  const PLACES = 20_000
  const points = Array.from({ length: 400 }, (_, k) => new THREE.Vector3(6 * Math.cos(k / 20) * (1 + k / 400), k / 15, 6 * Math.sin(k / 20) * (1 + k / 400)))
  const flat = points.flatMap(({ x, y, z }) => [x, y, z])
  const own = timed(() => {
    const along = alongSpace(flat, false, true)
    for (let k = 0; k < PLACES; k++) along.at((along.length * k) / PLACES)
  })
  const theirs = timed(() => {
    const curve = new THREE.CatmullRomCurve3(points)
    curve.arcLengthDivisions = points.length
    curve.computeFrenetFrames(PLACES)
    for (let k = 0; k < PLACES; k++) curve.getPointAt(k / PLACES)
  })
  say(`${PLACES.toLocaleString('en')} places with frames along a path through space: ${own.toFixed(0)} ms, ${(theirs / own).toFixed(1)} × as fast as three's (${theirs.toFixed(0)} ms)`)
}

export function measureOrder(say: (line: string) => void): void {
  measureSpace(say)
  const step = (x: number, y: number, z: number, degrees: number): Step => ({ move: [x, y, z], axis: 'up', degrees, factor: 1 })
  const row = [{ count: 50, step: step(1, 0, 0, 3) }, { count: 50, step: step(0, 0, -1.2, 0) }, { count: 40, step: step(0, 0.6, 0, 2) }]
  const own = timed(() => void framesOfRow(row))
  // The same frames as products of matrices, taken apart into place, turn and size.
  const matrices = row.map(({ step: { move, degrees } }) => new THREE.Matrix4().compose(new THREE.Vector3(...move), new THREE.Quaternion().setFromAxisAngle(new THREE.Vector3(0, -1, 0), (degrees * Math.PI) / 180), new THREE.Vector3(1, 1, 1)))
  const theirs = timed(() => {
    const [place, turn, size] = [new THREE.Vector3(), new THREE.Quaternion(), new THREE.Vector3()]
    const third = new THREE.Matrix4()
    for (let c = 0; c < 40; c++, third.multiply(matrices[2])) {
      const second = third.clone()
      for (let b = 0; b < 50; b++, second.multiply(matrices[1])) {
        const first = second.clone()
        for (let a = 0; a < 50; a++, first.multiply(matrices[0])) first.decompose(place, turn, size)
      }
    }
  })
  say(`100,000 frames of a row: ${own.toFixed(0)} ms, ${(theirs / own).toFixed(1)} × as fast as products of three's matrices taken apart (${theirs.toFixed(0)} ms)`)

  const times: number[] = []
  const edges: number[] = []
  let faces = 0
  for (let k = 0; k < 3; k++) {
    const shape = torus(1000, 500)
    let start = performance.now()
    faces = featureColumns(shape).of('face').count
    times.push(performance.now() - start)
    const geometry = new THREE.BufferGeometry().setAttribute('position', new THREE.BufferAttribute(shape.positions, 3)).setIndex(new THREE.BufferAttribute(shape.indices, 1))
    start = performance.now()
    new THREE.EdgesGeometry(geometry, 0.08)
    edges.push(performance.now() - start)
  }
  const [mine, three] = [times, edges].map((all) => all.sort((a, b) => a - b)[1])
  say(`faces of 1,000,000 triangles (${faces.toLocaleString('en')}): ${(mine / 1000).toFixed(2)} s, ${(three / mine).toFixed(1)} × as fast as three finds its edges (${(three / 1000).toFixed(2)} s)`)
}
