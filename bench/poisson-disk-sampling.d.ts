declare module 'poisson-disk-sampling' {
  export default class PoissonDiskSampling {
    constructor(options: { shape: number[]; minDistance: number; tries?: number }, random?: () => number)
    fill(): number[][]
  }
}
