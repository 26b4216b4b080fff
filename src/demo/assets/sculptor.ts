import { cos, sin, TAU } from '../../core/math/portable.ts'
import { fractal2 } from '../../core/math/noise.ts'
import { random } from '../../core/math/random.ts'
import type { BuiltPart } from '../../formats/asset-build.ts'

/** Small tools for shaping made-up plants and stones: vertices with colour, bent blades, tubes, lumps. */

export type Rgb = readonly [number, number, number]
type Vec = readonly [number, number, number]

export interface Sculpture {
  readonly positions: number[]
  readonly normals: number[]
  readonly colours: number[]
  readonly indices: number[]
}

export function startSculpture(): Sculpture {
  return { positions: [], normals: [], colours: [], indices: [] }
}

/** A drawing of numbers in 0…1 that is the same every time. */
export function dice(seed: number): (low?: number, high?: number) => number {
  let drawn = 0
  return (low = 0, high = 1) => low + (high - low) * random(seed, drawn++, 0, 0)
}

/** sRGB hex to linear r g b, 0…1, by the cubic that stays within 0.002 of the standard's curve. */
export function paint(hex: string): Rgb {
  const channel = (at: number) => {
    const c = parseInt(hex.slice(at, at + 2), 16) / 255
    return c * (c * (c * 0.305306011 + 0.682171111) + 0.012522878)
  }
  return [channel(1), channel(3), channel(5)]
}

export function mixRgb(a: Rgb, b: Rgb, t: number): Rgb {
  return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t]
}

export function vertex(s: Sculpture, p: Vec, n: Vec, colour: Rgb): number {
  s.positions.push(...p)
  const length = Math.sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]) || 1
  s.normals.push(n[0] / length, n[1] / length, n[2] / length)
  s.colours.push(...colour)
  return s.positions.length / 3 - 1
}

/** A flat convex face, counter-clockwise seen from the side it looks to. */
export function addFlat(s: Sculpture, corners: readonly Vec[], colour: Rgb): void {
  // The sum over all edges (Newell) holds where some corners fall together.
  const normal = [0, 0, 0]
  corners.forEach((p, k) => {
    const q = corners[(k + 1) % corners.length]
    normal[0] += (p[1] - q[1]) * (p[2] + q[2])
    normal[1] += (p[2] - q[2]) * (p[0] + q[0])
    normal[2] += (p[0] - q[0]) * (p[1] + q[1])
  })
  if (normal[0] * normal[0] + normal[1] * normal[1] + normal[2] * normal[2] < 1e-14) return
  const at = corners.map((corner) => vertex(s, corner, [normal[0], normal[1], normal[2]], colour))
  for (let k = 2; k < at.length; k++) s.indices.push(at[0], at[k - 1], at[k])
}

/** A box, every face of one colour. */
export function addBox(s: Sculpture, low: Vec, high: Vec, colour: Rgb): void {
  const at = (i: number): Vec => [i & 1 ? high[0] : low[0], i & 2 ? high[1] : low[1], i & 4 ? high[2] : low[2]]
  for (const [a, b, c, d] of [[0, 4, 6, 2], [1, 3, 7, 5], [0, 1, 5, 4], [2, 6, 7, 3], [0, 2, 3, 1], [4, 5, 7, 6]]) addFlat(s, [at(a), at(b), at(c), at(d)], colour)
}

export interface Blade {
  readonly root: Vec
  /** Compass direction it bows to, rad. */
  readonly toward: number
  readonly height: number
  readonly width: number
  /** How far the tip bows out, as a share of the height. */
  readonly bow: number
  readonly low: Rgb
  readonly high: Rgb
  readonly segments: number
}

/** A tapering, bowed blade, lit softly from above as grass is. */
export function addBlade(s: Sculpture, b: Blade): void {
  const dx = sin(b.toward)
  const dz = cos(b.toward)
  const sideX = dz
  const sideZ = -dx
  let left = -1
  let right = -1
  for (let k = 0; k <= b.segments; k++) {
    const t = k / b.segments
    const out = b.bow * b.height * t * t
    const y = b.root[1] + b.height * t * (1 - 0.25 * b.bow * t)
    const centre: Vec = [b.root[0] + dx * out, y, b.root[2] + dz * out]
    const half = 0.5 * b.width * Math.sqrt((1 - t) * Math.sqrt(1 - t))
    const normal: Vec = [0.35 * dx, 1, 0.35 * dz]
    const colour = mixRgb(b.low, b.high, t)
    if (k === b.segments) {
      const tip = vertex(s, centre, normal, colour)
      s.indices.push(left, right, tip)
      return
    }
    const l = vertex(s, [centre[0] - sideX * half, y, centre[2] - sideZ * half], normal, colour)
    const r = vertex(s, [centre[0] + sideX * half, y, centre[2] + sideZ * half], normal, colour)
    if (k > 0) s.indices.push(left, right, l, right, r, l)
    left = l
    right = r
  }
}

