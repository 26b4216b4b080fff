import { boxOf } from '../../core/outlines/measure.ts'

/** Tells whether places of the picture lie inside a line x y x y … that closes itself, by the even–odd rule. */
export function insideLasso(line: readonly number[]): (x: number, y: number) => boolean {
  const n = line.length / 2
  const [x0, y0, x1, y1] = boxOf(line)
  return (x, y) => {
    if (x < x0 || x > x1 || y < y0 || y > y1) return false
    let inside = false
    for (let k = 0, j = n - 1; k < n; j = k++) {
      const [ax, ay, bx, by] = [line[2 * k], line[2 * k + 1], line[2 * j], line[2 * j + 1]]
      if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside
    }
    return inside
  }
}
