declare module 'poisson-disk-sampling' {
  class PoissonDiskSampling {
    constructor(options: { shape: number[]; minDistance: number; tries?: number }, random?: () => number)
    fill(): number[][]
  }
  export = PoissonDiskSampling
}