/** A tuft of blades around the origin. */
export function addTuft(
  s: Sculpture,
  options: {
    seed: number
    blades: number
    spread: number
    height: readonly [number, number]
    width: number
    bow: readonly [number, number]
    low: Rgb
    high: Rgb
    dry: Rgb
    segments: number
  },
): void {
  const roll = dice(options.seed)
  for (let i = 0; i < options.blades; i++) {
    const around = TAU * ((i + roll()) / options.blades)
    const away = options.spread * Math.sqrt(roll())
    const dryness = roll() ** 3
    addBlade(s, {
      root: [sin(around) * away, -0.01, cos(around) * away],
      toward: around + roll(-0.7, 0.7),
      height: roll(options.height[0], options.height[1]),
      width: options.width * roll(0.7, 1.2),
      bow: roll(options.bow[0], options.bow[1]),
      low: mixRgb(options.low, options.dry, 0.3 * dryness),
      high: mixRgb(options.high, options.dry, dryness),
      segments: options.segments,
    })
  }
}

/** A tube along points, of given radius at each; closed with a fan at its far end. */
export function addTube(
  s: Sculpture,
  points: readonly Vec[],
  radii: readonly number[],
  sides: number,
  colourAt: (t: number, side: number) => Rgb,
): void {
  let before: number[] = []
  points.forEach((p, k) => {
    const a = points[Math.max(0, k - 1)]
    const b = points[Math.min(points.length - 1, k + 1)]
    const along = unit([b[0] - a[0], b[1] - a[1], b[2] - a[2]])
    const helper: Vec = Math.abs(along[1]) > 0.9 ? [1, 0, 0] : [0, 1, 0]
    const u = unit(cross(helper, along))
    const v = cross(along, u)
    const ring: number[] = []
    for (let i = 0; i < sides; i++) {
      const angle = (TAU * i) / sides
      const n: Vec = [
        u[0] * cos(angle) + v[0] * sin(angle),
        u[1] * cos(angle) + v[1] * sin(angle),
        u[2] * cos(angle) + v[2] * sin(angle),
      ]
      const r = radii[k]
      ring.push(
        vertex(s, [p[0] + n[0] * r, p[1] + n[1] * r, p[2] + n[2] * r], n, colourAt(k / (points.length - 1), i)),
      )
    }
    if (k > 0)
      for (let i = 0; i < sides; i++) {
        const j = (i + 1) % sides
        s.indices.push(before[i], before[j], ring[j], before[i], ring[j], ring[i])
      }
    if (k === 0 || k === points.length - 1) {
      const sign = k === 0 ? -1 : 1
      const centre = vertex(s, p, [along[0] * sign, along[1] * sign, along[2] * sign], colourAt(k === 0 ? 0 : 1, 0))
      for (let i = 0; i < sides; i++) {
        const j = (i + 1) % sides
        if (k === 0) s.indices.push(centre, ring[j], ring[i])
        else s.indices.push(centre, ring[i], ring[j])
      }
    }
    before = ring
  })
}

