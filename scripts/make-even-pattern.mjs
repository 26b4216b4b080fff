// Makes src/core/stages/candidates/even-pattern.data.ts: a progressive blue-noise point set on the unit torus.
// Every prefix of n points keeps a least distance d with n·d² of at least about 0.63: a candidate is
// taken at random among those that are at least sqrt(0.6325 / n) from all points before it, which is
// random sequential placement with a radius that shrinks as points are added.
import { writeFileSync } from 'node:fs'

const POINTS = 8192
const CANDIDATES = 240 * POINTS
const AIM = 0.6325
const TRIES = 8

let state = 20261123
function rand() {
  state = (state + 0x6d2b79f5) | 0
  let t = Math.imul(state ^ (state >>> 15), 1 | state)
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296
}

const side = Math.round(Math.sqrt(CANDIDATES))
const count = side * side
const cx = new Float64Array(count)
const cy = new Float64Array(count)
const d2 = new Float64Array(count).fill(10)
const quantise = (v) => (Math.round(v * 65536) % 65536) / 65536
for (let i = 0; i < count; i++) {
  cx[i] = quantise(((i % side) + rand()) / side)
  cy[i] = quantise((Math.floor(i / side) + rand()) / side)
}
const wrap = (v) => v - Math.round(v)

const heap = []
function push(i) {
  heap.push([d2[i], i])
  let k = heap.length - 1
  while (k > 0) {
    const p = (k - 1) >> 1
    if (heap[p][0] >= heap[k][0]) break
    ;[heap[p], heap[k]] = [heap[k], heap[p]]
    k = p
  }
}
function pop() {
  const top = heap[0]
  const last = heap.pop()
  if (heap.length) {
    heap[0] = last
    let k = 0
    for (;;) {
      let a = 2 * k + 1
      if (a >= heap.length) break
      if (a + 1 < heap.length && heap[a + 1][0] > heap[a][0]) a++
      if (heap[k][0] >= heap[a][0]) break
      ;[heap[k], heap[a]] = [heap[a], heap[k]]
      k = a
    }
  }
  return top
}

const least = AIM / POINTS
const free = Array.from({ length: count }, (_, i) => i)
const out = new Uint16Array(POINTS * 2)
let worst = Infinity
let smallest = Infinity
for (let n = 0; n < POINTS; n++) {
  const target = AIM / (n + 1)
  while (heap.length && heap[0][0] >= target) {
    const [distance, i] = pop()
    if (distance === d2[i]) free.push(i)
    else if (d2[i] > least * 0.99) push(i)
  }
  let pick = -1
  for (let tries = 0; free.length && tries < TRIES && pick < 0; ) {
    const j = Math.floor(rand() * free.length)
    const i = free[j]
    if (d2[i] >= target) pick = i
    else {
      free[j] = free[free.length - 1]
      free.pop()
      if (d2[i] > least * 0.99) push(i)
    }
  }
  if (pick < 0) {
    let best = -1
    for (let i = 0; i < count; i++) {
      if (d2[i] > best) {
        best = d2[i]
        pick = i
      }
    }
  }
  const x = cx[pick]
  const y = cy[pick]
  if (n > 0) {
    smallest = Math.min(smallest, d2[pick])
    if (n >= 64) worst = Math.min(worst, (n + 1) * smallest)
  }
  out[2 * n] = x * 65536
  out[2 * n + 1] = y * 65536
  const reach = Math.min(0.75, Math.sqrt(Math.min(d2[pick] * 1.2, 8 / (n + 1))) + 2 / side)
  const g0 = Math.floor((x - reach) * side)
  const g1 = Math.min(Math.ceil((x + reach) * side), g0 + side - 1)
  const h0 = Math.floor((y - reach) * side)
  const h1 = Math.min(Math.ceil((y + reach) * side), h0 + side - 1)
  for (let jj = h0; jj <= h1; jj++) {
    const row = (((jj % side) + side) % side) * side
    for (let ii = g0; ii <= g1; ii++) {
      const i = row + (((ii % side) + side) % side)
      const a = wrap(cx[i] - x)
      const b = wrap(cy[i] - y)
      const w = a * a + b * b
      if (w < d2[i]) d2[i] = w
    }
  }
}
console.log(`least n·d² over prefixes from 64: ${worst.toFixed(4)}`)

const base64 = Buffer.from(out.buffer).toString('base64')
writeFileSync(
  new URL('../src/core/stages/candidates/even-pattern.data.ts', import.meta.url),
  `// Made by scripts/make-even-pattern.mjs: ${POINTS} points, little-endian uint16 x then y, in 1/65536 of the period.\nexport const EVEN_PATTERN = ${JSON.stringify(base64)}\n`,
)
