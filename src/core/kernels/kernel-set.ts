/**
 * The loops that growing spends most time in, four instances at a time in single precision
 * (WebAssembly SIMD, 2021), compiled from `assembly/` by scripts/make-kernels.mjs. Their operations
 * are those of IEEE 754 and of whole numbers alone, so every engine gives the same bits.
 */
export interface Kernels {
  readonly memory: Pick<WebAssembly.Memory, 'buffer' | 'grow'>
  /** Where memory is free, bytes. */
  readonly free: { readonly value: unknown }
  /** Loops over columns of one number after the other; null where plain ones do as well. */
  readonly loops: LoopKernels | null
  fractal(seed: number, octaves: number, count: number, x: number, z: number, scale: number, gain: number, out: number): void
  patches(seed: number, octaves: number, count: number, x: number, z: number, scale: number, gain: number, middle: number, per: number, out: number): void
  land(count: number, base: number, stride: number, perX: number, perZ: number): void
  rotate(
    count: number,
    base: number,
    stride: number,
    turnLow: number,
    turnRange: number,
    leanLow: number,
    leanRange: number,
    leans: number,
    windy: number,
    windX: number,
    windZ: number,
    halfFollow: number,
  ): void
  seat(
    from: number,
    to: number,
    base: number,
    stride: number,
    corners: number,
    outline: number,
    reach: number,
    perX: number,
    perZ: number,
  ): void
}

/**
 * Loops whose plain twins work on the columns where they lie, in `candidates/even-source.ts`, `stages/order.ts` and
 * `stages/block-rows.ts`. Columns are told by their places in the memory, bytes.
 */
export interface LoopKernels {
  even(
    x0: number,
    z0: number,
    x1: number,
    z1: number,
    b0: number,
    b1: number,
    c0: number,
    c1: number,
    shift: number,
    turns: number,
    period: number,
    shiftX: number,
    shiftZ: number,
    slack: number,
    limit: number,
    highOfOctave: number,
    starts: number,
    points: number,
    alongX: number,
    alongZ: number,
    salted: number,
    x: number,
    z: number,
    rank: number,
    low: number,
    high: number,
    draws: number,
  ): number
  group(count: number, classes: number, rows: number, classOf: number, starts: number, order: number): void
  sort(
    count: number,
    classes: number,
    most: number,
    rows: number,
    classOf: number,
    key: number,
    low: number,
    high: number,
    starts: number,
    bucketOf: number,
    values: number,
    out: number,
  ): number
  lay(count: number, order: number, draws: number, girth: number, outDraws: number, outSize: number): void
  fill(
    count: number,
    sorted: number,
    a: number,
    b: number,
    c: number,
    low: number,
    high: number,
    key: number,
    radius: number,
    size: number,
    girth: number,
    pick: number,
    numbers: number,
    seat: number,
    block: number,
  ): void
  write(count: number, order: number, seat: number, x: number, z: number, height: number, sink: number, rotation: number, block: number): void
}
