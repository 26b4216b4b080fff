/**
 * What a hand did to single instances of a planting, as numbers in a row: short lists are plain, long ones lie in
 * pieces (`long-list.ts`), so that an edit costs what it changes.
 *
 * Places and turns are kept in the frame of the ground that they are on: of a mesh its own, so that they go along
 * where it is moved; of the terrain the plan place with what is added to its height, so that they follow it.
 */

/** Numbers of a single: see {@link S}. */
export const SINGLE = 15
/** Where in its row stand the halves of its id, its ground (a place in the list of grounds), the number of its asset, its tint, place x y z, turn x y z w and size x y z. */
export const S = { low: 0, high: 1, ground: 2, asset: 3, tint: 4, place: 5, turn: 8, size: 12 } as const

/** Numbers of a touch-up: see {@link T}. */
export const TOUCH = 20
/**
 * Where in its row stand the halves of the instance's id, its ground, the number of its asset, where it stood x y z,
 * whether it is taken out (1), by what it is moved x y z, turned x y z w and sized x y z, the number of the asset
 * that it is swapped for and its tint, {@link NONE} for neither.
 */
export const T = { low: 0, high: 1, ground: 2, asset: 3, home: 4, out: 7, move: 8, turn: 11, size: 15, swap: 18, tint: 19 } as const

export const NONE = -1

/** What leaves an instance as it is, from {@link T.out} on. */
export const UNTOUCHED: readonly number[] = [0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, NONE, NONE]
