/** A square ground that is to be made: samples along a side, and the side's length, m. */
export interface SquareGround {
  readonly samples: number
  readonly size: number
}

/** Heights of a square ground from its height at plan positions, m, row by row from −Z. */
export function heightsOf({ samples, size }: SquareGround, heightAt: (x: number, z: number) => number): Float32Array<ArrayBuffer> {
  const heights = new Float32Array(samples * samples)
  for (let j = 0; j < samples; j++)
    for (let i = 0; i < samples; i++) heights[j * samples + i] = heightAt((i / (samples - 1) - 0.5) * size, (j / (samples - 1) - 0.5) * size)
  return heights
}
