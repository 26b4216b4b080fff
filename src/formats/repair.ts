/** Model files brought to a sane state: metres, Y up, pivot and base where they are wanted. */
export interface Repair {
  readonly up: 'x' | 'y' | 'z'
  /** Factor from the file's unit to metres. */
  readonly scale: number
  readonly pivot: 'base' | 'middle' | 'keep'
  /** Whether its faces are turned round, so that what looked inwards looks outwards. */
  readonly flip: boolean
  /** Multiplies the colours that its file gave it, #rrggbb; white leaves them. */
  readonly tint: string
}

export const NO_REPAIR: Repair = { up: 'y', scale: 1, pivot: 'keep', flip: false, tint: '#ffffff' }
