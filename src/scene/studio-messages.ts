import type { Pose } from './studio.ts'

/** What the page asks of the worker that draws small pictures, one wish at a time. */
export interface Wish {
  readonly bytes: Uint8Array<ArrayBuffer>
  readonly pose: Pose
}

/** What the worker answers: the picture, why there is none, or that it has no graphics at all. */
export type Answer = { readonly picture: Blob } | { readonly failed: string } | { readonly noGraphics: true }
