import { shareBelow, underWords } from './under-water.ts'

describe('the share of the ground under water', () => {
  it('is that of the heights below the level, to within a bin', () => {
    const heights = Array.from({ length: 5000 }, (_, i) => 10 * Math.sin(i * 1.7) + (i % 7))
    const [low, high] = [Math.min(...heights), Math.max(...heights)]
    const bins = 48
    const counts = new Array<number>(bins).fill(0)
    for (const height of heights) counts[Math.min(bins - 1, Math.floor(((height - low) / (high - low)) * bins))]++
    for (const level of [-20, low, -6, -1.3, 0, 2.2, 9, high, 50]) {
      const truth = heights.filter((height) => height < level).length / heights.length
      expect(Math.abs(shareBelow({ low, high, counts }, level) - truth)).toBeLessThan(0.012)
    }
    expect(shareBelow({ low: 0, high: 0, counts: [] }, 3)).toBe(0)
  })

  it('is said in whole per cents, and at the ends in words', () => {
    expect([0, 0.004, 0.334, 0.9999, 1].map(underWords)).toEqual([
      'None of the ground is under water.',
      'Less than 1 % of the ground is under water.',
      '33 % of the ground is under water.',
      'More than 99 % of the ground is under water.',
      'All of the ground is under water.',
    ])
  })
})
