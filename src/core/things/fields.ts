/** What a thing of the document holds, said once: the type is checked against it, and the schema is made of it. */
export type Field =
  | { readonly type: 'text'; readonly max: number }
  | { readonly type: 'flag' }
  | { readonly type: 'number'; readonly min: number; readonly max: number }
  /** Above 0 and at most `max`. */
  | { readonly type: 'size'; readonly max: number }
  | { readonly type: 'whole'; readonly min: number; readonly max: number }
  | { readonly type: 'one-of'; readonly options: readonly string[] }
  /** #rrggbb */
  | { readonly type: 'colour' }
  /** The name of a blob. */
  | { readonly type: 'blob' }
  /** Three numbers. */
  | { readonly type: 'vector' }
  /** Lists of points, m: x z x z …, or of more numbers each. */
  | { readonly type: 'lines'; readonly most: number; readonly points: number; readonly farthest: number; readonly numbers?: number; readonly mayMiss?: true }
  /** Ids of other things. */
  | { readonly type: 'ids'; readonly most: number }

/** Fields of all members of a thing, save its id and its name. */
export type FieldsOf<T> = { readonly [K in Exclude<keyof T, 'id' | 'name'>]: Field }
