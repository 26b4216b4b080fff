/** Quaternions x y z w in rows of numbers (Shoemake 1992); only operations that are the same in every engine. */

export type Quaternion = readonly [number, number, number, number]

export const NO_TURN: Quaternion = [0, 0, 0, 1]

/** The turn `b` and after it `a`. */
export function multiply([ax, ay, az, aw]: Quaternion, [bx, by, bz, bw]: Quaternion): Quaternion {
  return [
    aw * bx + ax * bw + ay * bz - az * by,
    aw * by - ax * bz + ay * bw + az * bx,
    aw * bz + ax * by - ay * bx + az * bw,
    aw * bw - ax * bx - ay * by - az * bz,
  ]
}

/** The turn back. */
export function conjugate([x, y, z, w]: Quaternion): Quaternion {
  return [-x, -y, -z, w]
}

/** The same turn as a unit quaternion; none for one without length. */
export function normalised([x, y, z, w]: Quaternion): Quaternion {
  const length = Math.sqrt(x * x + y * y + z * z + w * w)
  return length > 0 ? [x / length, y / length, z / length, w / length] : NO_TURN
}

/** A vector turned by a unit quaternion. */
export function turned([x, y, z, w]: Quaternion, [vx, vy, vz]: readonly [number, number, number]): [number, number, number] {
  const tx = 2 * (y * vz - z * vy)
  const ty = 2 * (z * vx - x * vz)
  const tz = 2 * (x * vy - y * vx)
  return [vx + w * tx + y * tz - z * ty, vy + w * ty + z * tx - x * tz, vz + w * tz + x * ty - y * tx]
}

/** The turn of a rotation matrix, row by row (Shepperd 1978). */
export function ofMatrix(m: ArrayLike<number>): Quaternion {
  const trace = m[0] + m[4] + m[8]
  if (trace > 0) {
    const s = 2 * Math.sqrt(trace + 1)
    return normalised([(m[7] - m[5]) / s, (m[2] - m[6]) / s, (m[3] - m[1]) / s, s / 4])
  }
  if (m[0] > m[4] && m[0] > m[8]) {
    const s = 2 * Math.sqrt(1 + m[0] - m[4] - m[8])
    return normalised([s / 4, (m[1] + m[3]) / s, (m[2] + m[6]) / s, (m[7] - m[5]) / s])
  }
  if (m[4] > m[8]) {
    const s = 2 * Math.sqrt(1 + m[4] - m[0] - m[8])
    return normalised([(m[1] + m[3]) / s, s / 4, (m[5] + m[7]) / s, (m[2] - m[6]) / s])
  }
  const s = 2 * Math.sqrt(1 + m[8] - m[0] - m[4])
  return normalised([(m[2] + m[6]) / s, (m[5] + m[7]) / s, s / 4, (m[3] - m[1]) / s])
}

/** The smallest turn from one unit vector to another. */
export function between(a: readonly [number, number, number], b: readonly [number, number, number]): Quaternion {
  const w = 1 + a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
  // Straight over: about any axis across.
  if (w < 1e-9) return Math.abs(a[0]) < 0.9 ? normalised([0, -a[2], a[1], 0]) : normalised([a[2], 0, -a[0], 0])
  return normalised([a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0], w])
}

/** The turn that takes east along a direction, as far as it lies across `up`, and up to `up`, of length 1; null where the two agree. */
export function ofAxes(east: readonly [number, number, number], up: readonly [number, number, number]): Quaternion | null {
  const along = east[0] * up[0] + east[1] * up[1] + east[2] * up[2]
  const across = [0, 1, 2].map((c) => east[c] - along * up[c])
  const length = Math.sqrt(across[0] * across[0] + across[1] * across[1] + across[2] * across[2])
  if (length < 1e-9) return null
  const [x, y, z] = across.map((one) => one / length)
  return ofMatrix([x, up[0], y * up[2] - z * up[1], y, up[1], z * up[0] - x * up[2], z, up[2], x * up[1] - y * up[0]])
}

// In columns, for very many: the same numbers as `multiply` and `turned` give, without a list for each.

/** Writes the turn `b` and after it `a`, each from a place of a column on. */
export function turnTurn(a: ArrayLike<number>, ai: number, b: ArrayLike<number>, bi: number, out: Float64Array | Float32Array, to: number): void {
  const ax = a[ai]
  const ay = a[ai + 1]
  const az = a[ai + 2]
  const aw = a[ai + 3]
  const bx = b[bi]
  const by = b[bi + 1]
  const bz = b[bi + 2]
  const bw = b[bi + 3]
  out[to] = aw * bx + ax * bw + ay * bz - az * by
  out[to + 1] = aw * by - ax * bz + ay * bw + az * bx
  out[to + 2] = aw * bz + ax * by - ay * bx + az * bw
  out[to + 3] = aw * bw - ax * bx - ay * by - az * bz
}

/** Writes a vector turned by a unit quaternion of a column. */
export function turnPlace(q: ArrayLike<number>, qi: number, vx: number, vy: number, vz: number, out: Float64Array, to: number): void {
  const x = q[qi]
  const y = q[qi + 1]
  const z = q[qi + 2]
  const w = q[qi + 3]
  const tx = 2 * (y * vz - z * vy)
  const ty = 2 * (z * vx - x * vz)
  const tz = 2 * (x * vy - y * vx)
  out[to] = vx + w * tx + y * tz - z * ty
  out[to + 1] = vy + w * ty + z * tx - x * tz
  out[to + 2] = vz + w * tz + x * ty - y * tx
}
