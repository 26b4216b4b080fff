/**
 * How much of everything a document may hold: the schema refuses what is beyond, edits are checked by the
 * schema, and what brings files in asks here first, so that all three speak of the same numbers.
 */
export const LIMITS = {
  plantings: 500,
  assets: 2000,
  /** Assets that a meadow can have had in all: blocks keep their numbers in 16 bits. */
  assetNumbers: 65536,
  /** Parts of one posy. */
  parts: 256,
  outlines: 1000,
  /** Lines of one outline, and points of all of them together. */
  outlineLines: 1000,
  outlinePoints: 20000,
  pathWidth: 1000,
  /** Conditions or drivers of one planting, assets of one mix. */
  uses: 64,
  mix: 64,
  /** Parts that one of a mix may have. */
  share: 1e6,
  /** Grounds that one planting names. */
  grounds: 32,
  images: 100,
  imageSide: 8192,
  beacons: 500,
  meshes: 200,
  strokes: 20000,
  /** Points of one stroke, and its width, m. */
  strokePoints: 5000,
  strokeWidth: 1000,
  /** Things that a hand placed, or touched up, in one planting. */
  singles: 200_000,
  touchUps: 200_000,
  selections: 200,
  groups: 2000,
  runs: 500,
  pegs: 2000,
  /** Things in one kept selection, group or run. */
  selected: 200_000,
  habitats: 200,
  views: 200,
  tags: 50,
  /** Letters. */
  name: 200,
  /** An id, a category, a tag, the name of a reference system. */
  word: 100,
  licence: 500,
  source: 500,
  formula: 1000,
  /** Farthest that anything lies from the middle of its ground along an axis, and the longest side of a ground, m. */
  place: 1e6,
  /** Heights of a ground and of water lie within this of 0, m. */
  height: 12000,
  /** The factor that a mesh can be sized by. */
  meshSize: 1e4,
  room: 10000,
} as const

/** A text with what is beyond a limit cut off: for names that files give, where nothing hangs on the end. */
export function shortened(text: string, most: number): string {
  const whole = text.trim()
  if (whole.length <= most) return whole
  const letters = [...whole]
  let out = ''
  for (const letter of letters) {
    if (out.length + letter.length > most - 1) return `${out}…`
    out += letter
  }
  return out
}
