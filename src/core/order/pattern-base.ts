/** The frame that a pattern stands on, held relative to its host: it goes along where that is moved. */
export interface PatternBase {
  /** The terrain (`TERRAIN_ID`), or a mesh by its id. */
  host: string
  /** Its place in the host's own frame, m; on the terrain y is the height above it. */
  place: [number, number, number]
  /** Its turn there, x y z w: its own up is square to what it stands on, its south is where things look. */
  turn: [number, number, number, number]
  /** The size that its host had when it was stood there: where that grows, so does the pattern. */
  size: number
  /** A peg or an instance that it goes along with; missing where it rides on none. */
  rides?: Ridden
}

/** What a base rides on, and how that stood when the base was last set by it, in the frame of the base's host. */
export interface Ridden {
  thing: 'peg' | 'instance'
  /** The peg's, or that of the instance's planting. */
  id: string
  /** The instance's; 0 of pegs. */
  low: number
  high: number
  place: [number, number, number]
  turn: [number, number, number, number]
  size: number
}