/** A subdivided octahedron pushed about by noise: stones, bushes, flower heads. */
export function addLump(
  s: Sculpture,
  options: {
    seed: number
    centre: Vec
    radius: Vec
    rough: number
    scale: number
    level: number
    colourAt: (n: Vec, bump: number) => Rgb
    /** Facets keep hard edges. */
    facets?: boolean
  },
): void {
  const { centre, radius, seed } = options
  const place = (d: Vec) => {
    const bump =
      fractal2(seed, d[0] * options.scale + 3 * d[2], d[1] * options.scale - 2 * d[2], 3) * options.rough
    return {
      p: [
        centre[0] + d[0] * radius[0] * (1 + bump),
        centre[1] + d[1] * radius[1] * (1 + bump),
        centre[2] + d[2] * radius[2] * (1 + bump),
      ] as Vec,
      bump,
    }
  }
  let faces: [Vec, Vec, Vec][] = []
  for (const x of [1, -1])
    for (const y of [1, -1])
      for (const z of [1, -1]) {
        const [a, b, c]: Vec[] = [
          [x, 0, 0],
          [0, y, 0],
          [0, 0, z],
        ]
        faces.push(x * y * z > 0 ? [a, b, c] : [a, c, b])
      }
  for (let l = 0; l < options.level; l++)
    faces = faces.flatMap(([a, b, c]) => {
      const ab = middle(a, b)
      const bc = middle(b, c)
      const ca = middle(c, a)
      return [
        [a, ab, ca],
        [ab, b, bc],
        [ca, bc, c],
        [ab, bc, ca],
      ] as [Vec, Vec, Vec][]
    })
  for (const face of faces) {
    const corners = face.map(place)
    const [a, b, c] = corners.map((corner) => corner.p)
    const flat = cross([b[0] - a[0], b[1] - a[1], b[2] - a[2]], [c[0] - a[0], c[1] - a[1], c[2] - a[2]])
    const at = corners.map(({ p, bump }, k) => {
      const d = face[k]
      const round: Vec = [d[0] / radius[0], d[1] / radius[1], d[2] / radius[2]]
      return vertex(s, p, options.facets ? flat : round, options.colourAt(d, bump))
    })
    s.indices.push(at[0], at[1], at[2])
  }
}

/** Small pointed leaves that stick out of a lump all around, less below: they break its outline. */
export function addSprays(
  s: Sculpture,
  options: { seed: number; centre: Vec; radius: Vec; count: number; length: number; width: number; colourAt: (n: Vec, dice: number) => Rgb },
): void {
  const { centre, radius, count } = options
  const roll = dice(options.seed)
  for (let i = 0; i < count; i++) {
    // A Fibonacci spiral over the sphere but for its lowest fifth.
    const y = 1 - (1.6 * (i + 0.5)) / count
    const flat = Math.sqrt(Math.max(0, 1 - y * y))
    const turn = 2.399963229728653 * i + roll(-0.5, 0.5)
    const d: Vec = [flat * cos(turn), y, flat * sin(turn)]
    const root: Vec = [centre[0] + d[0] * radius[0] * roll(0.9, 1.12), centre[1] + d[1] * radius[1] * roll(0.9, 1.12), centre[2] + d[2] * radius[2] * roll(0.9, 1.12)]
    const out = unit([d[0] + roll(-0.45, 0.45), d[1] + roll(0, 0.7), d[2] + roll(-0.45, 0.45)])
    const side = unit(cross(out, [roll(-1, 1), roll(-1, 1), roll(-1, 1)]))
    const length = options.length * roll(0.65, 1.35)
    const half = 0.5 * options.width
    const colour = options.colourAt(d, roll())
    const at = (along: number, aside: number, shade: number) =>
      vertex(
        s,
        [root[0] + out[0] * along + side[0] * aside, root[1] + out[1] * along + side[1] * aside, root[2] + out[2] * along + side[2] * aside],
        [d[0], d[1] + 0.4, d[2]],
        [colour[0] * shade, colour[1] * shade, colour[2] * shade],
      )
    s.indices.push(at(0, -half, 0.7), at(0, half, 0.7), at(length, 0, 1.15))
  }
}

function unit(v: Vec): Vec {
  const length = Math.sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2]) || 1
  return [v[0] / length, v[1] / length, v[2] / length]
}

function cross(a: Vec, b: Vec): Vec {
  return [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]
}

function middle(a: Vec, b: Vec): Vec {
  return unit([a[0] + b[0], a[1] + b[1], a[2] + b[2]])
}

/** The finished part: typed columns, colours as linear bytes. */
export function partOf(s: Sculpture, name: string, roughness: number, doubleSided: boolean): BuiltPart {
  const vertices = s.positions.length / 3
  const colours = new Uint8Array(4 * vertices)
  for (let i = 0; i < vertices; i++) {
    for (let c = 0; c < 3; c++)
      colours[4 * i + c] = Math.max(0, Math.min(255, Math.round(s.colours[3 * i + c] * 255)))
    colours[4 * i + 3] = 255
  }
  return {
    name,
    positions: Float32Array.from(s.positions),
    normals: Float32Array.from(s.normals),
    colours,
    indices: Uint32Array.from(s.indices),
    roughness,
    doubleSided,
  }
}
