import { createSpaceCells } from '../space/space-cells.ts'
import type { Arena } from './arena.ts'
import { byKeyThenId } from './order.ts'
import type { Rooms } from './rooms.ts'

/** Tells of the arena's sites whether no room of others meets their own, straight through space. */
export function freeThroughSpace({ sites, radius }: Arena, others: readonly Rooms[], largestRoom: number): (site: number) => boolean {
  let most = 0
  let all = 0
  for (const { columns, from, to } of others) {
    all += to - from
    for (let i = from; i < to; i++) most = Math.max(most, columns[0.75 * columns.length + i])
  }
  if (all === 0) return () => true
  const cells = createSpaceCells(most + largestRoom, all)
  for (const { columns, from, to } of others) {
    const quarter = columns.length / 4
    for (let i = from; i < to; i++) if (columns[3 * quarter + i] > 0) cells.add(columns[i], columns[quarter + i], columns[2 * quarter + i], columns[3 * quarter + i])
  }
  return (i) => !(radius[i] > 0) || !cells.meets(sites.x[i], sites.y[i], sites.z[i], radius[i], most)
}

/** The arena's sites, but for those that are `taken`, that stay when rooms are settled straight through space: first those of others, then larger assets, then by key. */
export function settleThroughSpace(arena: Arena, others: readonly Rooms[], largestRoom: number, ranks: number, taken: (site: number) => boolean = () => false): Uint32Array {
  const { sites, radius, key, rank, rows } = arena
  const { x, y, z } = sites
  const free = freeThroughSpace(arena, others, largestRoom)
  const all = Uint32Array.from({ length: sites.count }, (_, i) => i).filter((i) => !taken(i) && free(i))
  if (!(largestRoom > 0)) return all
  const order = byKeyThenId(all, key, sites, rank, ranks)
  const cells = createSpaceCells(2 * largestRoom, sites.count)
  let count = 0
  for (let k = 0; k < order.length; k++) {
    const i = order[k]
    if (radius[i] > 0) {
      if (cells.meets(x[i], y[i], z[i], radius[i], largestRoom)) continue
      cells.add(x[i], y[i], z[i], radius[i])
    }
    rows[count++] = i
  }
  return rows.subarray(0, count)
}
