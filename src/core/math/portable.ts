/**
 * Trigonometry from + − × ÷, sqrt and comparisons only, so that every engine gives the same bits.
 *
 * The kernels and their coefficients are those of fdlibm (Sun Microsystems, 1993, freely
 * redistributable): stated error below 1 ulp on the reduced range. Reduction here is two-step
 * Cody–Waite, good for |x| up to about 1e5 rad with an absolute error below 1e-15 × |x| / π.
 */
const PI_2_HIGH = 1.5707963267341256
const PI_2_LOW = 6.077100506506192e-11
const TWO_OVER_PI = 0.6366197723675814

export const TAU = 6.283185307179586
export const DEGREE = 0.017453292519943295

function sinKernel(x: number): number {
  const z = x * x
  return (
    x +
    x *
      z *
      (-0.16666666666666632 +
        z *
          (0.00833333333332249 +
            z *
              (-1.984126982985795e-4 +
                z * (2.7557313707070068e-6 + z * (-2.5050760253406863e-8 + z * 1.58969099521155e-10)))))
  )
}

function cosKernel(x: number): number {
  const z = x * x
  return (
    1 -
    0.5 * z +
    z *
      z *
      (0.0416666666666666 +
        z *
          (-0.001388888888887411 +
            z *
              (2.480158728947673e-5 +
                z * (-2.7557314351390663e-7 + z * (2.087572321298175e-9 - z * 1.1359647557788195e-11)))))
  )
}

// Quadrant n of an angle takes its sine from the two kernels as sin·EVEN[n] + cos·ODD[n].
const EVEN = Float64Array.of(1, 0, -1, 0)
const ODD = Float64Array.of(0, 1, 0, -1)

/** Sine of x rad; within 2e-16 + 1e-15·|x|/π of the exact value. */
export function sin(x: number): number {
  const n = Math.floor(x * TWO_OVER_PI + 0.5)
  const r = x - n * PI_2_HIGH - n * PI_2_LOW
  return sinKernel(r) * EVEN[n & 3] + cosKernel(r) * ODD[n & 3]
}

/** Cosine of x rad; same error as {@link sin}. */
export function cos(x: number): number {
  const n = Math.floor(x * TWO_OVER_PI + 0.5)
  const r = x - n * PI_2_HIGH - n * PI_2_LOW
  return cosKernel(r) * EVEN[n & 3] - sinKernel(r) * ODD[n & 3]
}

function atanKernel(x: number): number {
  const z = x * x
  const w = z * z
  const odd =
    z *
    (0.3333333333333293 +
      w *
        (0.14285714272503466 +
          w *
            (0.09090887133436507 +
              w * (0.06661073137387531 + w * (0.049768779946159324 + w * 0.016285820115365782)))))
  const even =
    w *
    (-0.19999999999876483 +
      w *
        (-0.11111110405462356 +
          w * (-0.0769187620504483 + w * (-0.058335701337905735 - w * 0.036531572744216916))))
  return x - x * (odd + even)
}

/** Arc tangent in rad, within 3e-16 of the exact value. */
export function atan(x: number): number {
  const a = x < 0 ? -x : x
  let angle: number
  if (a < 0.4375) angle = atanKernel(a)
  else if (a < 0.6875) angle = 0.4636476090008061 + atanKernel((2 * a - 1) / (2 + a))
  else if (a < 1.1875) angle = 0.7853981633974483 + atanKernel((a - 1) / (a + 1))
  else if (a < 2.4375) angle = 0.982793723247329 + atanKernel((a - 1.5) / (1 + 1.5 * a))
  else angle = 1.5707963267948966 + atanKernel(-1 / a)
  return x < 0 ? -angle : angle
}

/** Angle of the vector (x, y) in (−π, π], rad; 0 for the null vector. */
export function atan2(y: number, x: number): number {
  if (x > 0) return atan(y / x)
  if (x < 0) return y < 0 ? atan(y / x) - Math.PI : atan(y / x) + Math.PI
  if (y > 0) return Math.PI / 2
  return y < 0 ? -Math.PI / 2 : 0
}

const LN2_HIGH = 0.6931471803691238
const LN2_LOW = 1.9082149292705877e-10

/** 2 to a whole exponent between −1074 and 1023, by repeated squaring: exact. */
function twoTo(exponent: number): number {
  let result = 1
  let base = exponent < 0 ? 0.5 : 2
  for (let n = exponent < 0 ? -exponent : exponent; n > 0; n = Math.floor(n / 2)) {
    if (n % 2 === 1) result *= base
    base *= base
  }
  return result
}

/** e to the x, within 2 ulp (fdlibm's reduction and kernel). */
export function exp(x: number): number {
  if (x !== x) return x
  if (x > 709.782712893384) return Infinity
  if (x < -745.1332191019411) return 0
  const k = Math.floor(x / LN2_HIGH + 0.5)
  const high = x - k * LN2_HIGH
  const low = k * LN2_LOW
  const r = high - low
  const t = r * r
  const c =
    r -
    t *
      (0.16666666666666602 +
        t * (-0.0027777777777015593 + t * (6.613756321437934e-5 + t * (-1.6533902205465252e-6 + t * 4.1381367970572385e-8))))
  const value = 1 - (low - (r * c) / (2 - c) - high)
  // In two steps, so that neither factor overflows or vanishes.
  const half = Math.floor(k / 2)
  return value * twoTo(half) * twoTo(k - half)
}

/** Natural logarithm, within 2 ulp (fdlibm's kernel); NaN below 0, −∞ at 0. */
export function log(x: number): number {
  if (!(x > 0)) return x === 0 ? -Infinity : NaN
  if (x === Infinity) return x
  // x = 2^k · (1 + f) with 1 + f between √½ and √2.
  let k = 0
  let m = x
  while (m >= 18446744073709551616) {
    m /= 18446744073709551616
    k += 64
  }
  while (m < 5.421010862427522e-20) {
    m *= 18446744073709551616
    k -= 64
  }
  while (m >= Math.SQRT2) {
    m /= 2
    k++
  }
  while (m < Math.SQRT1_2) {
    m *= 2
    k--
  }
  const f = m - 1
  const s = f / (2 + f)
  const z = s * s
  const w = z * z
  const odd = w * (0.3999999999940942 + w * (0.22222198432149784 + w * 0.15313837699209373))
  const even = z * (0.6666666666666735 + w * (0.2857142874366239 + w * (0.1818357216161805 + w * 0.14798198605116586)))
  const half = 0.5 * f * f
  return k * LN2_HIGH - (half - (s * (half + odd + even) + k * LN2_LOW) - f)
}

/** x to the power y; whole powers by multiplication, others as e^(y·ln x). */
export function power(x: number, y: number): number {
  if (Math.floor(y) === y && y >= -64 && y <= 64) {
    let result = 1
    let base = y < 0 ? 1 / x : x
    for (let n = y < 0 ? -y : y; n > 0; n = Math.floor(n / 2)) {
      if (n % 2 === 1) result *= base
      base *= base
    }
    return result
  }
  return exp(y * log(x))
}

/** x clamped into [0, 1]. */
export function saturate(x: number): number {
  return x < 0 ? 0 : x > 1 ? 1 : x
}

/** Smoothstep 3t² − 2t³ of t clamped into [0, 1]. */
export function smoothstep(t: number): number {
  const s = saturate(t)
  return s * s * (3 - 2 * s)
}
