import type { Desk, Pointer } from '../define.ts'

/**
 * Something in the picture that can be taken hold of while a tool allows it. What is drawn over the picture names
 * its grip as `data-grip="kind rest…"`; grips of the picture itself find out by themselves.
 */
export interface GripKind {
  readonly kind: string
  /** Whether it takes the pointer before the tool in hand, whatever that is. */
  readonly before?: boolean
  /** Whether the pointer is on it, for grips that the picture itself draws. */
  under?(desk: Desk, at: Pointer): boolean
  /** Takes hold; null when it cannot be taken. `named` is what its element says after the kind. */
  take(desk: Desk, named: readonly string[], at: Pointer): Hold | null
}

/** A grip that is held. */
export interface Hold {
  drag(at: Pointer): void
  /** Let go; `at` is where. */
  release(at: Pointer): void
}

/** The name of a grip for its element. */
export function gripName(kind: GripKind, ...named: readonly (string | number)[]): string {
  return [kind.kind, ...named].join(' ')
}
