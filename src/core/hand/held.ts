/** What of a planting's hand work lies near a tile, in the world, as it goes to whoever grows the tile. */
export interface HandNear {
  /** {@link HELD} numbers of each single. */
  readonly singles: Float64Array
  /** {@link MEANT} numbers of each touch-up. */
  readonly touched: Float64Array
}

/** Numbers of a single in the world: id (low, high), asset, tint, place x y z, turn x y z w, size x y z, room; on the terrain y counts from its height. */
export const HELD = 15
export const H = { low: 0, high: 1, asset: 2, tint: 3, place: 4, turn: 7, size: 11, room: 14 } as const

/**
 * Numbers of a touch-up in the world: the id (low, high) of the instance that it is for, where that stands x y z,
 * whether it is taken out, by what it is moved x y z, turned x y z w and sized x y z, the asset it is swapped for, its
 * tint, the room of that asset at size 1 (of the instance's own where it is not swapped it is not asked for).
 */
export const MEANT = 19
export const M = { low: 0, high: 1, home: 2, out: 5, move: 6, turn: 9, size: 13, swap: 16, tint: 17, room: 18 } as const
