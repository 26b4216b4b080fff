/** One of the things that a posy is made of, in the frame of the posy. */
export interface Part {
  /** Its asset's id; that may be a posy, too. */
  asset: string
  /** m */
  place: [number, number, number]
  /** x y z w */
  turn: [number, number, number, number]
  size: [number, number, number]
  /** 0xRRGGBBAA; white leaves it as its asset is. */
  tint: number
}

/** A posy whose parts stand as things placed by hand in a planting of their own, so that they can be changed: it follows them. */
export interface OpenedPosy {
  /** The posy's id. */
  asset: string
  planting: string
  /** The frame that the parts stand in, in the world; its size along all axes. */
  place: [number, number, number]
  turn: [number, number, number, number]
  size: number
  /** The instance in whose place it was opened, which is not drawn meanwhile; null when it was opened in none's. */
  instead: { planting: string; low: number; high: number } | null
}
