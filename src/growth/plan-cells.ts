import type { Rect } from '../core/grounds/terrain.ts'
import { meets } from '../core/things/define.ts'

/** Things in the plan, sorted into cells, so that those that a rectangle meets are found without looking at all. */
export interface PlanCells {
  /** Numbers of those whose boxes a rectangle widened by `by` meets, rising. */
  near(rect: Rect, by: number): number[]
}

/** Side of a cell, m; what reaches over more than so many of them is looked at wherever one looks. */
const CELL = 32
const MOST_CELLS = 64

/** Sorts boxes in the plan. */
export function planCells(boxes: readonly Rect[]): PlanCells {
  const cells = new Map<string, number[]>()
  const wide: number[] = []
  boxes.forEach((box, k) => {
    const { i0, i1, j0, j1 } = cellsIn(box, 0)
    if (!((i1 - i0 + 1) * (j1 - j0 + 1) <= MOST_CELLS)) {
      wide.push(k)
      return
    }
    for (let j = j0; j <= j1; j++)
      for (let i = i0; i <= i1; i++) {
        const key = `${i} ${j}`
        const own = cells.get(key)
        if (own) own.push(k)
        else cells.set(key, [k])
      }
  })
  return {
    near(rect, by) {
      const { i0, i1, j0, j1 } = cellsIn(rect, by)
      const found = new Set(wide)
      // Where more cells are looked at than there are, all of them are.
      if (!((i1 - i0 + 1) * (j1 - j0 + 1) <= cells.size)) for (const own of cells.values()) for (const k of own) found.add(k)
      else for (let j = j0; j <= j1; j++) for (let i = i0; i <= i1; i++) for (const k of cells.get(`${i} ${j}`) ?? []) found.add(k)
      return [...found].filter((k) => meets(rect, by, boxes[k])).sort((a, b) => a - b)
    },
  }
}

function cellsIn({ x0, z0, x1, z1 }: Rect, by: number) {
  return { i0: Math.floor((x0 - by) / CELL), i1: Math.floor((x1 + by) / CELL), j0: Math.floor((z0 - by) / CELL), j1: Math.floor((z1 + by) / CELL) }
}
