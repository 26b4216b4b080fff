/** Places entered into cubes of a hashed grid, asked for the nearest. */
export interface SpaceCells {
  /** Enters a place with its room, m. */
  add(x: number, y: number, z: number, room: number): void
  /** Squared distance to the nearest place entered, as far as it is below radius²; any below enough² will do. */
  nearest(x: number, y: number, z: number, radius: number, enough: number): number
  /** Whether a ball around a place meets one around a place entered; `most` is the largest room. */
  meets(x: number, y: number, z: number, room: number, most: number): boolean
}

/** Most slots of a hashed grid. */
export const MOST_SLOTS = 1 << 21

/**
 * Cubes of a side, about as wide as the farthest that will be asked, over some `expected` places.
 * An entry is x y z room in four doubles, the entries of a slot chained.
 */
export function createSpaceCells(side: number, expected: number): SpaceCells {
  let shift = 22
  for (let slots = 1024; slots < expected && slots < MOST_SLOTS; slots *= 2) shift--
  const first = new Int32Array(1 << (32 - shift)).fill(-1)
  let entries = new Float64Array(4 * Math.max(256, Math.ceil(expected)))
  let next = new Int32Array(entries.length / 4)
  let count = 0
  const per = 1 / side
  return {
    add(x, y, z, room) {
      if (count === next.length) {
        const [moreEntries, moreNext] = [new Float64Array(2 * entries.length), new Int32Array(2 * next.length)]
        moreEntries.set(entries)
        moreNext.set(next)
        entries = moreEntries
        next = moreNext
      }
      entries[4 * count] = x
      entries[4 * count + 1] = y
      entries[4 * count + 2] = z
      entries[4 * count + 3] = room
      const slot = slotOf(Math.floor(x * per), Math.floor(y * per), Math.floor(z * per), shift)
      next[count] = first[slot]
      first[slot] = count++
    },
    nearest(x, y, z, radius, enough) {
      const stop = enough * enough
      let best = radius * radius
      let found = Infinity
      // The own cube first: where many are too near, most are.
      const [a0, b0, c0] = [Math.floor(x * per), Math.floor(y * per), Math.floor(z * per)]
      for (let n = first[slotOf(a0, b0, c0, shift)]; n >= 0; n = next[n]) {
        const d = apart(n, x, y, z)
        if (d < best) best = found = d
      }
      if (found < stop) return found
      const [a1, b1, c1] = [Math.floor((x + radius) * per), Math.floor((y + radius) * per), Math.floor((z + radius) * per)]
      for (let a = Math.floor((x - radius) * per); a <= a1; a++)
        for (let b = Math.floor((y - radius) * per); b <= b1; b++)
          for (let c = Math.floor((z - radius) * per); c <= c1; c++) {
            if (a === a0 && b === b0 && c === c0) continue
            for (let n = first[slotOf(a, b, c, shift)]; n >= 0; n = next[n]) {
              const d = apart(n, x, y, z)
              if (d >= best) continue
              best = found = d
              if (d < stop) return d
            }
          }
      return found
    },
    meets(x, y, z, room, most) {
      const reach = room + most
      const [a1, b1, c1] = [Math.floor((x + reach) * per), Math.floor((y + reach) * per), Math.floor((z + reach) * per)]
      for (let a = Math.floor((x - reach) * per); a <= a1; a++)
        for (let b = Math.floor((y - reach) * per); b <= b1; b++)
          for (let c = Math.floor((z - reach) * per); c <= c1; c++)
            for (let n = first[slotOf(a, b, c, shift)]; n >= 0; n = next[n]) {
              const both = room + entries[4 * n + 3]
              if (apart(n, x, y, z) < both * both) return true
            }
      return false
    },
  }

  /** Squared distance of an entry to a place. */
  function apart(n: number, x: number, y: number, z: number): number {
    const dx = entries[4 * n] - x
    const dy = entries[4 * n + 1] - y
    const dz = entries[4 * n + 2] - z
    return dx * dx + dy * dy + dz * dz
  }
}

/** Slot of a cube, of 2^(32 − shift). */
export function slotOf(i: number, j: number, k: number, shift: number): number {
  const h = Math.imul(i, 0x9e3779b1) ^ Math.imul(j, 0x85ebca77) ^ Math.imul(k, 0xc2b2ae3d)
  return Math.imul(h ^ (h >>> 15), 0x2c1b3c6d) >>> shift
}
