/**
 * The loops that growing spends most time in, four instances at a time in single precision
 * (WebAssembly SIMD, 2021), compiled from `assembly/` by scripts/make-kernels.mjs. Their operations
 * are those of IEEE 754 and of whole numbers alone, so every engine gives the same bits.
 */
export interface Kernels {
  readonly memory: Pick<WebAssembly.Memory, 'buffer' | 'grow'>
  /** Where memory is free, bytes. */
  readonly free: { readonly value: unknown }
  simplex(seed: number, count: number, x: number, z: number, scale: number, gain: number, out: number): void
  land(count: number, base: number, stride: number, perX: number, perZ: number, heights: number): void
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
